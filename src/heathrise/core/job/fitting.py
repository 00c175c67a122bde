"""Who comes and when: the crew, their hours, tasks held on a day or given to somebody."""

from datetime import date
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from heathrise.core.job.element import About, ElementBase, FormField, Label
from heathrise.core.sums import Noun


class HeldTask(Noun):
    """A task that a person put on a day, gave to somebody, or both."""

    task: Annotated[str, StringConstraints(min_length=1, max_length=120)]
    on: date | None = None
    who: Label | None = None


class Fitting(ElementBase):
    """Who is there, from when to when. `loud_h` is how long in an evening work is done that is too loud by day."""

    ROWS = {"held": "task"}
    ABOUT = About(
        noun="fitting plan",
        stem="Fitting",
        stage="fit",
        sign="account",
        placed="none",
        single=True,
        listed=False,
        fields=(
            FormField(path="starts_h", label="Day starts", unit="h"),
            FormField(path="loud_h", label="Evenings", unit="h"),
        ),
    )
    kind: Literal["fitting"] = "fitting"
    starts_h: float = Field(8.0, ge=0, le=23)
    loud_h: float = Field(3.0, ge=0, le=8)
    crew: tuple[Label, ...] = Field((), max_length=20)
    held: tuple[HeldTask, ...] = Field((), max_length=5000)
