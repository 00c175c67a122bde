"""What the radio plan and the studies of the air find, as nouns; and what a study is asked.

Apart from what computes them: whoever keeps or shows a find needs no compiled code.
"""

from typing import Annotated, Literal

from pydantic import Field

from heathrise.core.edit import Operation
from heathrise.core.job import AccessPoint, Band, Id, Radio
from heathrise.core.sums import Noun

Aim = Literal["fewest", "roaming", "cable"]
StudyKind = Literal["placement", "mend", "radios", "learning", "failures", "hours"]


class RadioPlan(Noun):
    """The planned settings of one radio and why. `heard_ids` are the points it hears on its channel, itself apart."""

    point_id: str
    label: str
    band: Band
    on: bool
    channel: int | None
    width_mhz: int
    power_dbm: float
    eirp_dbm: float
    eirp_limit_dbm: float | None
    fixed: bool
    heard_on_channel: int
    heard_ids: tuple[str, ...]
    shared: float
    quietest: int | None
    quietest_shared: float
    reason: str


class BandPlan(Noun):
    """How good the channel plan of a band is: weighted overlap, what greedy gave, and a bound."""

    band: Band
    radios: int
    overlap: float
    greedy: float
    bound: float
    proven: bool


class Residual(Noun):
    """One survey point beside its prediction. [dBm, dB]"""

    survey_id: str
    label: str
    point: str
    space: str
    measured_dbm: float
    predicted_dbm: float
    off_db: float


class Grouped(Noun):
    """How far a group of survey points lies off: by space, or by what the straight ray crosses."""

    name: str
    count: int
    mean_db: float
    rmse_db: float


class Compared(Noun):
    """Survey against prediction, as it stands."""

    residuals: tuple[Residual, ...]
    by_space: tuple[Grouped, ...]
    by_wall: tuple[Grouped, ...]
    mean_db: float
    rmse_db: float


class Mend(Noun):
    """One change of a design, what it costs, and how many spaces then meet their need."""

    found: Literal["mend"] = "mend"
    label: str
    how: Literal["add", "move"]
    before: int
    met: int
    spaces: int
    cost: float
    points: tuple[AccessPoint, ...]
    operations: tuple[Operation, ...]


class Unmet(Noun):
    """A space no placement found meets, how far it came and why."""

    space_id: str
    label: str
    share: float
    why: str


class Placement(Noun):
    """One plan: points, what they cost, what they leave unmet, and how far a better one could be."""

    aim: Aim
    label: str
    points: tuple[AccessPoint, ...]
    count: int
    cost: float
    cable_m: float
    unmet: tuple[Unmet, ...]
    bound: float
    gap: float
    proven: bool
    step: str


class RadioChange(Noun):
    """One radio as it is and as it should be, and why."""

    point_id: str
    label: str
    band: Band
    before: Radio
    after: Radio
    why: str


class RadioProposal(Noun):
    """Changes to make, how good the channels are before and after, and the edit that makes them."""

    changes: tuple[RadioChange, ...]
    before: tuple[BandPlan, ...]
    after: tuple[BandPlan, ...]
    operations: tuple[Operation, ...]


class StudyAsked(Noun):
    """What is to be studied."""

    study: StudyKind
    storey_ids: tuple[Id, ...] = Field((), max_length=200)
    model: str = "ap-ceiling-wifi6-2x2"
    seconds: float = Field(30, gt=0, le=600)


class Part(Noun):
    """One piece of a study."""

    name: str
    key: str
    aim: Aim | None = None
    quick: bool = False


class Offer(Noun):
    """A placement, how the whole job then meets its needs, and the edit that puts it on the sheet."""

    found: Literal["offer"] = "offer"
    placement: Placement
    met: int
    spaces: int
    operations: tuple[Operation, ...]


class Failure(Noun):
    """What is lost when one access point fails; `worst_dbm` is of the second signal when only that is lost."""

    found: Literal["failure"] = "failure"
    point_id: str
    label: str
    met: int
    lost: tuple[str, ...]
    second_only: bool = False
    worst_dbm: float


class Hour(Noun):
    """The busiest radio of an hour."""

    found: Literal["hour"] = "hour"
    hour: int
    label: str
    airtime: float
    over: int


class Taught(Noun):
    """What a survey taught, beside how it stood before."""

    found: Literal["taught"] = "taught"
    before: Compared
    after: Compared
    operations: tuple[Operation, ...]


class Radios(Noun):
    """A radio plan."""

    found: Literal["radios"] = "radios"
    proposal: RadioProposal


StudyFind = Annotated[Offer | Mend | Failure | Hour | Taught | Radios, Field(discriminator="found")]
