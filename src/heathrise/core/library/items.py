"""The nouns of the library. Field names carry units; every row carries its source."""

import math
from typing import Literal

from pydantic import Field

from heathrise.core.sums import Noun


class Limit(Noun):
    """One limit or design value."""

    value: float
    unit: str
    source: str


class BuildUp(Noun):
    """What a wall, door, window, slab, roof or planting costs the air, and the hours to drill it; `undrilled`
    where it is not to be drilled at all.

    `layers` are (material, thickness_mm) from one face to the other, where it is a plain slab.
    """

    label: str
    kind: Literal["wall", "window", "door", "slab", "roof", "planting"]
    loss_24_db: float
    loss_5_db: float
    loss_6_db: float
    drill_hours: float
    layers: tuple[tuple[str, float], ...] = ()
    undrilled: bool = False
    face: str = "concrete"
    source: str

    @property
    def thickness_m(self) -> float | None:
        """Thickness of its layers together, None when it has none. [m]"""
        return sum(mm for _, mm in self.layers) / 1000 if self.layers else None

    @property
    def losses_db(self) -> tuple[float, float, float]:
        """Loss at 2.4, 5 and 6 GHz. [dB]"""
        return self.loss_24_db, self.loss_5_db, self.loss_6_db


class Cord(Noun):
    """A gauge of stranded cord: what it loses over fixed cable, as a share, and how much a channel may hold."""

    derate: float
    cap_m: float
    conductor_ohm_per_100m: float
    source: str


class PatchCord(Noun):
    """A length of patch cord as it is sold."""

    length_m: float
    price: float
    source: str


class CordColour(Noun):
    """The colour of cords of a purpose, and the letter that stands for it on a front."""

    colour: str
    letter: str
    source: str


class LoadCase(Noun):
    """What is asked of feeds at once: watts of points and of others, lamps at night, heaters in the cold, devices more."""

    label: str
    points: Literal["typical", "most"]
    others: Literal["typical", "most"]
    night: bool = False
    cold: bool = False
    more: int = 0
    why: str


class Contents(Noun):
    """What stands in a space and costs the air something on every metre through it."""

    label: str
    loss_24_db_m: float
    loss_5_db_m: float
    loss_6_db_m: float
    source: str

    @property
    def losses_db_m(self) -> tuple[float, float, float]:
        """Loss at 2.4, 5 and 6 GHz. [dB/m]"""
        return self.loss_24_db_m, self.loss_5_db_m, self.loss_6_db_m


class Need(Noun):
    """What a space requires of the air."""

    label: str
    band: Literal["2.4", "5", "6"] | None
    best_dbm: float | None
    second_dbm: float | None
    snr_db: float | None
    walks: bool
    source: str


class Client(Noun):
    """A class of client; a power of None has no radio on that band.

    It looks for another point when the one it is on is heard under `look_dbm`, and moves when
    another is heard `better_db` louder.
    """

    label: str
    power_24_dbm: float | None
    power_5_dbm: float | None
    power_6_dbm: float | None
    gain_dbi: float
    look_dbm: float
    better_db: float
    source: str

    def power_dbm(self, band: str) -> float | None:
        """Return its power on a band. [dBm]"""
        return {"2.4": self.power_24_dbm, "5": self.power_5_dbm, "6": self.power_6_dbm}[band]


class PoeClass(Noun):
    """One power class of IEEE 802.3."""

    poe_class: int
    poe_type: int
    pairs: int
    source_w: float
    device_w: float
    source_min_v: float
    device_min_v: float
    reserve_w: float
    source: str


class Category(Noun):
    """A category of cable. `rank` orders them, poorest first; `jack` is the part a run ends in; `reach_m` is how far
    light goes in one that carries light, `test_class` the class its runs are tested to.
    """

    label: str
    rank: int
    jack: str
    test_class: str | None = None
    reach_m: float | None = None
    source: str


class CableType(Noun):
    """A cable one can buy. `environments` is the set of spaces it may enter; one that is cut to length is sold in
    steps of `box_m`, each piece by itself. `pair_mm2` is the section of a pair for power that lies in it beside fibre.
    `fire_class` is how it burns, where rules ask by class.
    """

    label: str
    category: str
    awg: int | None
    screened: bool
    diameter_mm: float
    pair_mm2: float | None = None
    environments: frozenset[str]
    fire_rated: bool
    fire_class: str | None = None
    copper_clad: bool
    box_m: float
    box_price: float | None
    cut_to_length: bool
    source: str

    @property
    def conducts(self) -> bool:
        """Whether it has pairs for data, which carry power with it."""
        return self.awg is not None

    @property
    def joins_earths(self) -> bool:
        """Whether anything in it conducts from end to end."""
        return self.awg is not None or self.pair_mm2 is not None


class Speed(Noun):
    """How far a category carries a speed."""

    category: str
    speed_mbps: int
    max_m: float
    warn_over_m: float | None
    note: str
    source: str


class Bore(Noun):
    """A conduit's inside."""

    label: str
    bore_mm: float
    price_per_m: float
    source: str


class SlabMaterial(Noun):
    """Constants of relative permittivity a f^b and conductivity c f^d, f in GHz."""

    a: float
    b: float
    c: float
    d: float
    from_ghz: float
    to_ghz: float
    source: str


class TestClass(Noun):
    """Coefficients of a class's limit lines."""

    top_mhz: float
    cable: tuple[float, float, float]
    connector: float
    next: tuple[float, float, float, float] | None = None
    next_above: dict[str, tuple[float, float, float]] = {}
    return_loss: dict[str, tuple[tuple[float, float, float], ...]] = {}


class TestConfiguration(Noun):
    """How a run is joined to the tester; see test_configurations.toml."""

    __test__ = False

    name: str
    line: Literal["channel", "link", "light"]
    cable_share: float = 0.0
    connectors: int = 0
    near_connectors: int = 0
    delay_ns: float = 0.0
    skew_ns: float = 0.0
    loop_ohm: float = 0.0
    source: str


class WhenInfo(Noun):
    """What is done when something is wrong; see when.toml."""

    when: str
    do: tuple[str, ...]


class WireFault(Noun):
    """What is wrong with a cable, by its symptom; see wire_faults.toml."""

    name: str
    when: str
    text: str
    advice: str


class SubBand(Noun):
    """A piece of a band with its own rules."""

    band: Literal["2.4", "5", "6"]
    channels: tuple[int, ...]
    eirp_dbm: float
    density_dbm_mhz: float | None = None
    indoor_only: bool = False
    radar: bool = False

    def limit_dbm(self, width_mhz: float) -> float:
        """Return the most EIRP over a channel of a width: in all, and for each MHz of it. [dBm]"""
        if self.density_dbm_mhz is None:
            return self.eirp_dbm
        return min(self.eirp_dbm, round(self.density_dbm_mhz + 10 * math.log10(width_mhz), 2))


class Domain(Noun):
    """The rules of a place; to be checked with its regulator. `middle_ghz` stands for its bands, 2.4, 5 and 6 GHz;
    `fire_classes` are the classes of burning cables are sold by, the worst first, and `fire_escape` and `fire_inside`
    the least on escape routes and elsewhere indoors; none where rules ask by rating.
    """

    label: str
    note: str
    fire_classes: tuple[str, ...] = ()
    fire_escape: str | None = None
    fire_inside: str | None = None
    middle_ghz: tuple[float, float, float]
    sub_bands: tuple[SubBand, ...]


class WayPart(Noun):
    """What a way of reaching something is built of: a model of equipment, at its own price, or words and a price."""

    model: str | None = None
    label: str = ""
    price: float = Field(0.0, ge=0)
    count: int = Field(1, ge=1)


class WayInfo(Noun):
    """A way by which data may reach what stands far off: what its sum begins with, and what a person should know.

    `rank` says how dependable it is, the best first; `wired` whether it ends at a port of what it goes to.
    """

    label: str
    rank: int = Field(ge=1)
    latency_ms: float = Field(ge=0)
    depends: str
    risk: str
    hours: float = Field(ge=0)
    per_metre_hours: float = Field(0.0, ge=0)
    monthly: float = Field(0.0, ge=0)
    wired: bool = True
    parts: tuple[WayPart, ...] = ()
    figures: dict[str, float] = {}
    source: str


class FailureInfo(Noun):
    """A kind of thing that may fail: what it is called, and what takes its single failure away."""

    label: str
    mend: str


class LabelScheme(Noun):
    """A scheme by which runs are labelled: its name, and the template that makes a label."""

    label: str
    template: str


class RackModel(Noun):
    """A rack: what fits in (height, depth behind the front rails), what it weighs and carries, its fixings apart."""

    label: str
    stands: Literal["wall", "floor", "shelf"]
    height_u: int
    wide_mm: float
    depth_mm: float
    weight_kg: float
    most_kg: float
    fixings_mm: float | None
    price: float | None
    source: str


class Part(Noun):
    """A small part and the pack it is sold in; `spare` is what is bought beside the need."""

    label: str
    price: float | None
    pack: int
    spare: Literal["none", "share", "bag"] = "none"
    source: str


class Consumable(Noun):
    """So many of a part for each of what a counter counts, or one for so many as a limit says."""

    part: str
    per: str
    count: float = Field(1.0, gt=0)
    share_limit: str | None = None
    why: str


class Hardship(Noun):
    """What makes some tasks take longer by a factor: `when` the model itself knows it, else where a person says so."""

    label: str
    when: Literal["height", "storey", "outdoors", "hard-wall"] | None = None
    over_m: float = 0.0
    factor: float = Field(gt=0)
    tasks: tuple[str, ...]


class TaskStep(Noun):
    """A step of the work, for each of what it is made for; see tasks.toml. It waits for every task of the steps `after`, and of
    the steps `same` for those about the same thing; its hours are those of the rows of `labour`.
    """

    name: str
    trade: Literal["all", "first fix", "rack", "termination", "mount", "network"]
    per: str
    after: tuple[str, ...] = ()
    same: tuple[str, ...] = ()
    labour: tuple[str, ...] = ()
    people: int = 1
    loud: bool = False
    text: str
    cautions: tuple[str, ...] = ()
    records: tuple[Literal["tick", "note", "photo", "length", "test", "serial", "value"], ...] = ()


class Caution(Noun):
    """What is minded where work can hurt someone, and who decides."""

    title: str
    text: str
    decides: str


class OptionInfo(Noun):
    """A way to buy a job, as it is put to the client."""

    label: str
    why: str


class Labour(Noun):
    """Hours per something."""

    label: str
    hours: float
    per: str
    source: str


class RuleInfo(Noun):
    """The standing data of a rule: stage, severity, title, why, source."""

    stage: str
    severity: Literal["fault", "warning", "advice"]
    title: str
    moot_by: tuple[str, ...] = ()
    why: str
    source: str


class SpaceWords(Noun):
    """What spaces of some names or kinds are for: their need, the floor one person takes (0: nobody stays), hours."""

    words: tuple[str, ...]
    kinds: tuple[str, ...] = ()
    homes: bool = False
    least_m2: float = 0
    need: str
    m2_per_person: float
    profile: str | None = None
    most_noise_db: float | None = None
    source: str


class Profile(Noun):
    """The share of a space's people that is there, by hour of the day, 24 values from midnight."""

    label: str
    site_kind: str | None = None
    space_kind: str | None = None
    share: tuple[float, ...]
    source: str


# What a network is for.
Purpose = Literal["main", "guest", "things", "cameras", "voice", "staff", "pupils", "payment", "management"]
Filtering = Literal["none", "harmful", "children"]
Security = Literal["wpa3", "transition", "wpa2", "open", "enterprise"]
# What asks for no passphrase of its own.
UNASKED: frozenset[Security] = frozenset({"open", "enterprise"})


class PurposeInfo(Noun):
    """What a network of a purpose begins with: numbers, whom it reaches while it is not isolated, its lease [h],
    addresses kept for fixed ones, the kind of its name on the air. `because` says why of each, by field.
    """

    label: str
    number: int
    role: int
    sites: tuple[str, ...]
    if_counted: bool = False
    isolated: bool = False
    isolates_clients: bool = False
    internet: bool = True
    reaches: tuple[Purpose, ...]
    fixed: int
    lease_h: float
    filtering: Filtering = "none"
    safe_search: bool = False
    name: str
    because: dict[str, str]


class NameKind(Noun):
    """What a name on the air of a kind begins with. `because` says why of each, by field."""

    security: Security
    bands: tuple[str, ...]
    dtim: int
    steering: bool = False
    assisted: bool = False
    isolates: bool = False
    because: dict[str, str]


StepWhere = Literal["before", "bench", "site", "after"]


class RunBookStep(Noun):
    """A step of the run book: where it is done, what its job must have, its words and why it comes then."""

    where: StepWhere
    only: str | None = None
    text: str
    why: str


class DeviceKind(Noun):
    """A kind of device in an inventory: how it is best carried, and what it asks of the air.

    `active_share` is how many of them are busy at once when their people are there; `model` is what stands for one on
    the plan, None for what moves or needs no cable.
    """

    label: str
    moves: bool
    high_rate: bool
    purpose: Purpose
    demand_kbps: float
    active_share: float
    model: str | None = None
    words: tuple[str, ...]
    advice: str
    source: str


class Question(Noun):
    """A question the client must answer before the plan is sure."""

    text: str
    why: str
    sites: tuple[str, ...] = ()
    services: tuple[str, ...] = ()


class Drop(Noun):
    """A place where a cable is often forgotten, and the device that usually hangs there."""

    label: str
    why: str
    sites: tuple[str, ...] = ()
    device: str | None = None


class Choice(Noun):
    """One answer to a question of house practice: the fields it sets."""

    label: str
    sets: dict[str, str | int | float | bool]


class PracticeQuestion(Noun):
    """Where good installers disagree: the choices, the default first, and why it is the default."""

    question: str
    stage: str
    why: str
    drives: str
    choices: tuple[Choice, ...]


class ImportWords(Noun):
    """Words in names of layers, blocks or materials that tell what they are."""

    words: tuple[str, ...]


class SheetWords(Noun):
    """Words in the title of a part of a drawing: the level it is of, or that a number beside tells it; else no plan."""

    words: tuple[str, ...]
    level: int | None = None
    counts: bool = False


class RoomNames(Noun):
    """Names of rooms as one tongue writes them."""

    names: tuple[str, ...]


class Mcs(Noun):
    """One modulation and coding scheme."""

    mcs: int
    bits: int
    coding: float
    snr_db: float


class Phy(Noun):
    """The physical layer of one generation."""

    symbol_us: float
    top_mcs: int
    carriers_20: int
    carriers_40: int | None
    carriers_80: int | None
    carriers_160: int | None
    carriers_320: int | None
    source: str

    def carriers(self, width_mhz: int) -> int | None:
        """Return the data subcarriers of a width, None when there is no such width."""
        return {
            20: self.carriers_20,
            40: self.carriers_40,
            80: self.carriers_80,
            160: self.carriers_160,
            320: self.carriers_320,
        }[width_mhz]


class AirLayer(Noun):
    """Something of the air the terrain can show."""

    label: str
    unit: str
    levels: tuple[float, ...]
    more_is_better: bool = True
