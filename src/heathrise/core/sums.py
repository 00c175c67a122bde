"""A number together with the sum it came from, so that any figure on show can be opened."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field


class Noun(BaseModel):
    """Base of every noun: frozen, no unknown fields, no NaN."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class SumLine(Noun):
    """One line of a sum."""

    label: str
    value: float
    unit: str
    note: str = ""


class Sum(Noun):
    """A value, its unit, the limit it is held against, its lines and where the formula comes from."""

    label: str
    value: float
    unit: str
    limit: float | None = None
    holds: bool = True
    lines: tuple[SumLine, ...] = ()
    formula: str = ""
    source: Annotated[str, Field(min_length=1)]
