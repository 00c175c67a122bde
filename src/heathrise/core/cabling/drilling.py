"""What is drilled where: the holes of all runs, those of one bundle as one, with the sleeve each wants."""

from collections import defaultdict
from collections.abc import Sequence
from functools import lru_cache

from heathrise.core.cabling.conduit import conduit_fill
from heathrise.core.cabling.ground import Hole
from heathrise.core.cabling.runs import RunPlan
from heathrise.core.job import Job, Point
from heathrise.core.library import library, limit
from heathrise.core.sums import Noun, Sum, SumLine


class Drilling(Noun):
    """One hole: where, through what, for which runs, and the sleeve they want in it. `fire_minutes` is how long the
    wall or floor is to hold a fire back; None of a bore where the library has none wide enough.
    """

    storey_id: str
    storey_label: str
    at: Point
    wall_id: str | None
    wall_label: str
    through: str
    undrilled: bool
    fire_minutes: int
    run_ids: tuple[str, ...]
    run_labels: tuple[str, ...]
    bore: str | None
    bore_label: str
    fill: Sum | None
    hours: float


class DrillList(Noun):
    """Every hole of a job, storey by storey in their own order."""

    holes: tuple[Drilling, ...]
    hours: float


def drill_list(job: Job, plans: Sequence[RunPlan]) -> DrillList:
    """Return every hole for runs that are still to be laid; what is there already has its holes."""
    order = {storey.id: n for n, storey in enumerate(job.storeys)}
    groups = _groups([plan for plan in plans if not plan.existing])
    drillings = [_drilling(job, hole, runs) for hole, runs in groups]
    drillings.sort(key=lambda one: (order[one.storey_id], one.at.x_m, one.at.y_m))
    return DrillList(holes=tuple(drillings), hours=round(sum(one.hours for one in drillings), 2))


def _groups(plans: Sequence[RunPlan]) -> list[tuple[Hole, list[RunPlan]]]:
    """Return holes with their runs: through one wall and near each other they are one, at the first one's place."""
    by_wall: dict[tuple[str, str | None], list[tuple[Hole, list[RunPlan]]]] = defaultdict(list)
    near_m = limit("cabling.one_hole_m")
    for plan in plans:
        for hole in plan.holes:
            known = by_wall[hole.storey_id, hole.wall_id]
            for one, runs in known:
                if abs(one.at.x_m - hole.at.x_m) <= near_m and abs(one.at.y_m - hole.at.y_m) <= near_m:
                    runs.append(plan)
                    break
            else:
                known.append((hole, [plan]))
    return [group for groups in by_wall.values() for group in groups]


def _drilling(job: Job, hole: Hole, runs: list[RunPlan]) -> Drilling:
    build_up = job.build_ups[hole.build_up]
    ods = tuple(library().cables[plan.cable].diameter_mm for plan in runs)
    sleeve = sleeve_for(ods)
    name = job.by_id[hole.wall_id].label if hole.wall_id else "floor"
    return Drilling(
        storey_id=hole.storey_id,
        storey_label=job.by_id[hole.storey_id].label,
        at=hole.at,
        wall_id=hole.wall_id,
        wall_label=name,
        through=build_up.label,
        undrilled=hole.undrilled,
        fire_minutes=hole.fire_minutes,
        run_ids=tuple(plan.run_id for plan in runs),
        run_labels=tuple(plan.label for plan in runs),
        bore=sleeve,
        bore_label=library().bores[sleeve].label if sleeve else "several sleeves",
        fill=_fill(runs, ods, sleeve),
        hours=build_up.drill_hours,
    )


@lru_cache(maxsize=4096)
def sleeve_for(ods_mm: tuple[float, ...]) -> str | None:
    """Return the narrowest bore that cables of these diameters fill no further than a size is chosen for; None
    where no bore of the library is wide enough.
    """
    share = limit("cabling.fill_choice")
    fits = []
    for code, bore in library().bores.items():
        found = conduit_fill(bore.bore_mm, ods_mm)
        if found.fill <= share * found.limit:
            fits.append((bore.bore_mm, code))
    return min(fits)[1] if fits else None


def _fill(runs: Sequence[RunPlan], ods: Sequence[float], sleeve: str | None) -> Sum | None:
    if sleeve is None:
        return None
    bore = library().bores[sleeve]
    found = conduit_fill(bore.bore_mm, ods)
    lines = tuple(
        SumLine(label=f"{plan.label}, {od:g} mm", value=round(od * od, 2), unit="mm2")
        for plan, od in zip(runs, ods, strict=True)
    )
    return Sum(
        label=f"Fill of a sleeve, {bore.label}",
        value=round(100 * found.fill, 1),
        unit="%",
        limit=round(100 * found.limit * limit("cabling.fill_choice"), 1),
        holds=True,
        lines=(*lines, SumLine(label="bore squared", value=round(bore.bore_mm**2, 2), unit="mm2")),
        formula="sum of diameters squared / bore squared, against three quarters of the fill allowed",
        source="53/31/40 % rule; limits: cabling.fill_choice",
    )
