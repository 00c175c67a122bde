"""Stage 2: drawing actions that need thought, and what a build-up costs by its layers."""

from flask import Response
from pydantic import Field

from heathrise.api.desk import opened
from heathrise.api.documented import answers_with, group
from heathrise.api.jobs import answer
from heathrise.api.shapes import JobPath
from heathrise.core.job import Layer
from heathrise.core.library import library, slab_losses_db
from heathrise.core.library.slab import loss_curve
from heathrise.core.site.actions import NotPossible
from heathrise.core.sums import Noun
from heathrise.work.asking import ShapeAsked

blueprint = group("plan", "/api")


class LayersRequest(Noun):
    """Layers of a build-up from one face to the other, and under which radio domain's rules."""

    domain: str
    layers: tuple[Layer, ...] = Field(min_length=1, max_length=20)


class LayersAnswer(Noun):
    """What the layers cost: at the bands, and from 1 to 7.5 GHz as (GHz, dB)."""

    losses_db: tuple[float, float, float]
    thickness_m: float
    curve: tuple[tuple[float, float], ...]
    source: str


@blueprint.post("/jobs/<job_id>/shape", responses=answers_with("work.answers.plan:ShapeAnswer"))
def shape_job(path: JobPath, body: ShapeAsked) -> Response:
    """Work a drawing action out; nothing is saved yet."""
    return opened(path.job_id, may="edit").ask("plan.shape", body)


@blueprint.post("/build-ups/loss", responses={200: LayersAnswer})
def layers(body: LayersRequest) -> Response:
    """Compute what layers cost the air."""
    unknown = [layer.material for layer in body.layers if layer.material not in library().slab_materials]
    if unknown:
        raise NotPossible(f"the library has no slab material named {unknown[0]}")
    stack = tuple((layer.material, layer.thickness_mm) for layer in body.layers)
    reply = LayersAnswer(
        losses_db=slab_losses_db(stack, body.domain),
        thickness_m=sum(mm for _, mm in stack) / 1000,
        curve=loss_curve(stack),
        source="ITU-R P.2040: layered slab, normal incidence",
    )
    return answer(reply.model_dump_json())
