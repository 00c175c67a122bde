"""Drawing actions that need thought, and drawings as files."""

from collections.abc import Callable

from heathrise.core.edit import Operation
from heathrise.core.job import Job
from heathrise.core.site.actions import NotPossible
from heathrise.core.site.shaping import shape
from heathrise.core.sums import Noun, Sum
from heathrise.exchange.geojson import write_geojson
from heathrise.exchange.named import named_file
from heathrise.exchange.plans import write_dxf, write_png, write_svg
from heathrise.store.jobs import new_id
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import PlanFileAsked, ShapeAsked
from heathrise.work.open_job import OpenJob


class ShapeAnswer(Noun):
    """What the action would do; the person's browser sends it as an edit."""

    operations: tuple[Operation, ...]
    note: str
    sum: Sum | None


@answers("plan.shape", ShapeAsked)
def shaped(opened: OpenJob, asked: ShapeAsked) -> Answer:
    """Work a drawing action out; nothing is saved yet."""
    kept = opened.newest()
    found = shape(kept.job, asked.action, new_id)
    reply = ShapeAnswer.model_construct(operations=found.operations, note=found.note, sum=found.sum)
    return in_json(reply, kept.revision)


_WRITERS: dict[str, Callable[[Job, str], str | bytes]] = {
    "dxf": write_dxf,
    "svg": write_svg,
    "geojson": write_geojson,
    "png": write_png,
}
_KINDS = {
    "dxf": "image/vnd.dxf; charset=utf-8",
    "svg": "image/svg+xml; charset=utf-8",
    "geojson": "application/geo+json; charset=utf-8",
    "png": "image/png",
}


@answers("export.plan", PlanFileAsked)
def plan_file(opened: OpenJob, asked: PlanFileAsked) -> Answer:
    """A storey's drawing as DXF, SVG, GeoJSON or PNG."""
    kept = opened.newest()
    if asked.storey_id not in {storey.id for storey in kept.job.storeys}:
        raise NotPossible("the job has no such storey; it may have been removed")
    body = _WRITERS[asked.ending](kept.job, asked.storey_id)
    whole = body if isinstance(body, bytes) else body.encode()
    return Answer(whole, kept.revision, _KINDS[asked.ending], named_file(kept.job.name, asked.ending))
