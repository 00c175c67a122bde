"""What small parts are counted from: each counter names the things of the job it counts, and how much each is.

A consumable of the library names one of them. A new counter is a function with a name here.
"""

from collections import defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property

from shapely.geometry import LineString
from shapely.ops import unary_union

from heathrise.core.cabling.drilling import Drilling, DrillList
from heathrise.core.cabling.runs import RunPlan, Runs
from heathrise.core.effort.work import mounted
from heathrise.core.job import AccessPoint, Equipment, InRack, Job, Link, Rack

Counted = tuple[str, float]
XY = tuple[float, float]


@dataclass(frozen=True)
class Counting:
    """What is counted: the job, its runs, what is drilled for them, the ids of what hangs on hard walls."""

    job: Job
    runs: Runs
    drilled: DrillList
    hard: frozenset[str]

    @cached_property
    def new_runs(self) -> tuple[RunPlan, ...]:
        """Runs that are still to be pulled."""
        return tuple(plan for plan in self.runs.plans if not plan.existing)

    @property
    def holes(self) -> tuple[Drilling, ...]:
        """What is drilled."""
        return self.drilled.holes


Counter = Callable[[Counting], Iterator[Counted]]
COUNTERS: dict[str, Counter] = {}


def counter(name: str) -> Callable[[Counter], Counter]:
    """Register what counts something."""

    def keep(function: Counter) -> Counter:
        COUNTERS[name] = function
        return function

    return keep


@counter("run")
def _runs(counting: Counting) -> Iterator[Counted]:
    return ((plan.label, 1) for plan in counting.new_runs)


@counter("jack-ended-run")
def _jack_ended(counting: Counting) -> Iterator[Counted]:
    """What lies already has its ends; it still wants its cord. Light has cords of its own."""
    if counting.job.practice.device_end == "jack":
        yield from ((p.label, 1) for p in counting.runs.plans if not carries_light(counting.job, p.run_id))


@counter("outlet")
def _outlets(counting: Counting) -> Iterator[Counted]:
    models = counting.job.equipment
    return (
        (thing.label, 1) for thing in counting.job.of(Equipment) if "outlet" in models[thing.model].mounts
    )


@counter("unit")
def _units(counting: Counting) -> Iterator[Counted]:
    yield from ((point.label, 1) for point in counting.job.of(AccessPoint))
    yield from ((thing.label, 1) for thing in counting.job.of(Equipment))


@counter("hole")
def _holes(counting: Counting) -> Iterator[Counted]:
    return ((f"{hole.wall_label}, {hole.storey_label}", 1) for hole in counting.holes)


@counter("outer-hole")
def _outer_holes(counting: Counting) -> Iterator[Counted]:
    """Holes of runs that go outdoors: through what keeps the rain out, as far as anybody can tell."""
    outside = {plan.run_id for plan in counting.new_runs if "outdoor" in plan.environments}
    for hole in counting.holes:
        if hole.wall_id and outside.intersection(hole.run_ids):
            yield f"{hole.wall_label}, {hole.storey_label}", 1


@counter("outdoor-entry")
def _outdoor_entries(counting: Counting) -> Iterator[Counted]:
    outdoors = {one.id for one, mount in mounted(counting.job) if mount in ("outdoor", "pole")}
    return ((plan.label, 1) for plan in counting.new_runs if plan.to_id in outdoors)


@counter("fixed")
def _fixed(counting: Counting) -> Iterator[Counted]:
    return ((one.label, 1) for one, mount in mounted(counting.job) if mount != "desk")


@counter("on-ceiling")
def _on_ceiling(counting: Counting) -> Iterator[Counted]:
    return ((one.label, 1) for one, mount in mounted(counting.job) if mount == "ceiling")


@counter("on-hard-wall")
def _on_hard_wall(counting: Counting) -> Iterator[Counted]:
    walls = (one for one, mount in mounted(counting.job) if mount in ("wall", "outlet", "outdoor"))
    return ((one.label, 1) for one in walls if one.id in counting.hard)


@counter("on-light-wall")
def _on_light_wall(counting: Counting) -> Iterator[Counted]:
    walls = (one for one, mount in mounted(counting.job) if mount in ("wall", "outlet"))
    return ((one.label, 1) for one in walls if one.id not in counting.hard)


@counter("racked-unit")
def _racked(counting: Counting) -> Iterator[Counted]:
    for thing in counting.job.of(Equipment):
        if isinstance(thing.place, InRack) and counting.job.equipment[thing.model].racks:
            yield thing.label, 1


@counter("rack")
def _racks(counting: Counting) -> Iterator[Counted]:
    return ((rack.label, 1) for rack in counting.job.of(Rack))


@counter("backed-rack")
def _backed(counting: Counting) -> Iterator[Counted]:
    racks = counting.job.of(Rack)
    return ((rack.label, 1) for rack in racks if rack.backing_board or rack.studs_mm is not None)


@counter("void-metre")
def _void_metres(counting: Counting) -> Iterator[Counted]:
    """Metres of way in voids and lofts, each stretch once however many runs lie in it."""
    stretches: dict[str, set[tuple[XY, XY]]] = defaultdict(set)
    for plan in counting.new_runs:
        for leg in plan.legs:
            if leg.environment in ("general", "plenum") and leg.pathway_id is None and leg.z0_m == leg.z1_m:
                a, b = ((round(p.x_m, 1), round(p.y_m, 1)) for p in (leg.a, leg.b))
                stretches[leg.storey_id].add((min(a, b), max(a, b)))
    for storey_id, pairs in stretches.items():
        lines = [LineString(pair) for pair in sorted(pairs) if pair[0] != pair[1]]
        yield counting.job.by_id[storey_id].label, round(unary_union(lines).length, 1)


@counter("fibre-end")
def _fibre_ends(counting: Counting) -> Iterator[Counted]:
    fibres = (plan for plan in counting.new_runs if carries_light(counting.job, plan.run_id))
    return ((plan.label, 2) for plan in fibres)


@counter("fibre-cage")
def _fibre_cages(counting: Counting) -> Iterator[Counted]:
    """Ends of fibres in cages; one whose port is open is taken to go into one."""
    job = counting.job
    for plan in counting.new_runs:
        if carries_light(job, plan.run_id):
            run = job.get(Link, plan.run_id)
            caged = sum(_is_cage(job, end.on, end.port) for end in (run.a, run.b))
            if caged:
                yield plan.label, caged


def _is_cage(job: Job, on: str, port: str | None) -> bool:
    model = job.model_of(on)
    if model is None or port is None:
        return True
    found = model.port(port)
    return found is not None and found.group.medium == "cage"


def carries_light(job: Job, run_id: str) -> bool:
    """Say whether a run is of fibre, with or without a pair beside it."""
    return job.get(Link, run_id).medium in ("fibre", "hybrid")
