"""The library as the screens read it."""

from functools import cache
from typing import Any

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from heathrise.api.jobs import answer
from heathrise.core.job.describing import KindShown, kinds_shown
from heathrise.core.library import (
    AirLayer,
    Bore,
    BuildUp,
    CableType,
    Client,
    Contents,
    DeviceKind,
    Domain,
    EquipmentModel,
    Need,
    PracticeQuestion,
    Profile,
    RackModel,
    SlabMaterial,
    Stage,
    StageTable,
    library,
)
from heathrise.core.sums import Noun

blueprint = APIBlueprint("library", __name__, url_prefix="/api", abp_tags=[Tag(name="library")])


class EquipmentShown(EquipmentModel):
    """A model with what it can do, so that screens choose by that."""

    can: tuple[str, ...]


class LibraryAnswer(Noun):
    """What a person chooses from."""

    stages: dict[str, Stage]
    tables: dict[str, StageTable]
    kinds: dict[str, KindShown]
    equipment: dict[str, EquipmentShown]
    racks: dict[str, RackModel]
    cables: dict[str, CableType]
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


_CAN = ("radiates", "joins", "feeds_through", "hangs")


def shown(model: EquipmentModel) -> EquipmentShown:
    """Return a model with what it can do."""
    can = tuple(name for name in _CAN if getattr(model, name))
    return EquipmentShown.model_construct(
        **{name: getattr(model, name) for name in type(model).model_fields}, can=can
    )


@cache
def _body() -> str:
    given = {name for name in LibraryAnswer.model_fields if name not in ("kinds", "equipment")}
    shelves: dict[str, Any] = {name: dict(getattr(library(), name)) for name in given}
    equipment = {code: shown(model) for code, model in library().equipment.items()}
    return LibraryAnswer.model_construct(
        **shelves, kinds=kinds_shown(), equipment=equipment
    ).model_dump_json()


@blueprint.get("/library", responses={200: LibraryAnswer})
def get() -> Response:
    """Return the library."""
    return answer(_body())
