"""What an edit costs in the core, to the full answer: the demo school and the reference school, all kept warm."""

import statistics
import time
from collections.abc import Callable, Iterator

from demo.tern_lane import tern_lane

from benchmarks.core import Row, forget
from benchmarks.school import reference_school
from heathrise.core.deriving import Memo
from heathrise.core.edit import Operation, Put, apply
from heathrise.core.findings.assess import assessment
from heathrise.core.findings.slices import SLICES
from heathrise.core.job import AccessPoint, AirModel, Element, Job, Link, Point, Radio, Space, Wall
from heathrise.core.job.view import changed_keys

TIMES = 5
Change = Callable[[Job, int], Element]


def rows() -> list[Row]:
    """Time each kind of edit on both schools."""
    school = reference_school()
    return [
        *_of("demo school", tern_lane()),
        *_of("reference school", school),
        *_of("reference school, no mirrors", _without_mirrors(school), only=_moved, wanted_s=0.15),
    ]


def _without_mirrors(job: Job) -> Job:
    model = job.air_model.model_copy(update={"mirrors": False})
    left = tuple(element for element in job.elements if not isinstance(element, AirModel))
    return Job.model_construct(name=job.name, elements=(*left, model))


def _of(name: str, job: Job, only: Change | None = None, wanted_s: float | None = None) -> Iterator[Row]:
    forget()
    start = time.perf_counter()
    memo = Memo(job)
    assessment(memo.look)
    fresh_s = time.perf_counter() - start
    for what, change, usual_s in EDITS:
        if only is not None and change is not only:
            continue
        if change.__name__ == "_label_of_a_run" and not job.of(Link):
            continue
        took = statistics.median(_took_s(memo, change, n) for n in range(TIMES))
        yield Row(
            f"{name}: {what}",
            f"{took * 1e3:,.0f} ms",
            f"{fresh_s * 1e3:,.0f} ms (all anew)",
            f"{fresh_s / took:,.0f} x",
            f"{(wanted_s or usual_s) * 1e3:,.0f} ms",
            took <= (wanted_s or usual_s),
        )


def _took_s(memo: Memo, change: Change, turn: int) -> float:
    operations: list[Operation] = [Put(element=change(memo.source, turn))]
    start = time.perf_counter()
    edited = apply(memo.source, operations)
    memo.advance(edited.job, memo.revision + 1, changed_keys(memo.source, edited.job, SLICES))
    assessment(memo.look)
    return time.perf_counter() - start


def _people(job: Job, turn: int) -> Element:
    return job.of(Space)[0].model_copy(update={"people": 11 + turn})


def _label_of_a_run(job: Job, turn: int) -> Element:
    return job.of(Link)[0].model_copy(update={"label": f"R-9{turn}"})


def _power(job: Job, turn: int) -> Element:
    point = job.of(AccessPoint)[0]
    others = tuple(radio for radio in point.radios if radio.band != "5")
    told = next((radio for radio in point.radios if radio.band == "5"), Radio(band="5", power_dbm=10.0))
    radios = (*others, told.model_copy(update={"power_dbm": 10.0 + turn}))
    return point.model_copy(update={"radios": radios})


def _moved(job: Job, turn: int) -> Element:
    point = job.of(AccessPoint)[0]
    # Never twice to one place: what is kept of places must not flatter it.
    at = Point(x_m=point.at.x_m + (-1) ** turn * (0.4 + 0.013 * turn), y_m=point.at.y_m)
    return point.model_copy(update={"at": at})


def _wall(job: Job, turn: int) -> Element:
    wall = job.of(Wall)[-1]
    by = (-1) ** turn * 0.2
    return wall.model_copy(
        update={
            "a": Point(x_m=wall.a.x_m + by, y_m=wall.a.y_m),
            "b": Point(x_m=wall.b.x_m + by, y_m=wall.b.y_m),
        }
    )


EDITS: tuple[tuple[str, Change, float], ...] = (
    ("people of a space", _people, 0.02),
    ("label of a run", _label_of_a_run, 0.03),
    ("power of one radio", _power, 0.08),
    ("access point moved", _moved, 0.4),
    ("inside wall moved", _wall, 1.5),
)
