"""What was written down on site: records, never changed and never taken out. What is no longer so is said by a later one.

Records are no elements: ticking that a cable is pulled never fights a change of the cable. They name what they are
about by its id or key, and stay when that is gone.
"""

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import AwareDatetime, Base64Bytes, Field, StringConstraints, model_validator

from heathrise.core.job.element import BANDS, Band, Id, Label, Point
from heathrise.core.sums import Noun

RECORD_WORDS = 2000
Said = Annotated[str, StringConstraints(strip_whitespace=True, max_length=RECORD_WORDS)]
Key = Annotated[str, StringConstraints(min_length=1, max_length=160)]
Short = Annotated[str, StringConstraints(strip_whitespace=True, max_length=80)]
Configuration = Literal["channel", "permanent link", "modular-plug link", "fibre link"]
Quantity = Literal[
    "insertion-loss",
    "next",
    "return-loss",
    "delay",
    "skew",
    "loop",
    "unbalance",
    "unbalance-ohm",
    "length",
    "light-loss",
    "other",
]


class TestReading(Noun):
    """One value a tester read: in dB, ns, ohm, % or m by its quantity; `f_mhz` where it has a frequency. `pair` names one
    pair of wires or two of them: "12", "12-36".
    """

    quantity: Quantity
    pair: Annotated[str, StringConstraints(max_length=20)] = ""
    f_mhz: float | None = Field(None, gt=0, le=10_000)
    value: float = Field(ge=-10_000, le=100_000)


Points = Annotated[tuple[float, ...], Field(min_length=1, max_length=5000)]


class Curve(Noun):
    """One quantity of a pair over frequency. [MHz, dB]"""

    quantity: Quantity
    pair: Annotated[str, StringConstraints(max_length=20)] = ""
    f_mhz: Points
    value: Points

    @model_validator(mode="after")
    def _as_long(self) -> "Curve":
        if len(self.f_mhz) != len(self.value):
            raise ValueError("a curve has as many values as frequencies")
        return self


class CableTest(Noun):
    """A run tested: how it was joined to the tester, by which class, what the tester itself said. `wire_map` says where each
    of the eight wires comes out at the far end, pin 1 first: "x" for nowhere, "s" for joined to another.
    """

    measured: Literal["test"] = "test"
    configuration: Configuration
    test_class: Short = ""
    verdict: Literal["pass", "fail", "none"] = "none"
    wire_map: Annotated[str, StringConstraints(pattern=r"^([1-8xs]{8})?$")] = ""
    split: bool = False
    site: Short = ""
    tester: Short = ""
    readings: tuple[TestReading, ...] = Field((), max_length=1000)
    curves: tuple[Curve, ...] = Field((), max_length=200)


class PortSeen(Noun):
    """A port as it was found: what is not known is left out. `network` is the one an untagged device came into."""

    measured: Literal["port"] = "port"
    mbps: int | None = Field(None, ge=0, le=400_000)
    watts: float | None = Field(None, ge=0, le=1000)
    network: Short = ""
    by_controller: bool = False


class BandSeen(Noun):
    """A radio as it was found."""

    band: Band
    channel: int | None = Field(None, ge=1, le=253)
    power_dbm: float | None = Field(None, ge=-10, le=40)


class PointSeen(Noun):
    """An access point as it was found: the unit's serial, its radios, the names joined there, whether a guest got in."""

    measured: Literal["point"] = "point"
    serial: Annotated[str, StringConstraints(strip_whitespace=True, max_length=32)] = ""
    radios: tuple[BandSeen, ...] = Field((), max_length=len(BANDS))
    joined: tuple[Id, ...] = Field((), max_length=40)
    not_joined: tuple[Id, ...] = Field((), max_length=40)
    guest_kept_out: bool | None = None
    by_controller: bool = False


class WalkSeen(Noun):
    """A walk on a call: how often it broke."""

    measured: Literal["walk"] = "walk"
    breaks: int = Field(0, ge=0, le=1000)


class FoundOtherwise(Noun):
    """Something that is not as drawn: which field of it, and what it really is, as it was typed."""

    measured: Literal["otherwise"] = "otherwise"
    field: Short
    value: Said
    shown: Short = ""


class Settled(Noun):
    """What became of what was found otherwise: taken into the drawing, or left."""

    measured: Literal["settled"] = "settled"
    taken: bool


class Fault(Noun):
    """A fault to be mended, where it is and whose it is."""

    measured: Literal["fault"] = "fault"
    owner: Short = ""
    storey_id: Id | None = None
    at: Point | None = None


FaultState = Literal["open", "mended", "checked", "accepted"]


class FaultTurn(Noun):
    """How a fault stands from now on, and whose it is; the record's words are the reason."""

    measured: Literal["turn"] = "turn"
    state: FaultState
    owner: Short = ""


class LogEntry(Noun):
    """A line of the logbook after the hand-over; `due` is when it comes up again."""

    measured: Literal["log"] = "log"
    entry: Literal["visit", "fault", "change", "replacement", "firmware", "renewal", "warranty"]
    due: date | None = None


Measured = (
    CableTest | PortSeen | PointSeen | WalkSeen | FoundOtherwise | Settled | Fault | FaultTurn | LogEntry
)
RecordKind = Literal["done", "undone", "note", "photo", "length", "serial", "value", "measured"]


class Record(Noun):
    """One thing written down. `subject` is what it is about (an element's id, the key of a hole, "job"), `task` the task it
    was written down at, `about` an earlier record it goes on from. `said_at` is by the clock of the device that wrote it,
    `at` by ours: it is set when the record comes in, by how far the device's clock was off. `length` is in metres.
    """

    id: Id
    kind: RecordKind
    subject: Key
    said_at: AwareDatetime
    at: AwareDatetime | None = None
    by: Label
    task: Key | None = None
    text: Said = ""
    number: float | None = Field(None, ge=-1_000_000, le=1_000_000)
    photo: Id | None = None
    about: Id | None = None
    measured: Measured | None = Field(None, discriminator="measured")

    @property
    def when(self) -> datetime:
        """When it was written down, by our clock where that is known."""
        return self.at or self.said_at


class Photo(Noun):
    """A photograph that travels inside a job file; the database keeps it beside the records."""

    id: Id
    jpeg: Base64Bytes
