"""What a live network is watched for: findings from what a controller says, held against the plan.

A watch is a generator function marked with `@watch("live.name")`; its standing data is a table of watches.toml. A new
one is one function and one table.
"""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property

import structlog

from heathrise.core.job import Acceptance, Job
from heathrise.core.library import library, limit
from heathrise.core.network.built import AsBuilt
from heathrise.core.network.held import Matched
from heathrise.core.network.live import Alert, Live, LivePort, LiveUnit
from heathrise.core.network.settings import PortSetting, RadioSetting, Settings
from heathrise.core.rule import Finding, Observation, Place, finding_from, finding_of
from heathrise.core.sums import Noun
from heathrise.core.units import quantity

log = structlog.get_logger(__name__)


class Watched(Noun):
    """Every finding of a live network."""

    findings: tuple[Finding, ...]


@dataclass(frozen=True)
class Scene:
    """A job, its plan, and its controller as it was read."""

    job: Job
    plan: Settings
    built: AsBuilt
    live: Live
    matched: Matched

    @cached_property
    def ids(self) -> dict[str, str]:
        """Elements by the serial of their unit."""
        return {match.serial: match.element_id for match in self.matched.matches if match.serial}

    @cached_property
    def units(self) -> dict[str, LiveUnit]:
        """Units by serial."""
        return {unit.serial: unit for unit in self.live.units}

    @cached_property
    def at(self) -> dict[str, LiveUnit]:
        """Units by the element they are taken for."""
        return {element_id: self.units[serial] for serial, element_id in self.ids.items()}

    def label(self, serial: str) -> str:
        """Return what a unit is called on the drawing, else its serial."""
        element_id = self.ids.get(serial)
        return self.job.by_id[element_id].label if element_id else serial or "a unit"

    def place(self, serial: str) -> Place | None:
        """Return where a unit is on the sheet."""
        element_id = self.ids.get(serial)
        if element_id is None:
            return None
        spot = self.job.spot(element_id)
        return Place(storey_id=spot.storey_id, at=spot.at)

    def alerts(self, kind: str) -> Iterator[Alert]:
        """Yield what the controller complains of, of a kind."""
        return (alert for alert in self.live.alerts if alert.kind == kind)


Check = Callable[[Scene], Iterable[Observation]]
WATCHES: dict[str, Check] = {}


def watch(code: str) -> Callable[[Check], Check]:
    """Register a watch by its table in watches.toml."""

    def keep(check: Check) -> Check:
        WATCHES[code] = check
        return check

    return keep


def watched(scene: Scene) -> Watched:
    """Return every finding, gravest first. One that breaks takes no other along, and says so."""
    found: list[Finding] = []
    for code, check in WATCHES.items():
        try:
            found += [finding_from(code, library().watches[code], one) for one in check(scene)]
        except Exception as error:
            found.append(_broke(code, error))
    reasons = {one.finding_key: one.reason for one in scene.job.of(Acceptance)}
    found = [one.model_copy(update={"accepted": reasons.get(one.key)}) for one in found]
    order = {"fault": 0, "warning": 1, "advice": 2}
    return Watched(findings=tuple(sorted(found, key=lambda one: order[one.severity])))


def _broke(code: str, error: Exception) -> Finding:
    title = library().watches[code].title
    log.error("watch_broke", watch=code, error=type(error).__name__)
    seen = Observation(
        subject_ids=(code,),
        subject=title,
        text=f"Whether there is a “{title.lower()}” could not be told ({type(error).__name__}).",
        advice="Everything else stands as shown.",
    )
    return finding_of("findings.could-not-run", seen).model_copy(update={"stage": "network"})


def _seen(scene: Scene, serial: str, text: str, advice: str, *more: str) -> Observation:
    element_id = scene.ids.get(serial, f"unit-{serial}")
    return Observation(
        subject_ids=(element_id, *more),
        subject=scene.label(serial),
        text=text,
        advice=advice,
        place=scene.place(serial),
    )


@watch("live.port-network")
def port_network(scene: Scene) -> Iterator[Observation]:
    """A port carries other networks than planned."""
    planned = {(port.switch, port.port): port for port in scene.plan.ports}
    for found in scene.live.ports:
        port = planned.get((scene.label(found.switch), found.port))
        if port is None or port.role == "off" or not _taken(scene, found.switch):
            continue
        if found.native and port.native and found.native != port.native:
            text = (
                f"Port {port.port} of {port.switch} carries {found.native} untagged; {port.native} is planned"
                f"{f' for {port.to}' if port.to else ''}."
            )
            yield _seen(scene, found.switch, text, "Send the port's settings again.", f"port-{port.port}")
        elif _lacking(port, found):
            names = ", ".join(_lacking(port, found))
            text = f"Port {port.port} of {port.switch} does not carry {names}{f' for {port.to}' if port.to else ''}."
            yield _seen(scene, found.switch, text, "Send the port's settings again.", f"port-{port.port}")


def _lacking(port: PortSetting, found: PortSetting) -> list[str]:
    """Return the networks a port that somebody has set does not carry; one nobody has set carries all."""
    return [n for n in port.tagged if n not in found.tagged] if found.native else []


def _taken(scene: Scene, serial: str) -> bool:
    unit = scene.units.get(serial)
    return unit is not None and unit.phase not in ("new", "owned", "joining")


def _links(scene: Scene) -> Iterator[tuple[LiveUnit, LivePort, str, int]]:
    """Yield every planned link that is up: unit, port, what it leads to, and its planned speed. [Mb/s]"""
    planned = {(port.switch, port.port): port for port in scene.plan.ports}
    for unit in scene.live.units:
        for port in unit.ports:
            wanted = planned.get((scene.label(unit.serial), port.name))
            if wanted is not None and port.up and port.mbps and wanted.role not in ("off", "service"):
                yield unit, port, wanted.to, _both_mbps(scene, port.beside, wanted.speed_mbps)


def _both_mbps(scene: Scene, beside: str, mbps: int) -> int:
    """Return what both ends of a link can do. [Mb/s]"""
    element_id = scene.ids.get(beside)
    model = scene.job.model_of(element_id) if element_id else None
    return min(mbps, model.uplink_mbps) if model is not None and not model.joins else mbps


_PAIR_MBPS = 100


@watch("live.dead-pair")
def dead_pair(scene: Scene) -> Iterator[Observation]:
    """A link runs at what two pairs carry."""
    for unit, port, to, mbps in _links(scene):
        if port.mbps == _PAIR_MBPS and mbps > _PAIR_MBPS:
            text = (
                f"Port {port.name} of {scene.label(unit.serial)} to {to} runs at {quantity(port.mbps, 'Mb/s', 0)}; "
                f"{quantity(mbps, 'Mb/s', 0)} is planned: a pair of the cable is dead."
            )
            yield _seen(scene, unit.serial, text, "Test the cable; make its ends anew.", f"port-{port.name}")


@watch("live.slow-link")
def slow_link(scene: Scene) -> Iterator[Observation]:
    """A link is slower than planned, and no pair explains it."""
    for unit, port, to, mbps in _links(scene):
        if _PAIR_MBPS < port.mbps < mbps:
            text = (
                f"Port {port.name} of {scene.label(unit.serial)} to {to} runs at {quantity(port.mbps, 'Mb/s', 0)}; "
                f"{quantity(mbps, 'Mb/s', 0)} is planned."
            )
            yield _seen(
                scene, unit.serial, text, "Look at both ports, the cord and the cable.", f"port-{port.name}"
            )


@watch("live.over-budget")
def over_budget(scene: Scene) -> Iterator[Observation]:
    """A switch is asked for more than it has."""
    for unit in scene.live.units:
        if unit.budget_w and unit.gives_w > unit.budget_w:
            text = (
                f"{scene.label(unit.serial)} is asked for {quantity(unit.gives_w, 'W', 0)} and has "
                f"{quantity(unit.budget_w, 'W', 0)}."
            )
            seen = _seen(
                scene, unit.serial, text, "Move a device, or put an injector beside it: stage 6 compares."
            )
            yield seen.model_copy(update={"value": unit.gives_w, "limit": unit.budget_w, "unit": "W"})


@watch("live.dark")
def dark(scene: Scene) -> Iterator[Observation]:
    """A unit has no power."""
    for unit in scene.live.units:
        if unit.phase == "dark" and unit.serial in scene.ids:
            text = f"{scene.label(unit.serial)} has no power."
            yield _seen(scene, unit.serial, text, "Look at its port, its switch's budget and its cord.")


@watch("live.cut-off")
def cut_off(scene: Scene) -> Iterator[Observation]:
    """A unit has power and does not answer."""
    for unit in scene.live.units:
        if unit.phase == "cut off":
            text = f"{scene.label(unit.serial)} has power and does not answer."
            yield _seen(
                scene, unit.serial, text, "Look at the untagged network of its port, and of those before it."
            )


@watch("live.old-firmware")
def old_firmware(scene: Scene) -> Iterator[Observation]:
    """Units that were taken over run old firmware."""
    for unit in scene.live.units:
        if unit.old and _taken(scene, unit.serial) and unit.serial in scene.ids:
            text = f"{scene.label(unit.serial)} runs firmware {unit.version}; newer is there."
            yield _seen(scene, unit.serial, text, "Update it in the window of the run book.")


@watch("live.no-service")
def no_service(scene: Scene) -> Iterator[Observation]:
    """The gateway gets no address."""
    for alert in scene.alerts("wan"):
        yield Observation(
            subject_ids=("service",),
            subject="The service",
            text=f"The gateway has {alert.words}.",
            advice="Enter the service's subnet in the brief, then renumber the inside.",
        )


@watch("live.loop")
def loop(scene: Scene) -> Iterator[Observation]:
    """Something goes round."""
    for alert in scene.alerts("loop"):
        at = f"port {alert.port} of " if alert.port else ""
        text = f"A loop at {at}{scene.label(alert.serial)}: {alert.words}."
        yield _seen(
            scene, alert.serial, text, "Follow the cable on that port; it comes back.", f"port-{alert.port}"
        )


@watch("live.channel")
def channel(scene: Scene) -> Iterator[Observation]:
    """A radio is on another channel than planned."""
    for planned, found in _radios(scene):
        if (
            planned.on
            and planned.channel != "automatic"
            and found.channel not in (planned.channel, "automatic")
        ):
            text = f"{planned.access_point} is on channel {found.channel} at {planned.band} GHz; {planned.channel} is planned."
            yield _seen(scene, found.access_point, text, "Send its radio settings again.", planned.band)


def _radios(scene: Scene) -> Iterator[tuple[RadioSetting, RadioSetting]]:
    """Yield each radio as planned and as found, of points that were taken over."""
    planned = {(radio.access_point, radio.band): radio for radio in scene.plan.radios}
    for found in scene.live.radios:
        radio = planned.get((scene.label(found.access_point), found.band))
        if radio is not None and _taken(scene, found.access_point):
            yield radio, found


@watch("live.automatic")
def automatic(scene: Scene) -> Iterator[Observation]:
    """Automatic optimisation is on though the plan is fixed."""
    if scene.live.house.automatic_radios and not scene.plan.house.automatic_radios and scene.live.networks:
        yield Observation(
            subject_ids=("automatic",),
            subject="Radios",
            text="The controller chooses channels and power by itself; the plan sets them.",
            advice="Send the settings of the whole.",
        )


@watch("live.missing")
def missing(scene: Scene) -> Iterator[Observation]:
    """A unit whose serial stands on the drawing is not there."""
    for match in scene.matched.matches:
        known = (
            _other_at(scene, match.element_id)
            or _planned_serial(scene, match.element_id) in scene.matched.twins
        )
        if match.problem and not match.serial and not known:
            yield Observation(
                subject_ids=(match.element_id,),
                subject=match.label,
                text=f"{match.label}: {match.problem}.",
                advice="Plug it in, or enter the serial of what hangs there now.",
            )


def _planned_serial(scene: Scene, element_id: str) -> str:
    return str(getattr(scene.job.by_id[element_id], "serial", ""))


def _other_at(scene: Scene, element_id: str) -> LiveUnit | None:
    """Return the unit that nobody planned on the port that is planned for an element."""
    strangers = {serial: scene.units[serial] for serial in scene.matched.strangers}
    for wire in scene.built.wires:
        for here, port, other in ((wire.a_id, wire.a_port, wire.b_id), (wire.b_id, wire.b_port, wire.a_id)):
            unit = scene.at.get(here)
            if other != element_id or unit is None:
                continue
            beside = next((p.beside for p in unit.ports if p.name == port), "")
            if beside in strangers:
                return strangers[beside]
    return None


@watch("live.wrong-unit")
def wrong_unit(scene: Scene) -> Iterator[Observation]:
    """Another unit hangs where one with a serial is planned; or one of another model."""
    for match in scene.matched.matches:
        other = _other_at(scene, match.element_id) if not match.serial else None
        if other is not None:
            text = f"{match.label} should be {_planned_serial(scene, match.element_id)}; {other.serial} hangs on its port."
            yield Observation(
                subject_ids=(match.element_id,),
                subject=match.label,
                text=text,
                advice="If it was exchanged, settle the new serial under Units; else plug the right one in.",
            )
        elif match.serial and match.problem:
            yield Observation(
                subject_ids=(match.element_id,),
                subject=match.label,
                text=f"{match.label}: {match.problem}.",
                advice="Exchange it, or plan what is there.",
            )


@watch("live.twin")
def twin(scene: Scene) -> Iterator[Observation]:
    """Two units say they are one."""
    for serial in scene.matched.twins:
        same = [unit for unit in scene.live.units if unit.serial == serial]
        yield Observation(
            subject_ids=(f"unit-{serial}",),
            subject=serial,
            text=f"{len(same)} units say they are {serial} ({', '.join(unit.mac for unit in same)}).",
            advice="Look at the labels by MAC; the maker has to give one of them a serial of its own.",
        )


@watch("live.stranger")
def stranger(scene: Scene) -> Iterator[Observation]:
    """A unit is there that nobody planned."""
    exchanged = {
        other.serial
        for m in scene.matched.matches
        if not m.serial and (other := _other_at(scene, m.element_id))
    }
    for serial in scene.matched.strangers:
        if serial not in exchanged:
            unit = scene.units[serial]
            yield Observation(
                subject_ids=(f"unit-{serial}",),
                subject=serial,
                text=f"{serial}, {unit.model}, is there and on no drawing.",
                advice="Match it under Units, draw it, or take it away.",
            )


@watch("live.owned")
def owned(scene: Scene) -> Iterator[Observation]:
    """A unit belongs to somebody else's controller."""
    for unit in scene.live.units:
        if unit.phase == "owned":
            text = f"{scene.label(unit.serial)} ({unit.serial}) belongs to {unit.owner}."
            yield _seen(scene, unit.serial, text, "Release it there, or reset it with a pin.")


@watch("live.clock")
def clock(scene: Scene) -> Iterator[Observation]:
    """The controller's clock is off."""
    off_s, most_s = abs(scene.live.clock_off_s), limit("network.clock_off_s")
    if off_s > most_s:
        yield Observation(
            subject_ids=("clock",),
            subject="The controller",
            value=off_s,
            limit=most_s,
            unit="s",
            text=f"Its clock is {quantity(off_s, 's', 0)} off; {quantity(most_s, 's', 0)} is the most.",
            advice="Let it ask a time server; look at its log with that in mind.",
        )


@watch("live.old-leases")
def old_leases(scene: Scene) -> Iterator[Observation]:
    """Clients hold addresses of a subnet that is gone."""
    for alert in scene.alerts("old-lease"):
        yield Observation(
            subject_ids=(f"leases-{alert.serial}",),
            subject=alert.serial,
            text=f"In {alert.serial} {alert.words}.",
            advice="Wait for the lease, or switch their ports off and on.",
        )


@watch("live.mesh")
def mesh(scene: Scene) -> Iterator[Observation]:
    """A wired point may still hang on others by air."""
    told: set[str] = set()
    for planned, found in _radios(scene):
        if found.mesh and not planned.mesh and found.access_point not in told and scene.live.networks:
            told.add(found.access_point)
            text = f"{planned.access_point} may hang on others by air; it has a cable."
            yield _seen(scene, found.access_point, text, "Send its radio settings again.")
