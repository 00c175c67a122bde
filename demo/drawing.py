"""Helpers to write a demo job down shortly: stable ids from labels, rectangles, doors."""

import re
import uuid
from collections.abc import Mapping
from itertools import pairwise

from heathrise.core.cabling.derived import runs
from heathrise.core.cabling.runs import plan_runs
from heathrise.core.deriving import Memo
from heathrise.core.edit import Put, apply
from heathrise.core.job import ELEMENT, Element, End, Equipment, Job, Link, Point, Rack
from heathrise.core.power.derived import feeds
from heathrise.core.power.feeds import plan_feeds
from heathrise.core.racks.elevation import elevation_of, units_decided
from heathrise.core.racks.patching import panels_decided, patches_of
from heathrise.core.site.building import building_of
from heathrise.core.switching.ports import plan_ports, settled


def patched(job: Job, ports: Mapping[str, str]) -> Job:
    """Return a job with each run at the port given for it, landed and racked as proposed."""
    on = {thing.label: thing.id for thing in job.of(Equipment)}
    puts = []
    for run in job.of(Link):
        if run.label in ports:
            switch, _, port = ports[run.label].partition("/")
            puts.append(Put(element=run.model_copy(update={"a": End(on=on[switch], port=port)})))
    job = apply(job, tuple(puts)).job
    for rack in job.of(Rack):
        job = apply(job, units_decided(job, rack.id)).job
    look = Memo(job).look
    found = plan_ports(job, runs(look), feeds(look))
    lists = [patches_of(job, found, elevation_of(job, rack.id)) for rack in job.of(Rack)]
    return apply(job, panels_decided(job, lists)).job


_NAMESPACE = uuid.UUID("8f0c7a52-6c0b-5a5c-9d7e-3d2f1b6a4c10")


class Drawing:
    """Collects the elements of one job."""

    def __init__(self, name: str):
        self.name = name
        self.elements: list[Element] = []

    def id_of(self, kind: str, label: str) -> str:
        """Return the id an element of this kind and label has, the same at every build."""
        return str(uuid.uuid5(_NAMESPACE, f"{self.name}/{kind}/{label}"))

    def add(self, kind: str, label: str, named: str = "", **body: object) -> str:
        """Add an element and return its id, made of its kind or of what it is `named` for."""
        element_id = self.id_of(named or kind, label)
        self.elements.append(
            ELEMENT.validate_python({"kind": kind, "id": element_id, "label": label, **body})
        )
        return element_id

    def thing(
        self, label: str, model: str, storey_id: str, at: Point, height_m: float = 0.4, **body: object
    ) -> str:
        """Add a fixed thing on the sheet."""
        place = {"where": "sheet", "storey_id": storey_id, "at": at, "height_m": height_m}
        return self.add("equipment", label, "device", model=model, place=place, **body)

    def in_rack(self, label: str, model: str, rack_id: str, **body: object) -> str:
        """Add equipment in a rack."""
        place = {"where": "rack", "rack_id": rack_id}
        return self.add("equipment", label, "switch", model=model, place=place, **body)

    def run(
        self, label: str, from_id: str, to_id: str, cable: str, port: str | None = None, **body: object
    ) -> str:
        """Add a run from a rack, or from a port of what stands in one."""
        ends = {"a": {"on": from_id, "port": port}, "b": {"on": to_id}}
        return self.add("link", label, "run", product=cable, **ends, **body)

    def job(self, ports: Mapping[str, str] | None = None) -> Job:
        """Return the job: elements in the order of their labels, ports as given by run (`SW1/3`), else as proposed."""
        ordered = sorted(self.elements, key=_natural)
        job = Job(name=self.name, elements=tuple(ordered))
        if ports is not None:
            return patched(job, ports)
        plan = plan_runs(job, building_of(job))
        found = plan_ports(job, plan, plan_feeds(job, plan)).ports
        return apply(job, settled(job, found)).job

    def wall(
        self, storey: str, build_up: str, *corners: tuple[float, float], label: str, **body: object
    ) -> list[str]:
        """Add a chain of walls through corners."""
        return [
            self.add(
                "wall",
                label if len(corners) == 2 else f"{label} {number}",
                storey_id=storey,
                a=at(*one),
                b=at(*other),
                build_up=build_up,
                **body,
            )
            for number, (one, other) in enumerate(pairwise(corners), start=1)
        ]

    def space(self, storey: str, label: str, box: tuple[float, float, float, float], **body: object) -> str:
        """Add a rectangular space from x0, y0 to x1, y1."""
        x0, y0, x1, y1 = box
        outline = [at(x0, y0), at(x1, y0), at(x1, y1), at(x0, y1)]
        return self.add("space", label, storey_id=storey, outline=outline, **body)


def _natural(element: Element) -> list[tuple[int, str]]:
    """Return a key that puts R-2 before R-10."""
    parts = re.findall(r"\d+|\D+", element.label)
    return [(int(part), "") if part.isdigit() else (0, part) for part in parts]


def at(x_m: float, y_m: float) -> Point:
    """Return a place."""
    return Point(x_m=x_m, y_m=y_m)
