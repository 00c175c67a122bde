"""The nouns of the air: access points, antennas, what was measured, and how the air is computed."""

from datetime import datetime
from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, model_validator

from heathrise.core.job.element import AT, NAME, About, Band, Code, ElementBase, FormField, Id, Point, Tool
from heathrise.core.job.network import Mac, Serial
from heathrise.core.library import library
from heathrise.core.sums import Noun


class Radio(Noun):
    """One radio of an access point. `channel` None leaves it to the plan; a locked one was set by a
    person and no plan of the whole job changes it. One set `aside` carries data between access points only:
    it is on the air and on a channel, and no client is on it.
    """

    band: Band
    on: bool = True
    channel: int | None = Field(None, ge=1, le=233)
    width_mhz: Literal[20, 40, 80, 160, 320] | None = None
    power_dbm: float = Field(ge=-10, le=36)
    locked: bool = False
    aside: bool = False


class AccessPoint(ElementBase):
    """An access point. `height_m` above the storey's floor; `facing_deg` clockwise from sheet up.

    `antenna` names another pattern than the model's own; `tilt_deg` turns a face that looks to the
    side towards the ground. A pinned point is left where it is when points are placed. `serial` and `mac` are those of
    the unit that hangs there; `mesh` says whether it may hang on others by air, None that it may where no cable comes.
    """

    SHELVES = {"model": "equipment", "antenna": "patterns"}
    REFS = {"storey_id": ("storey",)}
    ROWS = {"radios": "band"}
    ABOUT = About(
        noun="access point",
        stem="AP",
        stage="air",
        sign="point",
        placed="point",
        fields=(
            NAME,
            FormField(path="model", label="Model", shelf="equipment", only="radiates"),
            FormField(path="mount", label="Mount"),
            FormField(path="height_m", label="Height", unit="m"),
            FormField(path="facing_deg", label="Facing", unit="°"),
            FormField(path="tilt_deg", label="Tilt down", unit="°"),
            FormField(path="pinned", label="Pinned"),
            FormField(path="antenna", label="Antenna", shelf="patterns"),
            FormField(path="mesh", label="May hang by air"),
            FormField(path="serial", label="Serial"),
            FormField(path="mac", label="MAC"),
            *AT,
        ),
        tools=(
            Tool(
                name="access-point",
                asks="model",
                only="radiates",
                label="Access point",
                hint="Press where it goes; drag it afterwards and watch the terrain.",
                sign="point",
                stages=("air",),
                key="a",
            ),
        ),
    )
    kind: Literal["access-point"] = "access-point"
    storey_id: Id
    at: Point
    height_m: float = Field(2.7, ge=0, le=60)
    model: Code
    mount: Literal["ceiling", "wall", "desk", "outdoor"] = "ceiling"
    facing_deg: float = Field(0, ge=0, lt=360)
    tilt_deg: float = Field(0, ge=-90, le=90)
    antenna: Code | None = None
    pinned: bool = False
    radios: tuple[Radio, ...] = ()
    serial: Serial = ""
    mac: Mac = ""
    mesh: bool | None = None

    @model_validator(mode="after")
    def _one_radio_a_band(self) -> "AccessPoint":
        bands = [radio.band for radio in self.radios]
        if len(bands) != len(set(bands)):
            raise ValueError(f"access point {self.label} has two radios on one band")
        return self


class Variant(ElementBase):
    """Another set of access points for the same building, kept beside the design to compare."""

    ROWS = {"points": "id"}
    ABOUT = About(noun="variant", stem="Variant", stage="air", sign="point", placed="none", listed=False)
    kind: Literal["variant"] = "variant"
    points: tuple[AccessPoint, ...] = Field((), max_length=5000)


class CutPoint(Noun):
    """Gain under the peak at one angle of a cut. [degrees, dB]"""

    angle_deg: float
    relative_db: float


Cut = Annotated[tuple[CutPoint, ...], Field(max_length=721)]


class Antenna(ElementBase):
    """An antenna pattern of this job, from a file: cuts round (azimuth) and up (elevation).

    Angles are degrees from the direction of the peak, -180 to 180; both cuts must be there.
    """

    ABOUT = About(noun="antenna", stem="Antenna", stage="air", sign="point", placed="none", listed=False)
    kind: Literal["antenna"] = "antenna"
    code: Code
    azimuth: Cut
    elevation: Cut

    @model_validator(mode="after")
    def _whole(self) -> "Antenna":
        for name, cut in (("azimuth", self.azimuth), ("elevation", self.elevation)):
            problem = cut_problem(cut)
            if problem:
                raise ValueError(f"antenna {self.label}, {name} cut: {problem}")
        if self.code in library().patterns:
            raise ValueError(f"antenna {self.label}: the library already has a pattern named {self.code}")
        return self


def cut_problem(cut: tuple[CutPoint, ...]) -> str | None:
    """Return what is wrong with a cut, None when it can be used."""
    angles = [point.angle_deg for point in cut]
    if len(cut) < 3:
        return f"it has {len(cut)} rows; three are the least."
    if any(not -180 <= angle <= 180 for angle in angles):
        return "an angle is outside -180 to 180 degrees."
    if any(not -100 <= point.relative_db <= 0.01 for point in cut):
        return "a level is over the peak (0 dB) or under -100 dB; levels are relative to the peak."
    ordered = sorted(angles)
    if len(set(ordered)) != len(ordered):
        return "an angle stands in it twice."
    widest, after = max((b - a, a) for a, b in pairwise([*ordered, ordered[0] + 360]))
    if widest > 45:
        return f"it has a gap of {widest:.0f} degrees after {after:.0f}; 45 is the most."
    return None


class AirModel(ElementBase):
    """How the air is computed: each step can be switched off and compared.

    `mirrors` follows rays that walls throw back, up to three times; it is a part of `round`.
    """

    ABOUT = About(
        noun="air model",
        stem="How the air is computed",
        stage="air",
        sign="account",
        placed="none",
        single=True,
        listed=False,
    )
    kind: Literal["air-model"] = "air-model"
    round: bool = True
    mirrors: bool = True
    true_angle: bool = True
    doors: Literal["closed", "open"] = "closed"
    area_losses: bool = True
    calibrated: bool = True


class ClassShift(Noun):
    """By how much a build-up differs from its library value, fitted. [dB]"""

    build_up: Code
    shift_db: float


class SpaceShift(Noun):
    """By how much what is received in a space differs from the prediction, fitted. [dB]"""

    space_id: Id
    shift_db: float


class NearShift(Noun):
    """What one reading teaches of the places round it, of the access point it came from while that stays
    where it was. `weight` times what two places have in common is the shift. [1/dB]
    """

    storey_id: Id
    at: Point
    space_id: Id | None
    from_storey_id: Id
    from_at: Point
    weight: float


class Calibration(ElementBase):
    """What survey points taught of this building: an offset, a shift for each wall class and for each
    space that was measured, and what each reading says of the places near it. Errors are RMSE in dB;
    `held_out_db` is over points the fit did not see.
    """

    ABOUT = About(
        noun="calibration",
        stem="Calibration",
        stage="air",
        sign="account",
        placed="none",
        single=True,
        listed=False,
    )
    kind: Literal["calibration"] = "calibration"
    offset_db: float = Field(ge=-40, le=40)
    shifts: tuple[ClassShift, ...] = Field((), max_length=200)
    spaces: tuple[SpaceShift, ...] = Field((), max_length=2000)
    near: tuple[NearShift, ...] = Field((), max_length=20000)
    points: int = Field(ge=1)
    before_db: float = Field(ge=0)
    after_db: float = Field(ge=0)
    held_out_db: float = Field(ge=0)


class SurveyPoint(ElementBase):
    """One measured level of one radio at one place. The label names the reading."""

    REFS = {"storey_id": ("storey",), "point_id": ("access-point",)}
    ABOUT = About(noun="survey point", stem="Reading", stage="air", sign="point", placed="none", listed=False)
    kind: Literal["survey-point"] = "survey-point"
    storey_id: Id
    at: Point
    point_id: Id
    band: Band
    rssi_dbm: float = Field(ge=-120, le=0)
    measured_at: datetime | None = None


class Neighbour(ElementBase):
    """A network of others, heard on a scan; its label is the name or address it sends."""

    ABOUT = About(noun="neighbour", stem="Neighbour", stage="air", sign="point", placed="none", listed=False)
    kind: Literal["neighbour"] = "neighbour"
    band: Band
    channel: int = Field(ge=1, le=233)
    width_mhz: Literal[20, 40, 80, 160, 320] = 20
    rssi_dbm: float = Field(ge=-120, le=0)


class WalkStop(Noun):
    """A corner of a walk."""

    storey_id: Id
    at: Point


class Walk(ElementBase):
    """A way somebody walks with a client in hand, over storeys by the stairs."""

    SHELVES = {"client_class": "clients"}
    ABOUT = About(
        noun="walk",
        stem="Walk",
        stage="air",
        sign="walk",
        placed="path",
        listed=False,
        tools=(
            Tool(
                name="walk",
                label="Walk",
                hint="Press the corners of the way; change the storey with [ and ] on a stair; Enter ends it.",
                sign="walk",
                stages=("air",),
                key="p",
            ),
        ),
    )
    kind: Literal["walk"] = "walk"
    client_class: Code = "phone"
    band: Band = "5"
    stops: tuple[WalkStop, ...] = Field(min_length=2, max_length=500)
