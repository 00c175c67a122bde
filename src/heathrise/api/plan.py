"""Stage 2: drawing actions that need thought, and what a build-up costs by its layers."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import Field

from heathrise.api.desk import desk
from heathrise.api.jobs import answer
from heathrise.api.shapes import JobPath
from heathrise.core.edit import Operation
from heathrise.core.job import Layer
from heathrise.core.library import library, slab_losses_db
from heathrise.core.library.slab import loss_curve
from heathrise.core.site.shaping import Action, NotPossible, shape
from heathrise.core.sums import Noun, Sum
from heathrise.store.jobs import new_id

blueprint = APIBlueprint("plan", __name__, url_prefix="/api", abp_tags=[Tag(name="plan")])


class ShapeRequest(Noun):
    """A drawing action."""

    action: Action


class ShapeAnswer(Noun):
    """What the action would do; the person's browser sends it as an edit."""

    operations: tuple[Operation, ...]
    note: str
    sum: Sum | None


class LayersRequest(Noun):
    """Layers of a build-up from one face to the other."""

    layers: tuple[Layer, ...] = Field(min_length=1, max_length=20)


class LayersAnswer(Noun):
    """What the layers cost: at the bands, and from 1 to 7.5 GHz as (GHz, dB)."""

    losses_db: tuple[float, float, float]
    thickness_m: float
    curve: tuple[tuple[float, float], ...]
    source: str


@blueprint.post("/jobs/<job_id>/shape", responses={200: ShapeAnswer})
def shape_job(path: JobPath, body: ShapeRequest) -> Response:
    """Work a drawing action out; nothing is saved yet."""
    found = shape(desk().job(path.job_id).job, body.action, new_id)
    reply = ShapeAnswer.model_construct(operations=found.operations, note=found.note, sum=found.sum)
    return answer(reply.model_dump_json())


@blueprint.post("/build-ups/loss", responses={200: LayersAnswer})
def layers(body: LayersRequest) -> Response:
    """Compute what layers cost the air."""
    unknown = [layer.material for layer in body.layers if layer.material not in library().slab_materials]
    if unknown:
        raise NotPossible(f"the library has no slab material named {unknown[0]}")
    stack = tuple((layer.material, layer.thickness_mm) for layer in body.layers)
    reply = LayersAnswer(
        losses_db=slab_losses_db(stack),
        thickness_m=sum(mm for _, mm in stack) / 1000,
        curve=loss_curve(stack),
        source="ITU-R P.2040: layered slab, normal incidence",
    )
    return answer(reply.model_dump_json())
