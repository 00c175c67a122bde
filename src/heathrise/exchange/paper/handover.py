"""What is handed over on paper: what was proven, what was accepted and why, the settings without their secrets, what to do
when, dates that come up; and the report of every test.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from reportlab.platypus import Flowable

from heathrise.core.findings.ready import Gate, Proven
from heathrise.core.job import AccessPoint, Equipment, Job, PointSeen, Rack, ServiceEntry
from heathrise.core.library import library
from heathrise.core.network.settings import Settings
from heathrise.core.proving.cables import RunProof
from heathrise.core.proving.faults import FaultShown, LogbookLine
from heathrise.core.proving.measured_air import SpaceAir
from heathrise.core.proving.ports import PointProof, PortProof, WalkProof
from heathrise.core.rule import Finding
from heathrise.core.units import plain
from heathrise.exchange.paper.document import (
    gap,
    grid,
    heading,
    quiet,
    signed,
    strong,
    title,
    together,
    words,
    write_document,
)
from heathrise.exchange.paper.sheets import Title

_LANDSCAPE = (297.0, 210.0)
STATES = {
    "pass": "pass",
    "marginal": "pass, by little",
    "fail": "FAIL",
    "none": "no record",
    "other": "tested otherwise",
    "holds": "as planned",
    "differs": "DIFFERS",
    "part": "in part",
}


@dataclass(frozen=True)
class HandOver:
    """What the paper of a hand-over is made of. `waived` are reasons by gate, `files` what else is in the set."""

    number: int
    day: date
    firm: str
    signed_by: str
    client: str
    call: str
    note: str
    waived: Mapping[str, str]
    proven: Proven
    accepted: Sequence[Finding]
    settings: Settings


def hand_over_pdf(job: Job, revision: int, given: HandOver) -> bytes:
    """Return the paper of a hand-over."""
    story: list[Flowable] = [
        title(f"Hand-over {given.number}"),
        words(f"{job.name}\n{job.site.address}".strip()),
        words(f"By {given.firm or 'the firm named below'} to {given.client}"),
        quiet(f"Of {given.day.isoformat()}, of the job at revision {revision}. This edition stays as it is."),
        *([words(given.note)] if given.note else []),
        heading("What was proven"),
        _gates(given.proven.ready.gates, given.waived),
        *_accepted(given.accepted),
        *_faults(given.proven.faults),
        heading("What to do when"),
        *_when(job, given.call),
        heading("What stands where"),
        _units(job),
        *_settings(given.settings),
        *_dates(given.proven.log),
        heading("How it was proven"),
        words(
            "The test report names every run with its test, held against the limits of its class, and every port and access "
            "point that was looked at beside the plan. Coverage was predicted; it was measured where the report says so, "
            "elsewhere it is a prediction. Passphrases and the guests' card are not in this set: they are handed over apart."
        ),
        signed((f"{given.signed_by}, for {given.firm or 'the firm'}", given.client)),
    ]
    return write_document(_foot(job, f"Hand-over {given.number}", revision, given.day), story)


def _foot(job: Job, drawing: str, revision: int, day: date) -> Title:
    return Title(
        job=job.name,
        drawing=drawing,
        revision=revision,
        day=day.isoformat(),
        practice=job.ordering.firm or job.practice.label,
        caution="As handed over. Mains, earthing and bonding are a licensed electrician's; local codes stand above it.",
    )


def _gates(gates: Iterable[Gate], waived: Mapping[str, str]) -> Flowable:
    rows = [
        (gate.label, f"{gate.done} of {gate.of}", "all" if gate.holds else waived.get(gate.code, "not all"))
        for gate in gates
    ]
    return grid(("What", "Done", "Signed although"), rows, (8, 3, 12), (1,))


def _accepted(findings: Sequence[Finding]) -> list[Flowable]:
    if not findings:
        return [heading("Accepted"), words("Nothing had to be accepted.")]
    rows = [(plain(one.title), plain(one.text), one.accepted or "") for one in findings]
    return [heading("Accepted, and why"), grid(("What", "How it is", "Because"), rows, (5, 11, 8))]


def _faults(faults: Sequence[FaultShown]) -> list[Flowable]:
    if not faults:
        return []
    rows = [(one.label, one.text, one.owner, one.state, one.reason) for one in faults]
    head = ("Where", "What", "Whose", "State", "Because")
    return [heading("Faults found and what became of them"), grid(head, rows, (5, 9, 4, 3, 6))]


def _when(job: Job, call: str) -> list[Flowable]:
    racks = ", ".join(f"{rack.label} ({job.by_id[rack.storey_id].label})" for rack in job.of(Rack)) or "none"
    service = ", ".join(entry.label for entry in job.of(ServiceEntry)) or "where the service enters"
    said = {"call": f"call {call}" if call else "call who handed it over", "service": service, "racks": racks}
    return [
        together(
            [
                strong(row.when),
                *(words(f"{n}. {_sentence(step.format_map(said))}") for n, step in enumerate(row.do, 1)),
            ]
        )
        for row in library().when.values()
    ]


def _sentence(text: str) -> str:
    return text[:1].upper() + text[1:]


def _serial(job: Job, thing: AccessPoint | Equipment) -> str:
    """Return the serial on the drawing, else the one that was written down at its place."""
    found = [one.text for one in job.recorded(thing.id) if one.kind == "serial"]
    found += [one.measured.serial for one in job.recorded(thing.id) if isinstance(one.measured, PointSeen)]
    return thing.serial or next((serial for serial in reversed(found) if serial), "")


def _units(job: Job) -> Flowable:
    things: tuple[AccessPoint | Equipment, ...] = (*job.of(AccessPoint), *job.of(Equipment))
    rows = []
    for thing in things:
        placed = isinstance(thing, AccessPoint) or thing.place.where != "line"
        where = job.by_id[job.spot(thing.id).storey_id].label if placed else "on its cable"
        rows.append((thing.label, job.equipment[thing.model].label, where, _serial(job, thing)))
    return grid(("Unit", "Model", "Storey", "Serial"), rows, (7, 10, 5, 6))


def _settings(settings: Settings) -> list[Flowable]:
    networks = [
        (
            one.name,
            str(one.vlan),
            one.subnet,
            one.gateway,
            ", ".join(one.reaches),
            "yes" if one.internet else "no",
        )
        for one in settings.networks
    ]
    names = [(one.name, one.network, ", ".join(one.bands), one.security) for one in settings.names]
    addresses = [(one.name, one.network, one.address) for one in settings.addresses]
    parts: list[Flowable] = [heading("Settings, without their secrets")]
    if networks:
        head = ("Network", "VLAN", "Subnet", "Gateway", "Reaches", "Internet")
        parts += [grid(head, networks, (5, 2, 5, 5, 7, 3), (1,)), gap(2)]
    if names:
        parts += [grid(("Name on the air", "Network", "Bands", "Security"), names, (6, 5, 5, 5)), gap(2)]
    if addresses:
        parts.append(grid(("Fixed address of", "Network", "Address"), addresses, (6, 5, 6)))
    return parts


def _dates(log: Sequence[LogbookLine]) -> list[Flowable]:
    if not log:
        return [
            heading("Logbook"),
            words(
                "Nothing yet. Visits, faults, changes, replacements and renewals are written down in stage 10."
            ),
        ]
    rows = [(one.at.date().isoformat(), one.entry, one.label, one.text, one.due) for one in log]
    return [heading("Logbook and dates"), grid(("Day", "Kind", "Of", "What", "Due"), rows, (4, 4, 6, 11, 4))]


def test_report_pdf(job: Job, revision: int, day: date, proven: Proven) -> bytes:
    """Return every run, port, access point, walk and space with what was measured of it."""
    story: list[Flowable] = [
        title("Test report"),
        quiet(
            "Each run by its newest record of what was planned, held against the lines of its class (ISO/IEC 11801-1); "
            "the margin is of the reading nearest to its limit. A second opinion beside the tester's own."
        ),
        _runs(proven.runs),
    ]
    if proven.ports:
        story += [heading("Ports"), _ports(proven.ports)]
    if proven.points:
        story += [heading("Access points"), _points(proven.points)]
    if proven.walks:
        story += [heading("Walks on a call"), _walks(proven.walks)]
    if proven.spaces:
        story += [heading("The air, measured"), _spaces(proven.spaces)]
    return write_document(_foot(job, "Test report", revision, day), story, _LANDSCAPE)


def _walks(walks: Sequence[WalkProof]) -> Flowable:
    rows = [
        (one.label, STATES[one.state], "" if one.breaks is None else str(one.breaks), one.seen_by)
        for one in walks
    ]
    return grid(("Walk", "State", "Breaks", "By"), rows, (8, 4, 3, 6), (2,), wide_mm=_LANDSCAPE[0])


def _spaces(spaces: Sequence[SpaceAir]) -> Flowable:
    rows = [
        (one.label, str(one.readings), f"{one.off_db:+.1f} dB", f"{one.met} of {one.places}", one.need_label)
        for one in spaces
    ]
    head = ("Space", "Readings", "Off prediction", "Need met at", "Need")
    return grid(head, rows, (8, 3, 4, 4, 8), (1, 2, 3), wide_mm=_LANDSCAPE[0])


def _runs(runs: Sequence[RunProof]) -> Flowable:
    rows = [
        (
            run.label,
            run.to_label,
            run.cable_label,
            f"{run.configuration}{f', {run.test_class}' if run.test_class else ''}",
            STATES[run.state],
            f"{run.margin_sum.value:.1f} {run.margin_sum.unit}"
            if run.margin_sum
            else "by word"
            if run.by_word
            else "",
            "" if run.measured_m is None else f"{run.measured_m:.1f}",
            f"{run.planned_m:.1f}",
            run.tested_by,
            run.fault.name if run.fault else run.why if run.state not in ("pass", "none") else "",
        )
        for run in runs
    ]
    head = ("Run", "To", "Cable", "Tested as", "Result", "Margin", "Long, m", "Drawn, m", "By", "Remark")
    return grid(head, rows, (4, 7, 8, 8, 5, 5, 5, 5, 5, 12), (5, 6, 7), wide_mm=_LANDSCAPE[0])


def _looked_at(state: str) -> str:
    return "not looked at" if state == "none" else STATES[state]


def _ports(ports: Sequence[PortProof]) -> Flowable:
    rows = []
    for port in ports:
        found = {check.code: check for check in port.checks}
        rows.append(
            (
                f"{port.switch_label} {port.port}",
                port.to_label,
                _looked_at(port.state),
                *(
                    f"{check.found or '–'} / {check.planned}" if (check := found.get(code)) else ""
                    for code in ("speed", "watts", "network")
                ),
                port.seen_by,
            )
        )
    head = ("Port", "To", "State", "Speed, found / planned", "Power", "Network", "By")
    return grid(head, rows, (5, 7, 4, 7, 8, 8, 5), wide_mm=_LANDSCAPE[0])


def _points(points: Sequence[PointProof]) -> Flowable:
    rows = []
    for point in points:
        odd = [f"{c.name}: {c.found}, {c.planned} planned" for c in point.checks if c.holds is False]
        open_ = sum(check.holds is None for check in point.checks)
        remark = "; ".join([*odd, *([f"{open_} not looked at"] if open_ and point.state != "none" else [])])
        serial = next((c.found for c in point.checks if c.code == "serial"), "")
        rows.append(
            (
                point.label,
                point.model_label,
                point.storey,
                serial,
                _looked_at(point.state),
                remark,
                point.seen_by,
            )
        )
    head = ("Access point", "Model", "Storey", "Serial", "State", "Remark", "By")
    return grid(head, rows, (6, 8, 4, 5, 4, 13, 5), wide_mm=_LANDSCAPE[0])
