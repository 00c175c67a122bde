"""Reads the data files into the library's nouns, once per process.

The files ship inside the package; this is the one place of the core that opens any.
"""

import csv
import tomllib
from collections.abc import Mapping
from functools import cache
from importlib import resources
from importlib.resources.abc import Traversable
from typing import Any, TypeVar

from pydantic import TypeAdapter

from heathrise.core.library import items
from heathrise.core.library.equipment import EquipmentModel
from heathrise.core.library.shown import NextStepInfo, Stage, StageTable
from heathrise.core.sums import Noun

T = TypeVar("T", bound=Noun)


class UnknownItem(KeyError):
    """The library has no item of that id; the message names both."""

    def __str__(self) -> str:
        return str(self.args[0])


class Shelf(dict[str, T]):
    """Items of one kind by id; a missing id raises UnknownItem in words."""

    def __init__(self, what: str, entries: Mapping[str, T]):
        super().__init__(entries)
        self.what = what

    def __missing__(self, key: str) -> T:
        raise UnknownItem(f"the library has no {self.what} named {key}")


class Library(Noun):
    """Everything on the shelves."""

    equipment: dict[str, EquipmentModel]
    racks: dict[str, items.RackModel]
    ways: dict[str, items.WayInfo]
    purposes: dict[str, items.PurposeInfo]
    name_kinds: dict[str, items.NameKind]
    run_book: dict[str, items.RunBookStep]
    labels: dict[str, items.LabelScheme]
    failures: dict[str, items.FailureInfo]
    categories: dict[str, items.Category]
    cables: dict[str, items.CableType]
    bores: dict[str, items.Bore]
    cords: dict[str, items.Cord]
    patch_cords: dict[str, items.PatchCord]
    cord_colours: dict[str, items.CordColour]
    load_cases: dict[str, items.LoadCase]
    battery_shares: tuple[tuple[float, float], ...]
    build_ups: dict[str, items.BuildUp]
    needs: dict[str, items.Need]
    contents: dict[str, items.Contents]
    clients: dict[str, items.Client]
    parts: dict[str, items.Part]
    consumables: dict[str, items.Consumable]
    tasks: dict[str, items.TaskStep]
    cautions: dict[str, items.Caution]
    hardships: dict[str, items.Hardship]
    options: dict[str, items.OptionInfo]
    labour: dict[str, items.Labour]
    domains: dict[str, items.Domain]
    slab_materials: dict[str, items.SlabMaterial]
    test_classes: dict[str, items.TestClass]
    test_configurations: dict[str, items.TestConfiguration]
    wire_faults: dict[str, items.WireFault]
    when: dict[str, items.WhenInfo]
    phys: dict[str, items.Phy]
    layers: dict[str, items.AirLayer]
    mcs: tuple[items.Mcs, ...]
    poe_classes: tuple[items.PoeClass, ...]
    speeds: tuple[items.Speed, ...]
    conductors_ohm_per_100m: dict[int, float]
    bundle_rise: tuple[tuple[float, int, float], ...]
    patterns: dict[str, tuple[tuple[float, float], ...]]
    limits: dict[str, items.Limit]
    stages: dict[str, Stage]
    next_steps: dict[str, NextStepInfo]
    tables: dict[str, StageTable]
    rules: dict[str, items.RuleInfo]
    watches: dict[str, items.RuleInfo]
    profiles: dict[str, items.Profile]
    space_words: dict[str, items.SpaceWords]
    device_kinds: dict[str, items.DeviceKind]
    questions: dict[str, items.Question]
    drops: dict[str, items.Drop]
    practice: dict[str, items.PracticeQuestion]
    layer_words: dict[str, items.ImportWords]
    sheet_words: dict[str, items.SheetWords]
    room_names: dict[str, items.RoomNames]
    list_words: dict[str, items.ImportWords]
    material_words: dict[str, items.ImportWords]

    def poe_class(self, number: int) -> items.PoeClass:
        """Return one PoE class. Raises UnknownItem."""
        for row in self.poe_classes:
            if row.poe_class == number:
                return row
        raise UnknownItem(f"there is no PoE class {number}")


def _data() -> Traversable:
    return resources.files("heathrise.core.library") / "data"


def _rows(name: str) -> list[dict[str, str]]:
    text = (_data() / name).read_text("utf-8")
    return list(csv.DictReader(line for line in text.splitlines() if not line.startswith("#")))


def _tables(name: str) -> dict[str, Any]:
    return tomllib.loads((_data() / name).read_text("utf-8"))


def _clean(row: Mapping[str, str]) -> dict[str, Any]:
    words: dict[str, Any] = {"yes": True, "no": False, "": None}
    return {key: words.get(value, value) for key, value in row.items() if key != "id"}


def _shelf(what: str, cls: type[T], rows: Mapping[str, Any]) -> Shelf[T]:
    adapter = TypeAdapter(cls)
    return Shelf(what, {key: adapter.validate_python(row) for key, row in rows.items()})


def _csv_shelf(what: str, cls: type[T], name: str) -> Shelf[T]:
    return _shelf(what, cls, {row["id"]: _clean(row) for row in _rows(name)})


def _equipment() -> Shelf[EquipmentModel]:
    """Return every model of every file, in the order of the files' names and of their tables."""
    files = sorted(entry.name for entry in (_data() / "equipment").iterdir() if entry.name.endswith(".toml"))
    tables = {code: body for name in files for code, body in _tables(f"equipment/{name}").items()}
    return _shelf("equipment", EquipmentModel, tables)


def _cables() -> Shelf[items.CableType]:
    rows = {row["id"]: _clean(row) for row in _rows("cables.csv")}
    known = {row["id"] for row in _rows("categories.csv")}
    for code, row in rows.items():
        row["environments"] = frozenset(str(row["environments"]).split())
        if row["category"] not in known:
            raise UnknownItem(
                f"cables.csv: {code} is of category {row['category']}, which categories.csv lacks"
            )
    return _shelf("cable", items.CableType, rows)


def _build_ups() -> Shelf[items.BuildUp]:
    rows = {row["id"]: _clean(row) for row in _rows("build_ups.csv")}
    for row in rows.values():
        parts = [part.split(":") for part in str(row["layers"] or "").split()]
        row["layers"] = tuple((material, float(mm)) for material, mm in parts)
    return _shelf("build-up", items.BuildUp, rows)


def _device_kinds() -> Shelf[items.DeviceKind]:
    rows = {row["id"]: _clean(row) for row in _rows("device_kinds.csv")}
    for row in rows.values():
        row["words"] = tuple(str(row["words"] or "").split())
    return _shelf("kind of device", items.DeviceKind, rows)


def _speeds() -> tuple[items.Speed, ...]:
    return tuple(
        items.Speed.model_validate(_clean(row) | {"note": row["note"]}) for row in _rows("speeds.csv")
    )


def _limits() -> dict[str, items.Limit]:
    return {
        f"{group}.{name}": items.Limit.model_validate(body)
        for group, entries in _tables("limits.toml").items()
        for name, body in entries.items()
    }


def _patterns() -> dict[str, tuple[tuple[float, float], ...]]:
    found = {}
    for entry in (_data() / "antennas").iterdir():
        if entry.name.endswith(".csv"):
            rows = _rows(f"antennas/{entry.name}")
            cut = tuple((float(r["angle_deg"]), float(r["relative_db"])) for r in rows)
            found[entry.name.removesuffix(".csv")] = cut
    return found


@cache
def library() -> Library:
    """Return the library that ships with the application."""
    # Built, not validated: every item is validated above, and the shelves keep their own errors.
    return Library.model_construct(
        equipment=_equipment(),
        racks=_csv_shelf("rack", items.RackModel, "racks.csv"),
        ways=_shelf("way", items.WayInfo, _tables("ways.toml")),
        purposes=_shelf("purpose of networks", items.PurposeInfo, _tables("purposes.toml")),
        run_book=_shelf("step of the run book", items.RunBookStep, _tables("run_book.toml")),
        name_kinds=_shelf("kind of name", items.NameKind, _tables("name_kinds.toml")),
        failures=_shelf("failure", items.FailureInfo, _tables("failures.toml")),
        labels=_shelf("scheme of labels", items.LabelScheme, _tables("labels.toml")),
        categories=_csv_shelf("category", items.Category, "categories.csv"),
        cables=_cables(),
        bores=_csv_shelf("conduit", items.Bore, "bores.csv"),
        cords=_csv_shelf("gauge of cords", items.Cord, "cords.csv"),
        patch_cords=_csv_shelf("patch cord", items.PatchCord, "patch_cords.csv"),
        cord_colours=_csv_shelf("colour of cords", items.CordColour, "cord_colours.csv"),
        load_cases=_shelf("case of load", items.LoadCase, _tables("load_cases.toml")),
        battery_shares=tuple((float(r["hours"]), float(r["share"])) for r in _rows("battery_shares.csv")),
        build_ups=_build_ups(),
        needs=_csv_shelf("need", items.Need, "needs.csv"),
        contents=_csv_shelf("contents of a space", items.Contents, "contents.csv"),
        clients=_csv_shelf("client class", items.Client, "clients.csv"),
        parts=_csv_shelf("part", items.Part, "parts.csv"),
        tasks=_shelf("task", items.TaskStep, _tables("tasks.toml")),
        cautions=_shelf("caution", items.Caution, _tables("cautions.toml")),
        consumables=_shelf("consumable", items.Consumable, _tables("consumables.toml")),
        hardships=_shelf("hardship", items.Hardship, _tables("hardships.toml")),
        options=_shelf("option", items.OptionInfo, _tables("options.toml")),
        labour=_csv_shelf("labour row", items.Labour, "labour.csv"),
        domains=_shelf("radio domain", items.Domain, _tables("domains.toml")),
        slab_materials=_csv_shelf("slab material", items.SlabMaterial, "slab_materials.csv"),
        test_classes=_shelf("test class", items.TestClass, _tables("test_classes.toml")),
        test_configurations=_shelf(
            "configuration of a test", items.TestConfiguration, _tables("test_configurations.toml")
        ),
        when=_shelf("case", items.WhenInfo, _tables("when.toml")),
        wire_faults=_shelf("fault of a cable", items.WireFault, _tables("wire_faults.toml")),
        phys=_csv_shelf("generation", items.Phy, "phys.csv"),
        layers=_shelf("layer of the air", items.AirLayer, _tables("layers.toml")),
        mcs=tuple(items.Mcs.model_validate(_clean(row)) for row in _rows("mcs.csv")),
        poe_classes=tuple(items.PoeClass.model_validate(_clean(row)) for row in _rows("poe_classes.csv")),
        speeds=_speeds(),
        conductors_ohm_per_100m={
            int(row["awg"]): float(row["conductor_ohm_per_100m"]) for row in _rows("conductors.csv")
        },
        bundle_rise=tuple(
            (float(r["max_source_w"]), int(r["max_bundle"]), float(r["rise_c"]))
            for r in _rows("bundle_rise.csv")
        ),
        patterns=_patterns(),
        limits=_limits(),
        stages=_shelf("stage", Stage, _tables("stages.toml")),
        next_steps=_shelf("step", NextStepInfo, _tables("next.toml")),
        tables=_shelf("table", StageTable, _tables("tables.toml")),
        rules=_shelf("rule", items.RuleInfo, _tables("rules.toml")),
        watches=_shelf("watch", items.RuleInfo, _tables("watches.toml")),
        profiles=_shelf("profile", items.Profile, _tables("profiles.toml")),
        space_words=_shelf("words of spaces", items.SpaceWords, _tables("space_words.toml")),
        device_kinds=_device_kinds(),
        questions=_shelf("question", items.Question, _tables("questions.toml")),
        drops=_shelf("forgotten drop", items.Drop, _tables("drops.toml")),
        practice=_shelf("question of practice", items.PracticeQuestion, _tables("practice.toml")),
        sheet_words=_shelf("words of titles", items.SheetWords, _tables("sheet_words.toml")),
        room_names=_shelf("names of rooms", items.RoomNames, _tables("room_names.toml")),
        list_words=_shelf("words of lists", items.ImportWords, _tables("list_words.toml")),
        layer_words=_shelf("meaning of a layer", items.ImportWords, _tables("layer_words.toml")),
        material_words=_shelf("material", items.ImportWords, _tables("material_words.toml")),
    )


def limit(name: str) -> float:
    """Return a limit's value by its name in limits.toml. Raises KeyError."""
    return library().limits[name].value
