"""What each step of the work is made for: a run, a hole, a rack, a point. One maker a kind; tasks.toml names them."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from heathrise.core.cabling.cutting import CutLists
from heathrise.core.cabling.drilling import Drilling, DrillList
from heathrise.core.cabling.runs import RunPlan, Runs
from heathrise.core.effort.work import WHOLE, hole_key, mounted
from heathrise.core.fitting.ends import colours_of
from heathrise.core.fitting.tasks import ON_A_LADDER_M, Made, fact
from heathrise.core.job import (
    AccessPoint,
    Equipment,
    InRack,
    Job,
    Link,
    Network,
    Pathway,
    Point,
    Rack,
    Space,
    Walk,
)
from heathrise.core.library import library
from heathrise.core.network.runbook import RunBook
from heathrise.core.racks.patching import PatchList
from heathrise.core.site.building import Building, space_at
from heathrise.core.units import quantity

_ASBESTOS_BEFORE, _LEAD_PAINT_BEFORE = 2000, 1980


@dataclass(frozen=True)
class Making:
    """What tasks are made from."""

    job: Job
    building: Building
    runs: Runs
    holes: DrillList
    cuts: CutLists
    patches: tuple[PatchList, ...]
    book: RunBook

    @cached_property
    def new_runs(self) -> tuple[RunPlan, ...]:
        """Runs still to be pulled, the longest first: a box that turns out short is found while another is on the van."""
        new = (plan for plan in self.runs.plans if not plan.existing)
        return tuple(sorted(new, key=lambda plan: -plan.length_m))

    @cached_property
    def box_of(self) -> Mapping[str, str]:
        """From which box each run is cut."""
        return {
            cut.run_id: f"box {box.number} of {len(cable.boxes)}"
            for cable in self.cuts.cables
            for box in cable.boxes
            for cut in box.cuts
        }

    @cached_property
    def landings(self) -> Mapping[str, str]:
        """Where the cable of each run lands in its rack."""
        return {
            patch.run_id: f"{patch.panel} port {patch.panel_port}"
            if patch.panel
            else f"{patch.switch} port {patch.port}"
            for rack in self.patches
            for patch in rack.patches
        }

    def space(self, storey_id: str, at: Point) -> str:
        """Return the label of the space at a place, nothing where there is none."""
        found = space_at(self.job, self.building, storey_id, at)
        return found.label if found is not None else ""

    @cached_property
    def _places(self) -> dict[str, dict[str, Any]]:
        return {}

    def at_thing(self, element_id: str) -> dict[str, Any]:
        """Return where something stands, as a task says it."""
        if element_id not in self._places:
            self._places[element_id] = self._place(element_id)
        return self._places[element_id]

    def _place(self, element_id: str) -> dict[str, Any]:
        spot = self.job.spot(element_id)
        return {
            "storey_id": spot.storey_id,
            "storey": self.job.by_id[spot.storey_id].label,
            "space": self.space(spot.storey_id, spot.at),
            "at": spot.at,
            "height_m": spot.height_m,
        }


Maker = Callable[[Making], Iterator[Made]]
MAKERS: dict[str, Maker] = {}


def maker(name: str) -> Callable[[Maker], Maker]:
    """Register what makes tasks for a kind of thing."""

    def keep(function: Maker) -> Maker:
        MAKERS[name] = function
        return function

    return keep


def made_for(making: Making) -> dict[str, tuple[Made, ...]]:
    """Return what each step is made for, by the step."""
    by_maker = {name: tuple(make(making)) for name, make in MAKERS.items()}
    return {step: by_maker[row.per] for step, row in library().tasks.items()}


@maker("job")
def _job(making: Making) -> Iterator[Made]:
    built = making.job.site.built_year
    dust = [
        words
        for words, before in (("asbestos", _ASBESTOS_BEFORE), ("lead paint", _LEAD_PAINT_BEFORE))
        if built is None or built < before
    ]
    known = f"built {built}" if built else "year of building not known"
    asbestos = f"; {known}: ask about {' and '.join(dust)}" if dust else ""
    yield Made(
        subject=WHOLE,
        label="",
        words={"asbestos": asbestos},
        work=(("survey", WHOLE), ("hand-over", WHOLE)),
    )


@maker("unit")
def _units(making: Making) -> Iterator[Made]:
    """What is prepared before it is carried to its place: access points, and what stands in racks."""
    job = making.job
    racked = (thing for thing in job.of(Equipment) if isinstance(thing.place, InRack))
    things: tuple[AccessPoint | Equipment, ...] = (*job.of(AccessPoint), *racked)
    for thing in things:
        place = making.at_thing(thing.id)
        where = place["space"] or place["storey"]
        model = job.equipment[thing.model].label
        yield Made(
            subject=thing.id,
            label=thing.label,
            words={"label": thing.label, "space": where},
            subjects=(thing.id,),
            work=(("bench", thing.id), ("prepare-site", thing.id)),
            facts=(
                fact("Model", model),
                fact("Goes to", f"{where}, {place['storey']}"),
            ),
        )


@maker("pathway")
def _pathways(making: Making) -> Iterator[Made]:
    job = making.job
    for pathway in job.of(Pathway):
        if pathway.there:
            continue
        bore = f", {library().bores[pathway.bore].label}" if pathway.bore else ""
        buried = pathway.surroundings in ("ground", "wet")
        storey = job.by_id[pathway.storey_id].label if pathway.storey_id else ""
        yield Made(
            subject=pathway.id,
            label=pathway.label,
            words={
                "label": pathway.label,
                "kind": pathway.pathway_kind,
                "bore": bore,
                "digging": "digging" if buried else "",
            },
            subjects=(pathway.id, *pathway.link_ids),
            work=(("route", pathway.id),),
            storey_id=pathway.storey_id,
            storey=storey,
            at=pathway.path[0] if pathway.path else None,
            outdoors=pathway.surroundings in ("outdoor", "ground", "wet"),
            facts=(fact("Drawn", quantity(pathway.length_m, "m")),),
        )


@maker("hole")
def _holes(making: Making) -> Iterator[Made]:
    return (_hole(making, n, hole, "drill") for n, hole in enumerate(making.holes.holes, start=1))


@maker("fire-hole")
def _fire_holes(making: Making) -> Iterator[Made]:
    holes = enumerate(making.holes.holes, start=1)
    return (_hole(making, n, hole, "firestop") for n, hole in holes if hole.fire_minutes)


def _hole(making: Making, number: int, hole: Drilling, task: str) -> Made:
    key = hole_key(hole)
    return Made(
        subject=key,
        label=f"Hole {number}, {hole.wall_label}",
        words={
            "through": hole.through.lower(),
            "wall": hole.wall_label,
            "count": str(len(hole.run_ids)),
            "sleeve": hole.bore_label or "no sleeve is wide enough",
            "across": quantity(hole.at.x_m, "m"),
            "down": quantity(hole.at.y_m, "m"),
            "minutes": str(hole.fire_minutes),
            "fire": "fire" if hole.fire_minutes else "",
            "lead": "lead" if hole.undrilled else "",
        },
        subjects=(key, *hole.run_ids),
        work=((task, key),),
        storey_id=hole.storey_id,
        storey=hole.storey_label,
        space=making.space(hole.storey_id, hole.at),
        at=hole.at,
        facts=(
            fact("Sleeve", hole.bore_label or "none is wide enough"),
            fact("For", ", ".join(hole.run_labels)),
        ),
    )


@maker("run")
def _runs(making: Making) -> Iterator[Made]:
    return (_run(making, plan) for plan in making.new_runs)


def _run(making: Making, plan: RunPlan) -> Made:
    job = making.job
    run = job.get(Link, plan.run_id)
    light = run.medium in ("fibre", "hybrid")
    place = making.at_thing(plan.to_id)
    outdoors = "outdoor" in plan.environments
    plug = job.practice.device_end == "plug"
    length = quantity(plan.length_m, "m")
    landing = making.landings.get(plan.run_id, "")
    return Made(
        subject=plan.run_id,
        label=plan.label,
        words={
            "label": plan.label,
            "from": plan.from_label,
            "to": plan.to_label,
            "length": length,
            "cable": plan.cable_label,
            "box": making.box_of.get(plan.run_id, "cut to length"),
            "ends": "light: its connectors" if light else colours_of(job.practice.ends),
            "panel": landing or "where it lands is not decided",
            "configuration": "modular-plug link" if plug else "permanent link",
            "class": library().categories[plan.category].test_class or "by its own rules",
            "ladder": "height" if place["height_m"] > ON_A_LADDER_M else "",
            "light": "light" if light else "",
            "outdoors": "outdoors" if outdoors else "",
            "loft": "loft" if any("loft" in leg.what for leg in plan.legs) else "",
        },
        subjects=(
            plan.run_id,
            plan.to_id,
            plan.from_id,
            *((home,) if (home := job.rack_of(plan.from_id)) else ()),
        ),
        work=tuple(
            (task, plan.run_id) for task in ("pull", "terminate-device", "terminate-rack", "test-run")
        ),
        outdoors=outdoors,
        facts=(
            fact("From", f"{plan.from_label}, {landing}" if landing else plan.from_label),
            fact("To", plan.to_label),
            fact("Cable", plan.cable_label),
            fact("Length", length),
            fact("Cut from", making.box_of.get(plan.run_id, "its own length")),
            fact("Bend", f"no tighter than {quantity(plan.bend_mm, 'mm')}"),
        ),
        **place,
    )


@maker("rack")
def _racks(making: Making) -> Iterator[Made]:
    for rack in making.job.of(Rack):
        model = library().racks[rack.model].label
        yield Made(
            subject=rack.id,
            label=rack.label,
            words={"label": rack.label, "height": quantity(rack.height_m, "m")},
            subjects=(rack.id,),
            work=(("rack", rack.id), ("patch", rack.id), ("power-up", rack.id)),
            facts=(fact("Model", model),),
            **making.at_thing(rack.id),
        )


@maker("racked")
def _racked(making: Making) -> Iterator[Made]:
    job = making.job
    for thing in job.of(Equipment):
        if isinstance(thing.place, InRack):
            rack = job.get(Rack, thing.place.rack_id)
            at = (
                f"unit {thing.place.unit} of {rack.label}"
                if thing.place.unit
                else f"{rack.label}, as its elevation says"
            )
            yield Made(
                subject=thing.id,
                label=thing.label,
                words={"label": thing.label, "place": at},
                subjects=(thing.id, rack.id),
                work=(("switch", thing.id),),
                facts=(
                    fact("Model", job.equipment[thing.model].label),
                    fact("Place", at),
                ),
                **making.at_thing(rack.id),
            )


@maker("point")
def _points(making: Making) -> Iterator[Made]:
    return (
        _hung(making, one, mount, "mount-point")
        for one, mount in mounted(making.job)
        if isinstance(one, AccessPoint)
    )


@maker("device")
def _devices(making: Making) -> Iterator[Made]:
    return (
        _hung(making, one, mount, "mount-device")
        for one, mount in mounted(making.job)
        if isinstance(one, Equipment)
    )


def _hung(making: Making, one: AccessPoint | Equipment, mount: str, task: str) -> Made:
    model, place = making.job.equipment[one.model], making.at_thing(one.id)
    outdoors = mount in ("outdoor", "pole")
    height = quantity(place["height_m"], "m")
    return Made(
        subject=one.id,
        label=one.label,
        words={
            "label": one.label,
            "model": model.label,
            "mount": f"on the {mount}" if mount in ("ceiling", "wall") else mount,
            "height": height,
            "outdoors": "outdoors" if outdoors else "",
            "privacy": "privacy" if model.picture_mbps else "",
            "ladder": "height" if place["height_m"] > ON_A_LADDER_M else "",
        },
        subjects=(one.id, place["storey_id"]),
        work=((task, one.id),),
        outdoors=outdoors,
        facts=(
            fact("Model", model.label),
            fact("Height", height),
            fact("Mount", mount),
        ),
        **place,
    )


@maker("run-book")
def _book(making: Making) -> Iterator[Made]:
    """What is configured on site and after; its hours are the networks', shared alike."""
    steps = [step for step in making.book.steps if step.where in ("site", "after")]
    works = tuple(("configure", network.id) for network in making.job.of(Network))
    for step in steps:
        yield Made(
            subject=step.code,
            label=step.code.replace("-", " "),
            words={"text": step.text},
            work=works,
            facts=(fact("Why", step.why),),
            share=1 / len(steps),
        )


@maker("walk")
def _walks(making: Making) -> Iterator[Made]:
    for walk in making.job.of(Walk):
        yield Made(
            subject=walk.id,
            label=walk.label,
            words={"label": walk.label},
            subjects=(walk.id,),
            work=(("walk-path", walk.id),),
        )


@maker("storey")
def _storeys(making: Making) -> Iterator[Made]:
    for storey in making.job.storeys:
        spaces = [space.id for space in making.job.of(Space) if space.storey_id == storey.id]
        yield Made(
            subject=storey.id,
            label=storey.label,
            words={"label": storey.label},
            subjects=(storey.id,),
            work=(("tidy", storey.id), *(("walk", space) for space in spaces)),
            storey_id=storey.id,
            storey=storey.label,
        )
