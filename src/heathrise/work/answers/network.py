"""Networks, names, flows, addresses and the run book, and what a person presses in them."""

from heathrise.core.findings.assess import settings
from heathrise.core.job import AccessPoint, Job, Network, Ssid
from heathrise.core.network.addresses import address_map
from heathrise.core.network.comparing import compare
from heathrise.core.network.composing import managed_devices
from heathrise.core.network.defaults import default_networks
from heathrise.core.network.derived import built_as_planned, nets, port_profiles
from heathrise.core.network.flows import flow_matrix, press
from heathrise.core.network.matching import match_units, settle
from heathrise.core.network.onair import announced, name_matrix, put_on_air
from heathrise.core.network.pushing import push_plan
from heathrise.core.network.renumbering import renumber, renumbering
from heathrise.core.network.runbook import run_book
from heathrise.core.network.splitting import choose_practice, splittings
from heathrise.core.network.telling import all_told
from heathrise.core.network.watching import Scene, watched
from heathrise.core.radio.air import air, radio_rows
from heathrise.store.jobs import new_id
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import (
    BuiltAnswer,
    FlowPressed,
    HeldAsked,
    LiveHeld,
    NamePressed,
    Nothing,
    PracticeChosen,
    RenumberAsked,
    SuggestionAnswer,
    UnitsSettled,
)
from heathrise.work.open_job import OpenJob


@answers("network.suggest", Nothing)
def suggest_networks(opened: OpenJob, _: Nothing) -> Answer:
    """The networks a job of this kind starts with, clear of the service's subnet."""
    kept = opened.newest()
    return in_json(SuggestionAnswer(operations=default_networks(kept.job, new_id)), kept.revision)


@answers("network.flows", Nothing)
def flowing(opened: OpenJob, _: Nothing) -> Answer:
    """Who may reach whom."""
    kept = opened.newest()
    return in_json(flow_matrix(kept.job), kept.revision)


@answers("network.press", FlowPressed)
def press_flow(opened: OpenJob, asked: FlowPressed) -> Answer:
    """What turns a cell of the matrix over; the person sends it as an edit."""
    kept = opened.newest()
    found = press(kept.job, asked.from_id, asked.to_id, new_id)
    return in_json(SuggestionAnswer(operations=found), kept.revision)


@answers("network.names", Nothing)
def named(opened: OpenJob, _: Nothing) -> Answer:
    """Which name is on the air where, and what that costs."""
    memo = opened.memo()
    labels = {network.id: network.label for network in memo.source.of(Network)}
    return in_json(name_matrix(memo.source, radio_rows(memo.look), labels), memo.revision)


@answers("network.put-on-air", NamePressed)
def press_name(opened: OpenJob, asked: NamePressed) -> Answer:
    """What puts a name on the air somewhere, or takes it off; the person sends it as an edit."""
    kept = opened.newest()
    found = put_on_air(kept.job, asked.ssid_id, asked.where, asked.on)
    return in_json(SuggestionAnswer(operations=found), kept.revision)


@answers("network.addresses", Nothing)
def addressed(opened: OpenJob, _: Nothing) -> Answer:
    """The address space in use."""
    memo = opened.memo()
    return in_json(address_map(memo.source, nets(memo.look)), memo.revision)


@answers("network.renumbering", RenumberAsked)
def renumbered(opened: OpenJob, asked: RenumberAsked) -> Answer:
    """How a network is moved to another subnet."""
    kept = opened.newest()
    return in_json(renumbering(kept.job, asked.network, asked.to), kept.revision)


@answers("network.renumber", RenumberAsked)
def take_renumbering(opened: OpenJob, asked: RenumberAsked) -> Answer:
    """What renumbers a network in the plan; the person sends it as an edit."""
    kept = opened.newest()
    return in_json(SuggestionAnswer(operations=renumber(kept.job, asked.network, asked.to)), kept.revision)


@answers("network.splittings", Nothing)
def split(opened: OpenJob, _: Nothing) -> Answer:
    """One name for all bands, or a name a band."""
    memo = opened.memo()
    found = splittings(memo.source, radio_rows(memo.look), air(memo.look).walks)
    return in_json(found, memo.revision)


@answers("network.practice", PracticeChosen)
def take_practice(opened: OpenJob, asked: PracticeChosen) -> Answer:
    """What makes a choice the practice of this job; the person sends it as an edit."""
    kept = opened.newest()
    found = choose_practice(kept.job, asked.code, asked.choice)
    return in_json(SuggestionAnswer(operations=found), kept.revision)


@answers("network.told", Nothing)
def told(opened: OpenJob, _: Nothing) -> Answer:
    """Every setting with who says so and why."""
    memo = opened.memo()
    return in_json(all_told(memo.source, radio_rows(memo.look), port_profiles(memo.look)), memo.revision)


@answers("network.run-book", Nothing)
def book(opened: OpenJob, _: Nothing) -> Answer:
    """What is done in which order until the system is on."""
    kept = opened.newest()
    return in_json(run_book(kept.job), kept.revision)


@answers("network.held", HeldAsked)
def hold(opened: OpenJob, asked: HeldAsked) -> Answer:
    """A controller as it was read, held against the plan."""
    memo = opened.memo()
    job: Job = memo.source
    plan, built = settings(memo.look), built_as_planned(memo.look)
    matched = match_units(job, built, asked.live)
    compared = compare(plan, asked.live, matched)
    found = LiveHeld(
        revision=memo.revision,
        plan=plan,
        name_ids=_name_ids(job),
        live=asked.live,
        matched=matched,
        compared=compared,
        steps=push_plan(plan, compared, asked.live, matched, built),
        findings=watched(Scene(job, plan, built, asked.live, matched)).findings,
    )
    return in_json(found, memo.revision)


def _name_ids(job: Job) -> dict[str, str]:
    """Return names on the air by what they are called there."""
    found = {ssid.label: ssid.id for ssid in job.of(Ssid)}
    for ssid in job.of(Ssid):
        found |= {announced(job, ssid, point): ssid.id for point in job.of(AccessPoint)}
    return found


@answers("network.as-built", Nothing)
def build(opened: OpenJob, _: Nothing) -> Answer:
    """The job as it would stand there."""
    memo = opened.memo()
    job: Job = memo.source
    outside = job.brief.internet.subnet
    found = BuiltAnswer(
        built=built_as_planned(memo.look),
        serials={thing.id: thing.serial for thing in managed_devices(job) if thing.serial},
        service=str(outside) if outside is not None else None,
    )
    return in_json(found, memo.revision)


@answers("network.settle-units", UnitsSettled)
def settle_units(opened: OpenJob, asked: UnitsSettled) -> Answer:
    """What writes serials on the drawing; the person sends it as an edit."""
    kept = opened.newest()
    found = settle(kept.job, ((one.element_id, one.serial, one.mac) for one in asked.units))
    return in_json(SuggestionAnswer(operations=found), kept.revision)
