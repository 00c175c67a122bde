"""Drawing actions that need thought."""

from heathrise.core.edit import Operation
from heathrise.core.site.shaping import shape
from heathrise.core.sums import Noun, Sum
from heathrise.store.jobs import new_id
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import ShapeAsked
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
