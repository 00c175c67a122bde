"""The demo school with something wrong in its rack, for tests that mend it."""

from demo.tern_lane import tern_lane

from heathrise.core.edit import Operation, Put, apply
from heathrise.core.job import Job, Link, OwnModel, derived_id
from tests.house import by_label


def badly_patched() -> Job:
    """Hall east, of class 5, is on a port of class 4: two patches were changed over."""
    job = tern_lane()
    one, other = (next(run for run in job.of(Link) if run.label == label) for label in ("R-02", "R-03"))
    trade: list[Operation] = [
        Put(element=one.model_copy(update={"a": other.a})),
        Put(element=other.model_copy(update={"a": one.a})),
    ]
    return apply(job, trade).job


def starved(budget_w: float = 100) -> Job:
    """The second switch has a budget of its own that its devices ask too much of."""
    job = tern_lane()
    switch = by_label(job, "SW2")
    model = job.equipment[switch.model].model_copy(update={"budget_w": budget_w})
    own = OwnModel(id=derived_id(switch.id, "own"), label="Old supply", code=switch.model, model=model)
    return apply(job, [Put(element=own)]).job
