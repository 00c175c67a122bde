"""A controller of sixty devices held against the plan, its steps worked out, settings judged; a crowd that walks."""

import time

from benchmarks.core import Row, median_s
from benchmarks.school import wired_school
from heathrise.controller.simulated import site_of
from heathrise.controller.standin import live_of
from heathrise.core.deriving import Memo
from heathrise.core.edit import apply
from heathrise.core.findings.assess import settings
from heathrise.core.findings.registry import rules
from heathrise.core.findings.verdicts import FACTS
from heathrise.core.job import AccessPoint, Job
from heathrise.core.network.built import likely_serial
from heathrise.core.network.comparing import compare
from heathrise.core.network.composing import managed_devices
from heathrise.core.network.defaults import default_networks
from heathrise.core.network.derived import built_as_planned
from heathrise.core.network.matching import match_units, settle
from heathrise.core.network.pushing import push_plan
from heathrise.core.network.watching import Scene, watched
from heathrise.store.jobs import new_id
from standin import told
from standin.shapes import Site, Unit, Wlan
from standin.world import World

DEVICES, PEOPLE, POINTS, SECONDS = 60, 10_000, 60, 60


def networked_school() -> Job:
    """Return the reference school with its switches, points and the usual networks, every unit's serial settled."""
    job = wired_school()
    job = apply(job, default_networks(job, new_id)).job
    return apply(job, settle(job, ((t.id, likely_serial(t.id), "") for t in managed_devices(job)))).job


def crowded_world() -> World:
    """Return a site of sixty points that are up, with ten thousand phones."""
    units = tuple(
        Unit(
            serial=f"P{n}",
            mac=f"02:00:00:00:00:{n:02x}",
            model="Point",
            kind="ap",
            bands=("2.4", "5"),
            floor=n // 20,
            x=5.0 + 12 * (n % 10),
            y=5.0 + 15 * (n // 10 % 2),
        )
        for n in range(POINTS)
    )
    site = Site(
        account="a",
        secret="b",  # noqa: S106
        console_rounds=0,
        units=units,
        people=PEOPLE,
        corners=(0, 0, 120, 30),
    )
    world = World(site)
    for state in world.states.values():
        state.phase = "up"
    world.wlans["air"] = Wlan(name="air", net="Main", bands=("5",))
    world._cut.clear()
    return world


def rows() -> list[Row]:
    """Return the table's lines."""
    job = networked_school()
    memo = Memo(job)
    plan, built = settings(memo.look), built_as_planned(memo.look)
    world = World(Site.model_validate(site_of(built, "a", "b", {}, None)))
    live = live_of(told.all_told(world))
    count = len(live.units)
    matched = match_units(job, built, live)
    compared = compare(plan, live, matched)
    scene = Scene(job, plan, built, live, matched)
    differing = median_s(lambda: compare(plan, live, match_units(job, built, live)), 5)
    pushing = median_s(lambda: push_plan(plan, compared, live, matched, built), 5)
    watching = median_s(lambda: watched(scene), 5)
    facts = {name: fact.ask(memo.look) for name, fact in FACTS.items()}
    mine = [rule for rule in rules() if rule.id.startswith("network.")]
    linting = median_s(lambda: [tuple(rule.findings(facts)) for rule in mine], 5)
    reading = median_s(lambda: live_of(told.all_told(world)), 5)
    steps = len(push_plan(plan, compared, live, matched, built).steps)
    crowd = crowded_world()
    began = time.perf_counter()
    crowd.advance(SECONDS)
    took = time.perf_counter() - began
    points = len(job.of(AccessPoint))
    beside = f"{1000 * reading:.0f} ms (telling and reading it)"
    return [
        Row(
            f"{count} devices held against the plan: {len(compared.differences)} things differ",
            f"{1000 * differing:.0f} ms",
            beside,
            f"{differing / reading:.1f} x",
            "200 ms",
            differing <= 0.2,
        ),
        Row(
            f"all of them pushed: {steps} steps planned",
            f"{1000 * pushing:.0f} ms",
            beside,
            f"{pushing / reading:.2f} x",
            "1 s",
            pushing <= 1,
        ),
        Row(
            f"the same watched for {len(scene.live.units)} units' faults",
            f"{1000 * watching:.0f} ms",
            beside,
            f"{watching / reading:.2f} x",
            "",
            True,
        ),
        Row(
            f"settings of the reference school ({points} points) judged by {len(mine)} rules",
            f"{1000 * linting:.0f} ms",
            beside,
            f"{linting / reading:.2f} x",
            "100 ms",
            linting <= 0.1,
        ),
        Row(
            f"{PEOPLE:,} phones on {POINTS} points for {SECONDS} s",
            f"{took:.1f} s",
            f"{SECONDS} s (as it lives)",
            f"{SECONDS / took:.0f} times as fast",
            "10 times as fast on one core",
            SECONDS / took >= 10,
        ),
    ]
