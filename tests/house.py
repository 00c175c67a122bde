"""A small house the tests build on: two rooms, a rack, one access point, one of everything else."""

from typing import Any

from demo.drawing import Drawing, at

from heathrise.core.deriving import Look, Memo
from heathrise.core.edit import Operation, Put, apply
from heathrise.core.job import Element, Job
from heathrise.core.library import library


class House:
    """12 x 8 m, a brick wall in the middle with a door in it, one storey or two. A settled one has every
    question answered and runs one cable to each point.
    """

    def __init__(self, storeys: int = 1, settled: bool = False):
        self.d = Drawing("Test house")
        self.d.add("site", "Site")
        answers = [{"question": code, "text": "Said.", "on": "2026-01-02"} for code in library().questions]
        drops = [{"drop": code, "wanted": False} for code in library().drops]
        said = {"answers": answers, "drops": drops} if settled else {}
        self.d.add("brief", "Brief", internet={"subnet": "192.168.1.0/24"}, **said)
        self.d.add("practice", "House practice", cables_per_point=1 if settled else 2)
        self.storeys = []
        for number in range(storeys):
            label = ("Ground", "First", "Second")[number]
            storey = self.d.add("storey", label, elevation_m=3.0 * number, ceiling_m=2.6, void_m=0.4)
            self.storeys.append(storey)
            corners = ((0, 0), (12, 0), (12, 8), (0, 8), (0, 0))
            self.d.wall(storey, "cavity", *corners, label=f"{label} outer")
            self.d.wall(storey, "brick-102", (6, 0), (6, 8), label=f"{label} middle")
            self.d.space(storey, f"{label} west", (0, 0, 6, 8))
            self.d.space(storey, f"{label} east", (6, 0, 12, 8))
        self.ground = self.storeys[0]

    def add(self, kind: str, label: str, **body: Any) -> str:
        """Add an element."""
        return self.d.add(kind, label, **body)

    def point(self, label: str = "AP 1", x: float = 3, y: float = 4, **body: Any) -> str:
        """Add an access point on the ground floor."""
        given = {"model": "ap-ceiling-wifi6-2x2", "height_m": 2.6, "storey_id": self.ground} | body
        return self.add("access-point", label, at=at(x, y), **given)

    def rack(self, label: str = "TR1", x: float = 1, y: float = 1, **body: Any) -> str:
        """Add a rack on the ground floor."""
        return self.add("rack", label, **({"storey_id": self.ground} | body), at=at(x, y))

    def switch(self, label: str = "SW1", model: str = "switch-16-poe-2g5", rack: str = "TR1") -> str:
        """Add a switch to a rack."""
        return self.d.in_rack(label, model, self.d.id_of("rack", rack))

    def thing(self, label: str = "Outlet", x: float = 4, y: float = 4, model: str = "outlet-data") -> str:
        """Add a fixed thing on the ground floor."""
        return self.d.thing(label, model, self.ground, at(x, y))

    def run(
        self,
        to_id: str,
        label: str = "R-01",
        rack: str = "TR1",
        cable: str = "cat6a-indoor",
        on: tuple[str, str] | None = None,
        **body: Any,
    ) -> str:
        """Add a run from a rack; `on` decides (switch, port) at its near end."""
        near, port = (self.d.id_of("switch", on[0]), on[1]) if on else (self.d.id_of("rack", rack), None)
        return self.d.run(label, near, to_id, cable, port, **body)

    def cord(self, label: str, rack: str = "TR1", port: tuple[str, str] | None = None) -> str:
        """Join something in a rack to a switch there by a cord; `port` decides (switch, port)."""
        thing = next(e.id for e in self.d.elements if e.label == label)
        near, name = (
            (self.d.id_of("switch", port[0]), port[1]) if port else (self.d.id_of("rack", rack), None)
        )
        ends = {"a": {"on": near, "port": name}, "b": {"on": thing}}
        return self.add("link", f"Cord of {label}", medium="cord", **ends)

    def injector(self, run: str = "R-01", model: str = "injector-30-2g5") -> str:
        """Put an injector on a run's way."""
        place = {"where": "line", "link_id": self.d.id_of("run", run)}
        return self.add("equipment", f"Injector of {run}", model=model, place=place)

    @property
    def job(self) -> Job:
        """The job so far."""
        return Job(name="Test house", elements=tuple(self.d.elements))


def by_label(job: Job, label: str) -> Element:
    """Return the element of a label."""
    return next(element for element in job.elements if element.label == label)


def changed(job: Job, label: str, **changes: Any) -> Job:
    """Return the job with one element changed, checked like any edit."""
    element = by_label(job, label)
    body = element.model_dump() | changes
    operations: list[Operation] = [Put(element=type(element).model_validate(body))]
    return apply(job, operations).job


def straight(job: Job) -> Job:
    """Return the job with straight rays only, without what goes round."""
    return apply(job, [Put(element=job.air_model.model_copy(update={"round": False}))]).job


def look_at(job: Job) -> Look:
    """Return a look at a job, everything still to be worked out."""
    return Memo(job).look
