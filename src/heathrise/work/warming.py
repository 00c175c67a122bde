"""Loading what computing needs before anybody asks: the kernels compiled to disk, the library, the rules."""

from typing import Any

from heathrise.core.deriving import Memo
from heathrise.core.findings.assess import assessment
from heathrise.core.job import AccessPoint, Brief, Element, Job, Point, Practice, Site, Space, Storey, Wall

_CORNERS = (Point(x_m=0, y_m=0), Point(x_m=6, y_m=0), Point(x_m=6, y_m=4), Point(x_m=0, y_m=4))


def warm() -> None:
    """Compute a small room once, which runs everything a job runs."""
    assessment(Memo(_room()).look)


def _room() -> Job:
    at = Point(x_m=3, y_m=2)
    sides = zip(_CORNERS, (*_CORNERS[1:], _CORNERS[0]), strict=True)
    on: dict[str, Any] = {"storey_id": _id(0)}
    elements: tuple[Element, ...] = (
        Site(id=_id(1), label="Site"),
        Practice(id=_id(2), label="Practice"),
        Brief(id=_id(3), label="Brief"),
        Storey(id=_id(0), label="Room", elevation_m=0.0),
        Space(id=_id(4), label="Room", outline=_CORNERS, need="calls", people=4, **on),
        AccessPoint(id=_id(5), label="Point", at=at, height_m=2.6, model="ap-ceiling-wifi6-2x2", **on),
        *(Wall(id=_id(6 + n), label=f"Wall {n}", a=a, b=b, **on) for n, (a, b) in enumerate(sides)),
    )
    return Job.model_construct(name="warming", elements=elements)


def _id(number: int) -> str:
    return f"00000000-0000-7000-8000-{number:012x}"
