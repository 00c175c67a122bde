"""What a phone takes along to where there is no signal: the tasks with their days, how ends are made, where things are, what is
drawn of each and how far the work is.
"""

from collections.abc import Iterable

from heathrise.core.fitting.ends import EndGuide, end_guide
from heathrise.core.fitting.scheduling import FitPlan
from heathrise.core.job import Element, Job, Wall
from heathrise.core.job.describing import kinds_shown
from heathrise.core.sums import Noun

# What is typed at a place and may be otherwise there; where it stands and what it hangs on is drawn at a desk.
_NOT_ON_SITE = ("at.x_m", "at.y_m")


class FieldOfThing(Noun):
    """One field as it is drawn: what it is called, what it says, what it may say instead."""

    path: str
    name: str
    unit: str
    value: str
    choices: tuple[str, ...]


class Thing(Noun):
    """What a task is about, as it is drawn."""

    id: str
    label: str
    noun: str
    fields: tuple[FieldOfThing, ...]


class WallLine(Noun):
    """A wall as a line on its storey, for finding one's way. [m]"""

    storey_id: str
    x1: float
    y1: float
    x2: float
    y2: float


class FieldPack(Noun):
    """All of it. `people` are the names a record may be signed with."""

    name: str
    plan: FitPlan
    ends: EndGuide
    things: tuple[Thing, ...]
    walls: tuple[WallLine, ...]
    storeys: dict[str, str]
    people: tuple[str, ...]


def field_pack(job: Job, plan: FitPlan) -> FieldPack:
    """Return what a phone takes along."""
    about = dict.fromkeys(task.subjects[0] for task in plan.tasks if task.subjects)
    return FieldPack(
        name=job.name,
        plan=plan,
        ends=end_guide(job),
        things=tuple(_things(job, about)),
        walls=tuple(
            WallLine(storey_id=wall.storey_id, x1=wall.a.x_m, y1=wall.a.y_m, x2=wall.b.x_m, y2=wall.b.y_m)
            for wall in job.of(Wall)
        ),
        storeys={storey.id: storey.label for storey in job.storeys},
        people=plan.crew,
    )


def _things(job: Job, ids: Iterable[str]) -> Iterable[Thing]:
    for element_id in ids:
        element = job.by_id.get(element_id)
        if element is not None:
            yield Thing(
                id=element_id,
                label=element.label,
                noun=element.ABOUT.noun,
                fields=tuple(_fields(element)),
            )


def _fields(element: Element) -> Iterable[FieldOfThing]:
    """Yield the fields that a person types or chooses from few; not what is taken from a shelf."""
    for form in kinds_shown()[element.kind].fields:
        if form.path in _NOT_ON_SITE or form.shelf or form.refers:
            continue
        value: object = element
        for name in form.path.split("."):
            value = getattr(value, name, None)
        if isinstance(value, bool):
            value = "yes" if value else "no"
        if isinstance(value, str | int | float) or value is None:
            choices = ("yes", "no") if form.type == "yes" else tuple(str(one.value) for one in form.options)
            yield FieldOfThing(
                path=form.path,
                name=form.label,
                unit=form.unit,
                value="" if value is None else str(value),
                choices=choices,
            )
