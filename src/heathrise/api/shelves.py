"""The library as the screens read it."""

from functools import cache
from typing import Any

from flask import Response

from heathrise.api.documented import group
from heathrise.api.jobs import answer
from heathrise.core.job.describing import KindShown, kinds_shown
from heathrise.core.library import (
    AirLayer,
    Bore,
    BuildUp,
    CableType,
    Client,
    Contents,
    CordColour,
    DeviceKind,
    Domain,
    LabelScheme,
    Need,
    PracticeQuestion,
    Profile,
    RackModel,
    SlabMaterial,
    Stage,
    StageTable,
    library,
)
from heathrise.core.library.equipment import EquipmentShown, PatternShown, shown
from heathrise.core.sums import Noun

blueprint = group("library", "/api")


class LibraryAnswer(Noun):
    """What a person chooses from."""

    stages: dict[str, Stage]
    tables: dict[str, StageTable]
    kinds: dict[str, KindShown]
    equipment: dict[str, EquipmentShown]
    patterns: dict[str, PatternShown]
    racks: dict[str, RackModel]
    cables: dict[str, CableType]
    labels: dict[str, LabelScheme]
    bores: dict[str, Bore]
    build_ups: dict[str, BuildUp]
    needs: dict[str, Need]
    contents: dict[str, Contents]
    layers: dict[str, AirLayer]
    clients: dict[str, Client]
    domains: dict[str, Domain]
    slab_materials: dict[str, SlabMaterial]
    profiles: dict[str, Profile]
    device_kinds: dict[str, DeviceKind]
    practice: dict[str, PracticeQuestion]
    cord_colours: dict[str, CordColour]


@cache
def _body() -> str:
    given = LibraryAnswer.model_fields.keys() - {"kinds", "equipment", "patterns"}
    shelves: dict[str, Any] = {name: dict(getattr(library(), name)) for name in given}
    equipment = {code: shown(model) for code, model in library().equipment.items()}
    patterns = {code: PatternShown(label=code.replace("-", " ")) for code in library().patterns}
    return LibraryAnswer.model_construct(
        **shelves, kinds=kinds_shown(), equipment=equipment, patterns=patterns
    ).model_dump_json()


@blueprint.get("/library", responses={200: LibraryAnswer})
def get() -> Response:
    """Return the library."""
    return answer(_body())
