"""The library as the screens read it."""

from functools import cache

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from heathrise.api.jobs import answer
from heathrise.core.library import (
    AccessPointModel,
    AirLayer,
    Bore,
    BuildUp,
    CableType,
    Client,
    Contents,
    DeviceKind,
    DeviceModel,
    Domain,
    Injector,
    Need,
    PracticeQuestion,
    Profile,
    RackModel,
    SlabMaterial,
    SwitchModel,
    library,
)
from heathrise.core.sums import Noun

blueprint = APIBlueprint("library", __name__, url_prefix="/api", abp_tags=[Tag(name="library")])


class LibraryAnswer(Noun):
    """What a person chooses from."""

    access_points: dict[str, AccessPointModel]
    switches: dict[str, SwitchModel]
    devices: dict[str, DeviceModel]
    injectors: dict[str, Injector]
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


@cache
def _body() -> str:
    shelves = {name: dict(getattr(library(), name)) for name in LibraryAnswer.model_fields}
    return LibraryAnswer.model_validate(shelves).model_dump_json()


@blueprint.get("/library", responses={200: LibraryAnswer})
def get() -> Response:
    """Return the library."""
    return answer(_body())
