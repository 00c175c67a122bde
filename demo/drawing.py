"""Helpers to write a demo job down shortly: stable ids from labels, rectangles, doors."""

import uuid
from itertools import pairwise

from pydantic import TypeAdapter

from heathrise.core.job import Element, Point

_NAMESPACE = uuid.UUID("8f0c7a52-6c0b-5a5c-9d7e-3d2f1b6a4c10")
_ELEMENT: TypeAdapter[Element] = TypeAdapter(Element)


class Drawing:
    """Collects the elements of one job."""

    def __init__(self, name: str):
        self.name = name
        self.elements: list[Element] = []

    def id_of(self, kind: str, label: str) -> str:
        """Return the id an element of this kind and label has, the same at every build."""
        return str(uuid.uuid5(_NAMESPACE, f"{self.name}/{kind}/{label}"))

    def add(self, kind: str, label: str, **body: object) -> str:
        """Add an element and return its id."""
        element_id = self.id_of(kind, label)
        self.elements.append(
            _ELEMENT.validate_python({"kind": kind, "id": element_id, "label": label, **body})
        )
        return element_id

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


def at(x_m: float, y_m: float) -> Point:
    """Return a place."""
    return Point(x_m=x_m, y_m=y_m)
