"""Stage 7: the controller of a job - connected, read, told step by step - and the passphrases it is told."""

from typing import cast

from flask import Response, current_app
from pydantic import Field

from heathrise.api.desk import Opened, opened
from heathrise.api.documented import gives, group
from heathrise.api.jobs import answer
from heathrise.api.shapes import JobPath
from heathrise.controller import simulated
from heathrise.controller.driver import LogLine, Person
from heathrise.controller.registry import DRIVERS
from heathrise.core.edit import EditError
from heathrise.core.job import Id, Network, Ssid
from heathrise.core.library import limit
from heathrise.core.library.items import UNASKED
from heathrise.core.network.held import Differences, Matched, PushPlan
from heathrise.core.network.live import Live
from heathrise.core.network.ruled import network_ruled
from heathrise.core.rule import Finding
from heathrise.core.sums import Noun
from heathrise.exchange.named import named_file
from heathrise.exchange.paper.guestcard import guest_card
from heathrise.settings import Settings
from heathrise.store import controllers, passphrases
from heathrise.store.jobs import NoSuchJob
from heathrise.store.sealing import Sealer
from heathrise.store.tables import ControllerRow, SecretRow
from heathrise.work.asking import BuiltAnswer, HeldAsked, LiveHeld, Nothing, SuggestionAnswer, UnitsSettled
from heathrise.work.controlling import Controlling, PushShown

blueprint = group("controller", "/api/jobs")


class ConnectionShown(Noun):
    """How a job's controller is reached. Its secret is never shown; `stand_in` says that a simulated one can be set up,
    which takes the place of none but another simulated one.
    """

    connected: bool
    driver: str
    address: str
    account: str
    drivers: tuple[str, ...]
    stand_in: bool


class Connect(Noun):
    """How a controller is reached; without a secret the one before stays."""

    driver: str = Field("stand-in", max_length=40)
    address: str = Field(min_length=1, max_length=300)
    account: str = Field(min_length=1, max_length=120)
    secret: str | None = Field(None, min_length=1, max_length=200)


class LiveShown(Noun):
    """A controller as it is, held against the plan."""

    revision: int
    live: Live
    matched: Matched
    compared: Differences
    steps: PushPlan
    findings: tuple[Finding, ...]


class LogShown(Noun):
    """The newest lines of a controller's log, oldest first."""

    lines: tuple[LogLine, ...]


class PeopleShown(Noun):
    """Where phones are."""

    people: tuple[Person, ...]


class Blink(Noun):
    """A unit that is to blink, or to stop."""

    serial: str = Field(min_length=1, max_length=32)
    on: bool


class PushPath(Noun):
    """What was sent, by its address."""

    job_id: Id
    push_id: Id


class LastPush(Noun):
    """What was sent last, None where nothing ever was."""

    push: PushShown | None


class SsidPath(Noun):
    """A name on the air, by its address."""

    job_id: Id
    ssid_id: Id


class PassphraseShown(Noun):
    """What is known of a name's passphrase without opening it; `problem` says what is wrong with it."""

    ssid_id: Id
    label: str
    security: str
    needed: bool
    kept: bool
    chars: int
    bits: float
    made: bool
    problem: str


class PassphrasesShown(Noun):
    """Every name's passphrase, unopened."""

    passphrases: tuple[PassphraseShown, ...]


class PassphraseGiven(Noun):
    """A passphrase typed by a person; None has one made."""

    passphrase: str | None = Field(None, min_length=8, max_length=63)


class PassphraseOpened(Noun):
    """A passphrase in clear, because somebody asked for it."""

    passphrase: str


def _settings() -> Settings:
    return cast(Settings, current_app.extensions["settings"])


def _sealer() -> Sealer:
    return cast(Sealer, current_app.extensions["sealer"])


def controlling(job: Opened) -> Controlling:
    """Return a job and its controller, for reading and telling it."""

    def held_against(live: Live) -> LiveHeld:
        return LiveHeld.model_validate_json(job.said("network.held", HeldAsked(live=live)).body)

    return Controlling(job.desk.database, _sealer(), job.id, held_against, _settings().stand_in)


def _may_simulate(row: ControllerRow | None) -> bool:
    return bool(_settings().stand_in) and (row is None or simulated.is_simulated(row.address))


def _connection(job: Opened) -> Response:
    with job.desk.database.transaction() as session:
        row = controllers.connection(session, job.id)
        found = ConnectionShown(
            connected=row is not None,
            driver=row.driver if row else next(iter(DRIVERS)),
            address=row.address if row else "",
            account=row.account if row else "",
            drivers=tuple(DRIVERS),
            stand_in=_may_simulate(row),
        )
    return answer(found.model_dump_json())


@blueprint.get("/<job_id>/controller", responses={200: ConnectionShown})
def connection(path: JobPath) -> Response:
    """Return how the job's controller is reached."""
    return _connection(opened(path.job_id, may="see"))


@blueprint.put("/<job_id>/controller", responses={200: ConnectionShown})
def connect(path: JobPath, body: Connect) -> Response:
    """Keep how the controller is reached, its secret sealed. Whether it lets us in is seen when it is read."""
    job = opened(path.job_id, may="edit")
    with job.desk.database.transaction() as session:
        controllers.connect(
            session, _sealer(), job.id, body.driver, body.address.strip(), body.account.strip(), body.secret
        )
    return _connection(job)


@blueprint.delete("/<job_id>/controller", responses={200: ConnectionShown})
def disconnect(path: JobPath) -> Response:
    """Forget the controller; what was sent to it stays on record."""
    job = opened(path.job_id, may="edit")
    with job.desk.database.transaction() as session:
        controllers.forget(session, job.id)
    return _connection(job)


@blueprint.post("/<job_id>/controller/stand-in", responses={200: ConnectionShown})
def set_up(path: JobPath) -> Response:
    """Set up a simulated controller with the devices of the plan, fresh out of their boxes, and connect to it."""
    job = opened(path.job_id, may="edit")
    if not _settings().stand_in:
        raise EditError(
            "no simulated controller runs beside this server; name its address in HEATHRISE_STAND_IN"
        )
    with job.desk.database.transaction() as session:
        if not _may_simulate(controllers.connection(session, job.id)):
            raise EditError("the job has a controller; forget that one first, with its secret")
    found = BuiltAnswer.model_validate_json(job.said("network.as-built", Nothing()).body)
    secret, account = passphrases.made(), "installer"
    site = simulated.site_of(found.built, account, secret, found.serials, found.service)
    address = simulated.begin(_settings().stand_in, job.id, site)
    with job.desk.database.transaction() as session:
        controllers.connect(session, _sealer(), job.id, "stand-in", address, account, secret)
    return _connection(job)


@blueprint.get("/<job_id>/controller/live", responses={200: LiveShown})
def live(path: JobPath) -> Response:
    """Read the controller and hold it against the plan."""
    held = controlling(opened(path.job_id, may="see")).held()
    return answer(held.model_dump_json(include=set(LiveShown.model_fields)))


@blueprint.get("/<job_id>/controller/log", responses={200: LogShown})
def log(path: JobPath) -> Response:
    """Return the newest lines of the controller's log."""
    lines = controlling(opened(path.job_id, may="see")).driver().log()
    return answer(LogShown(lines=lines).model_dump_json())


@blueprint.get("/<job_id>/controller/people", responses={200: PeopleShown})
def people(path: JobPath) -> Response:
    """Return where phones are."""
    found = controlling(opened(path.job_id, may="see")).driver().people()
    return answer(PeopleShown(people=found).model_dump_json())


@blueprint.post("/<job_id>/controller/units", responses={200: SuggestionAnswer})
def settle(path: JobPath, body: UnitsSettled) -> Response:
    """Work out what writes serials on the drawing; the person sends it as an edit. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("network.settle-units", body)


@blueprint.post("/<job_id>/controller/blink", responses={200: Blink})
def blink(path: JobPath, body: Blink) -> Response:
    """Let a unit blink, or stop."""
    controlling(opened(path.job_id, may="edit")).driver().blink(body.serial, body.on)
    return answer(body.model_dump_json())


@blueprint.post("/<job_id>/controller/pushes", responses={200: PushShown})
def begin(path: JobPath) -> Response:
    """Work out the steps that make the controller as planned, and keep them; nothing is sent yet."""
    return answer(controlling(opened(path.job_id, may="edit")).begin().model_dump_json())


@blueprint.get("/<job_id>/controller/pushes/last", responses={200: LastPush})
def last(path: JobPath) -> Response:
    """Return what was sent last."""
    found = controlling(opened(path.job_id, may="see")).latest()
    return answer(LastPush(push=found).model_dump_json())


@blueprint.post("/<job_id>/controller/pushes/<push_id>/next", responses={200: PushShown})
def go_on(path: PushPath) -> Response:
    """Do the next step, or look at the one under way."""
    return answer(controlling(opened(path.job_id, may="edit")).go_on(path.push_id).model_dump_json())


@blueprint.post("/<job_id>/controller/pushes/<push_id>/resume", responses={200: PushShown})
def resume(path: PushPath) -> Response:
    """Go on where it stopped, with the controller's settings as they are now."""
    return answer(controlling(opened(path.job_id, may="edit")).resume(path.push_id).model_dump_json())


@blueprint.post("/<job_id>/controller/pushes/<push_id>/stop", responses={200: PushShown})
def stop(path: PushPath) -> Response:
    """Stop between two steps."""
    return answer(controlling(opened(path.job_id, may="edit")).stop(path.push_id).model_dump_json())


@blueprint.post("/<job_id>/controller/pushes/<push_id>/back", responses={200: PushShown})
def go_back(path: PushPath) -> Response:
    """Put the backup back that was taken first."""
    return answer(controlling(opened(path.job_id, may="edit")).go_back(path.push_id).model_dump_json())


@blueprint.get("/<job_id>/network/passphrases", responses={200: PassphrasesShown})
def unopened(path: JobPath) -> Response:
    """Return what is known of every passphrase without opening it."""
    return _unopened(opened(path.job_id, may="see"))


def _unopened(job: Opened) -> Response:
    with job.desk.database.transaction() as session:
        kept = passphrases.rows(session, job.id)
    found = tuple(_shown(ssid, kept.get(ssid.id)) for ssid in job.job.of(Ssid))
    return answer(PassphrasesShown(passphrases=found).model_dump_json())


def _shown(ssid: Ssid, row: SecretRow | None) -> PassphraseShown:
    needed = ssid.security not in UNASKED
    problem = ""
    if row is not None and (
        row.chars < limit("network.passphrase_chars") or row.bits < limit("network.passphrase_bits")
    ):
        problem = (
            f"weak: {row.chars} characters, {row.bits:.0f} bit at the most; {limit('network.passphrase_chars'):.0f} "
            f"characters and {limit('network.passphrase_bits'):.0f} bit are asked for"
        )
    return PassphraseShown(
        ssid_id=ssid.id,
        label=ssid.label,
        security=ssid.security,
        needed=needed,
        kept=row is not None,
        chars=row.chars if row else 0,
        bits=row.bits if row else 0.0,
        made=row.made if row else False,
        problem=problem,
    )


def _ssid(job: Opened, ssid_id: str) -> Ssid:
    found = job.job.by_id.get(ssid_id)
    if not isinstance(found, Ssid):
        raise NoSuchJob(ssid_id)
    return found


@blueprint.put("/<job_id>/network/passphrases/<ssid_id>", responses={200: PassphrasesShown})
def give(path: SsidPath, body: PassphraseGiven) -> Response:
    """Keep a passphrase of a name, sealed: the one given, else one that is made."""
    job = opened(path.job_id, may="edit")
    _ssid(job, path.ssid_id)
    with job.desk.database.transaction() as session:
        given = body.passphrase or passphrases.made()
        passphrases.keep(session, _sealer(), job.id, path.ssid_id, given, by_hand=body.passphrase is not None)
    return _unopened(job)


@blueprint.post("/<job_id>/network/passphrases/<ssid_id>/open", responses={200: PassphraseOpened})
def open_one(path: SsidPath) -> Response:
    """Return one passphrase in clear, because somebody asked for it."""
    job = opened(path.job_id, may="edit")
    return answer(PassphraseOpened(passphrase=_clear(job, path.ssid_id)).model_dump_json())


def _clear(job: Opened, ssid_id: str) -> str:
    with job.desk.database.transaction() as session:
        return passphrases.opened(session, _sealer(), job.id, ssid_id)


@blueprint.post("/<job_id>/network/passphrases/<ssid_id>/card", responses=gives("application/pdf"))
def card(path: SsidPath) -> Response:
    """Return the card of a name: what it is called, its passphrase, both as a code a phone reads."""
    job = opened(path.job_id, may="edit")
    ssid = _ssid(job, path.ssid_id)
    clear = _clear(job, path.ssid_id) if ssid.security not in UNASKED else ""
    mbps = network_ruled(job.job, job.job.get(Network, ssid.network_id))["client_mbps"].value
    response = Response(guest_card(job.job.name, ssid, clear, mbps), content_type="application/pdf")
    name = named_file(f"{job.job.name} {ssid.label}", "card.pdf")
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
