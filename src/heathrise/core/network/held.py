"""Nouns of a controller held against the plan: which unit is which, what differs, what to do about it."""

from typing import Literal

from heathrise.core.sums import Noun

How = Literal["serial", "label", "port", "kind", "none"]


class UnitMatch(Noun):
    """One device of the drawing with the unit that is taken for it; `problem` says what is odd."""

    element_id: str
    label: str
    model: str
    serial: str
    mac: str
    how: How
    why: str
    settled: bool
    problem: str


class Matched(Noun):
    """Every device of the drawing, and the units nobody knows."""

    matches: tuple[UnitMatch, ...]
    strangers: tuple[str, ...]
    twins: tuple[str, ...]


Section = Literal["device", "network", "name", "house", "radio", "port", "address"]
State = Literal["missing", "extra", "differs"]


class FieldDifference(Noun):
    """One field: as planned and as found, in words; `label` is what a person calls it."""

    field: str
    label: str
    planned: str
    found: str


class Difference(Noun):
    """One item that is not as planned: missing there, there without being planned, or with fields that differ."""

    key: str
    section: Section
    item: str
    device: str
    state: State
    fields: tuple[FieldDifference, ...]


class Differences(Noun):
    """Everything that differs, how much was looked at, and the devices that cannot be told anything now."""

    differences: tuple[Difference, ...]
    looked_at: int
    silent: tuple[str, ...]
    as_planned: bool


StepKind = Literal[
    "backup",
    "console",
    "take",
    "firmware",
    "alias",
    "network",
    "house",
    "name",
    "radio",
    "edges",
    "trunks",
    "address",
    "drop-name",
    "drop-network",
    "drop-address",
    "verify",
]


class PushStep(Noun):
    """One step: what is done to what, by the drawing's label and by serial, and what it costs people meanwhile.

    `settles` are the keys of the differences that are gone afterwards.
    """

    kind: StepKind
    item: str
    serial: str
    words: str
    costs: str
    settles: tuple[str, ...]


class PushPlan(Noun):
    """All steps in order, and what cannot be done now with its reason."""

    steps: tuple[PushStep, ...]
    blocked: tuple[str, ...]
