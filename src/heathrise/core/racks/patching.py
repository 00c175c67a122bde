"""From cable to panel port to cord to switch port: decided places kept, the others in the order of the runs.

Where a rack has no panel its cables are plugged straight in.
"""

from collections.abc import Sequence

from heathrise.core.cabling.ends import cords_of, runs_of
from heathrise.core.edit import Operation, Put
from heathrise.core.job import End, Job, Link, PanelPort
from heathrise.core.library import library, limit
from heathrise.core.racks.elevation import Elevation
from heathrise.core.sums import Noun, Sum, SumLine
from heathrise.core.switching.ports import PortPlan, Ports, purpose_of
from heathrise.core.switching.slots import Side


class Patch(Noun):
    """One end of a run in a rack: where its cable lands and what cord joins it to which port."""

    run_id: str
    run_label: str
    side: Side
    to_label: str
    panel_id: str | None
    panel: str
    panel_port: str
    switch_id: str | None
    switch: str
    port: str
    cord: Sum | None
    colour: str
    letter: str
    state: str


class PatchList(Noun):
    """The patches of one rack, and the cords in it. `unlanded` are the ids of runs that find no panel port though there is
    a panel.
    """

    rack_id: str
    label: str
    patches: tuple[Patch, ...]
    unlanded: tuple[str, ...]
    cords: tuple[tuple[str, int], ...]


def patches_of(job: Job, ports: Ports, elevation: Elevation) -> PatchList:
    """Return every end of a run in a rack, and how it is patched."""
    ends = _ends(job, elevation.rack_id)
    panels = _panel_ports(job, elevation)
    landed = _landed([end for _, _, end in ends], panels)
    at = {(port.run_id, port.side): port for port in ports.ports if port.run_id}
    patches = [
        _patch(job, elevation, run, side, landed.get(n), at.get((run.id, side)))
        for n, (run, side, _) in enumerate(ends)
    ]
    patches += [_cord_patch(job, elevation, cord, at.get((cord.id, "a"))) for cord in _cords(job, elevation)]
    return PatchList(
        rack_id=elevation.rack_id,
        label=elevation.label,
        patches=tuple(patches),
        unlanded=tuple(run.id for n, (run, _, _) in enumerate(ends) if panels and n not in landed),
        cords=_counted(patches),
    )


def _ends(job: Job, rack_id: str) -> list[tuple[Link, Side, End]]:
    sides: tuple[Side, Side] = ("a", "b")
    ends = [(run, side, run.a if side == "a" else run.b) for run in runs_of(job) for side in sides]
    return [end for end in ends if job.rack_of(end[2].on) == rack_id]


def _panel_ports(job: Job, elevation: Elevation) -> list[PanelPort]:
    """Return every panel port of a rack as it is read: from the top panel down, by number."""
    panels = [one for one in reversed(elevation.items) if _is_panel(job, one.element_id)]
    return [port for one in panels for port in _ports(job, one.element_id)]


def _is_panel(job: Job, element_id: str) -> bool:
    model = job.model_of(element_id)
    return model is not None and model.lands_cables


def _ports(job: Job, element_id: str) -> Sequence[PanelPort]:
    model = job.model_of(element_id)
    return [PanelPort(on=element_id, port=port.name) for port in model.port_list] if model else []


def _landed(ends: Sequence[End], panels: Sequence[PanelPort]) -> dict[int, PanelPort]:
    """Return the panel port of each end by its number: the decided first, one each, then the others in order."""
    found: dict[int, PanelPort] = {}
    left = {(port.on, port.port): port for port in panels}
    for n, end in enumerate(ends):
        port = left.pop((end.panel.on, end.panel.port), None) if end.panel is not None else None
        if port is not None:
            found[n] = port
    free = iter(left.values())
    for n, end in enumerate(ends):
        if end.panel is None and (port := next(free, None)) is not None:
            found[n] = port
    return found


def _patch(
    job: Job, elevation: Elevation, run: Link, side: Side, panel: PanelPort | None, port: PortPlan | None
) -> Patch:
    other = run.b if side == "a" else run.a
    end = run.a if side == "a" else run.b
    row = library().cord_colours[purpose_of(job, other.on)]
    if port is None:
        state = "spare, no cord"
    elif panel is None:
        state = "plugged straight in"
    else:
        state = "decided" if end.panel == panel and port.decided else "proposed"
    return Patch(
        run_id=run.id,
        run_label=run.label,
        side=side,
        to_label=job.by_id[other.on].label,
        panel_id=panel.on if panel else None,
        panel=job.by_id[panel.on].label if panel else "",
        panel_port=panel.port if panel else "",
        switch_id=port.switch_id if port else None,
        switch=port.switch_label if port else "",
        port=port.port if port else "",
        cord=_cord(elevation, panel.on, port.switch_id) if panel and port else None,
        colour=row.colour if port else "",
        letter=row.letter if port else "",
        state=state,
    )


def _cords(job: Job, elevation: Elevation) -> list[Link]:
    return [cord for cord in cords_of(job) if job.rack_of(cord.a.on) == elevation.rack_id]


def _cord_patch(job: Job, elevation: Elevation, cord: Link, port: PortPlan | None) -> Patch:
    """Return a cord between something in the rack and a switch."""
    row = library().cord_colours[purpose_of(job, cord.b.on)]
    return Patch(
        run_id=cord.id,
        run_label=cord.label,
        side="a",
        to_label=job.by_id[cord.b.on].label,
        panel_id=None,
        panel="",
        panel_port="",
        switch_id=port.switch_id if port else None,
        switch=port.switch_label if port else "",
        port=port.port if port else "",
        cord=_cord(elevation, cord.b.on, port.switch_id) if port else None,
        colour=row.colour if port else "",
        letter=row.letter if port else "",
        state="in the rack" if port else "no port",
    )


def _cord(elevation: Elevation, one_id: str, other_id: str) -> Sum:
    """Return the shortest cord on sale that reaches: the height between its ends, and its way out and back. [m]"""
    units = {item.element_id: item.unit for item in elevation.items}
    apart_u = abs((units.get(one_id) or 1) - (units.get(other_id) or elevation.height_u))
    high_m = apart_u * limit("rack.unit_mm") / 1000
    need = high_m + limit("rack.slack_m")
    lengths = sorted(cord.length_m for cord in library().patch_cords.values())
    taken = next((length for length in lengths if length >= need), lengths[-1])
    return Sum(
        label=f"{elevation.label}: patch cord",
        value=taken,
        unit="m",
        holds=taken >= need,
        lines=(
            SumLine(label=f"{apart_u} U between its ends", value=round(high_m, 3), unit="m"),
            SumLine(label="out to the side and back", value=limit("rack.slack_m"), unit="m"),
        ),
        formula="the shortest on sale that reaches",
        source=library().limits["rack.slack_m"].source,
    )


def _counted(patches: Sequence[Patch]) -> tuple[tuple[str, int], ...]:
    """Return how many cords of each length and colour, the shortest first."""
    found: dict[tuple[float, str], int] = {}
    for patch in patches:
        if patch.cord is not None:
            key = (patch.cord.value, patch.colour)
            found[key] = found.get(key, 0) + 1
    return tuple((f"{length:g} m {colour}", count) for (length, colour), count in sorted(found.items()))


def panels_decided(job: Job, lists: Sequence[PatchList]) -> tuple[Operation, ...]:
    """Return operations that decide where every cable lands on its panel."""
    changed: dict[str, Link] = {}
    for one in (patch for rack in lists for patch in rack.patches):
        if one.panel_id is None:
            continue
        run = changed.get(one.run_id) or job.get(Link, one.run_id)
        end: End = run.a if one.side == "a" else run.b
        place = PanelPort(on=one.panel_id, port=one.panel_port)
        if end.panel != place:
            changed[run.id] = run.model_copy(update={one.side: end.model_copy(update={"panel": place})})
    return tuple(Put(element=run) for run in changed.values())
