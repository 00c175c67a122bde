"""What may be asked of an open job: the questions as nouns. Light: the web process needs no more than this."""

from typing import Annotated, Literal

from pydantic import Base64Bytes, Field

from heathrise.core.edit import Operation
from heathrise.core.job import AccessPoint, Band, Id, Label, LinkDirection, Practice, Record
from heathrise.core.job.onsite import Said, Short
from heathrise.core.network.built import AsBuilt
from heathrise.core.network.held import Differences, Matched, PushPlan
from heathrise.core.network.live import Live
from heathrise.core.network.settings import Settings
from heathrise.core.rule import Finding
from heathrise.core.site.actions import Action
from heathrise.core.sums import Noun


class AssessmentAsked(Noun):
    """What was computed since a revision: all of it, or some tables first."""

    since: int | None = Field(None, ge=0)
    tables: Annotated[tuple[str, ...], Field(max_length=40)] = ()


class FindingAsked(Noun):
    """A finding by its key."""

    key: str = Field(min_length=1, max_length=2000)


class RuleAsked(Noun):
    """A rule by its id."""

    rule: str = Field(min_length=1, max_length=100)


class TerrainAsked(Noun):
    """A storey's air: one layer of it, as it stands, with one access point moved or failed, as a
    variant has it, or what the variant (or straight rays) would change. `quick`: the moved point's rays
    are not followed by mirrors.
    """

    storey_id: Id
    band: Band
    signal: str = "best"
    way: LinkDirection = "weaker"
    moved: AccessPoint | None = None
    without: Id | None = None
    variant: Id | None = None
    against: Id | Literal["design", "straight"] | None = None
    quick: bool = False


class PlaceAsked(Noun):
    """A place to explain the signal at."""

    storey_id: Id
    band: Band
    x_m: float = Field(ge=-100_000, le=100_000)
    y_m: float = Field(ge=-100_000, le=100_000)


class PrintAsked(Noun):
    """Which layer of which storey is printed."""

    storey_id: Id
    band: Band = "5"
    signal: str = "best"
    way: LinkDirection = "weaker"
    paper: Literal["A4", "A3", "A2", "A1"] = "A3"
    ending: Literal["svg", "png", "pdf"] = "svg"


class ShapeAsked(Noun):
    """A drawing action."""

    action: Action


class PracticeAsked(Noun):
    """A house practice to compare with."""

    practice: Practice


class TableAsked(Noun):
    """A table that somebody sent, as its rows and its file's name."""

    rows: list[list[str]]
    name: str = ""


class Nothing(Noun):
    """A question that needs no more than the job."""


class PlanFileAsked(Noun):
    """A storey's drawing as a file."""

    storey_id: Id
    ending: Literal["dxf", "svg", "geojson", "png"]


class RunsFileAsked(Noun):
    """A storey's runs as a drawing."""

    storey_id: Id
    ending: Literal["dxf", "svg", "pdf"]
    paper: Literal["A4", "A3", "A2", "A1"] = "A3"


class RiverAsked(Noun):
    """The network drawn, as a file."""

    ending: Literal["svg", "pdf"]
    paper: Literal["A4", "A3", "A2", "A1"] = "A3"


class PapersAsked(Noun):
    """Everything of the runs for the hands that lay them, as one PDF."""

    paper: Literal["A4", "A3", "A2", "A1"] = "A3"


class SettingsAsked(Noun):
    """The settings as a file."""

    ending: Literal["json", "yaml", "zip"]


class ScheduleAsked(Noun):
    """The schedule of runs as a table."""

    ending: Literal["csv", "xlsx"]


class RunsAsked(Noun):
    """Runs to everything that has too few, or one more to a single thing."""

    to: Id | None = None


class WaysAsked(Noun):
    """A thing on the sheet that data is to reach."""

    to: Id


class WayChosen(Noun):
    """A way to a thing, by its code, that is to be put into the job."""

    to: Id
    way: str = Field(min_length=1, max_length=60)


class StrandsAsked(Noun):
    """Several services over a run: screens of a television service at its far end, whether the service enters there, and
    whether its modem only bridges.
    """

    run: Id
    screens: int = Field(0, ge=0, le=40)
    service_there: bool = False
    bridges: bool = False


class StrandTagged(Noun):
    """A run that several services share by VLAN."""

    run: Id


class ProfileAsked(Noun):
    """The path of a bridge as text, typed or out of a table; empty takes what the drawing knows."""

    link: Id
    text: str = Field("", max_length=60_000)


class FeedAsked(Noun):
    """A run whose power is looked at."""

    run: Id


class WayOutTaken(Noun):
    """A way out for a device that is not fed, by its code."""

    run: Id
    way: str = Field(min_length=1, max_length=140)


class RackArranged(Noun):
    """A rack whose units are decided as proposed, or arranged anew."""

    rack: Id
    anew: bool = False


class LabelsAsked(Noun):
    """A scheme by which runs are labelled."""

    scheme: str = Field("running", min_length=1, max_length=60)


class PathwayTaken(Noun):
    """A proposed pathway to be put into the job."""

    key: Id


class DetourAsked(Noun):
    """A run led through a place of a storey: on one of its legs, or instead of one of its pins."""

    run: Id
    storey_id: Id
    x_m: float = Field(ge=-100_000, le=100_000)
    y_m: float = Field(ge=-100_000, le=100_000)
    leg: int | None = Field(None, ge=0, le=10_000)
    pin: int | None = Field(None, ge=0, le=100)


class FlowPressed(Noun):
    """A cell of the matrix of flows: whether hosts of one network may open connections to the other, or the internet."""

    from_id: Id
    to_id: Id | Literal["internet"]


class NamePressed(Noun):
    """A name put on the air, or taken off it, at a point, on a storey or on a band."""

    ssid_id: Id
    where: Id | Literal["2.4", "5", "6"]
    on: bool


class RenumberAsked(Noun):
    """A network to be moved to another subnet; none named takes the next that is free."""

    network: Id
    to: str = Field("", max_length=60)


class LabelSheetAsked(Noun):
    """Labels with codes; `base` is the address the application is reached at."""

    base: str = Field(max_length=300)


class LineOfOrder(Noun):
    """A line of the order by its item."""

    item: str = Field(min_length=1, max_length=60)


class PricesAsked(Noun):
    """A price list as its rows, whose it is, and which items a person gave article numbers."""

    rows: list[list[str]]
    supplier: Label
    chosen: dict[str, str] = {}


class PracticeChosen(Noun):
    """A question of the house practice, and the number of the choice taken."""

    code: str = Field(min_length=1, max_length=60)
    choice: int = Field(ge=0, le=20)


class QuestionsAsked(Noun):
    """The paper of questions to the client."""

    ending: Literal["txt", "pdf"]


class SuggestionAnswer(Noun):
    """Operations the planner suggests; the person sends them as an edit."""

    operations: tuple[Operation, ...]


class HeldAsked(Noun):
    """A controller as it was read, to be held against the plan."""

    live: Live


class LiveHeld(Noun):
    """A controller held against the plan of a job at a revision: which unit is which, what differs, what to do, what
    is wrong. `name_ids` are names on the air by what they are called there.
    """

    revision: int
    plan: Settings
    name_ids: dict[str, Id]
    live: Live
    matched: Matched
    compared: Differences
    steps: PushPlan
    findings: tuple[Finding, ...]


class BuiltAnswer(Noun):
    """A job as it would stand there, with the serials that stand on the drawing and the service's subnet."""

    built: AsBuilt
    serials: dict[Id, str]
    service: str | None


class UnitSettled(Noun):
    """Which unit stands at a place of the drawing; an empty serial says that nobody knows."""

    element_id: Id
    serial: str = Field(max_length=32)
    mac: str = Field("", max_length=17)


class UnitsSettled(Noun):
    """Several units settled at once."""

    units: tuple[UnitSettled, ...] = Field(max_length=2000)


class RunTestsAsked(Noun):
    """The tests of a run; without a record the one that counts."""

    run: Id
    record: Id | None = None


class TestsSent(Noun):
    """A file of tests as its rows, who read it, the runs a person named for labels, and whether another site's name is
    no matter.
    """

    __test__ = False

    rows: list[list[str]]
    by: Label
    chosen: dict[str, str] = {}
    any_site: bool = False


class RecordsMade(Noun):
    """Records that a computation made; whoever asked keeps them."""

    records: tuple[Record, ...]


class Signing(Noun):
    """Who hands over to whom, and why it is signed although a part of it is not proven: a reason a gate."""

    firm: Short = ""
    signed_by: Label
    client: Label
    call: Short = ""
    note: Said = ""
    waived: dict[str, Said] = {}


class HandOverAsked(Noun):
    """The paper of a hand-over: its number, who signs, the address the application is reached at."""

    number: int = Field(ge=1)
    signing: Signing


class PapersJoined(Noun):
    """Papers to be one, in this order."""

    bodies: tuple[Base64Bytes, ...]


class DriftAsked(Noun):
    """A job as it was handed over, as its file."""

    job_file: str


class SettingsHeld(Noun):
    """A controller as it was read, to be held against settings as they were handed over."""

    live: Live
    handed: Settings
