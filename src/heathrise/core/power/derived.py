"""Power over every run, derived one by one."""

from heathrise.core.cabling.derived import run_ids, run_plan, spares
from heathrise.core.cabling.ends import feeds_on, runs_of
from heathrise.core.deriving import Look, derived, gathered
from heathrise.core.job.view import job_of
from heathrise.core.power.feeds import FeedPlan, Feeds, plan_feed


@derived
def feed_plan(look: Look, run_id: str) -> FeedPlan | None:
    """Power over one run; None when nothing at its end asks for any."""
    plan = run_plan(look, run_id)
    passes = (*(box.box_id for box in plan.boxes), plan.to_id)
    beside = {thing_id: branch_w(look, thing_id) for thing_id in passes}
    return plan_feed(job_of(look), plan, injected(look), beside)


@derived
def injected(look: Look) -> frozenset[str]:
    """The runs with a feed of their own on the way."""
    return frozenset(feeds_on(job_of(look)))


@derived
def branches(look: Look) -> dict[str, tuple[str, ...]]:
    """The runs that begin at what lives on a cable itself and passes power on, by its id."""
    job = job_of(look)
    found: dict[str, list[str]] = {}
    for run in runs_of(job):
        model = job.model_of(run.a.on)
        if model is not None and model.takes_class and model.gives_class and job.rack_of(run.a.on) is None:
            found.setdefault(run.a.on, []).append(run.id)
    return {thing_id: tuple(run_ids) for thing_id, run_ids in found.items()}


@derived
def branch_w(look: Look, thing_id: str) -> float:
    """What something passes on at its own ports. [W]"""
    plans = (feed_plan(look, run_id) for run_id in branches(look).get(thing_id, ()))
    return sum(plan.max_source_w or 0.0 for plan in plans if plan is not None)


@derived
def feeds(look: Look) -> Feeds:
    """Power over every run. A run that has no plan has no feed; that is said once, of the run."""
    spare = spares(look)
    plans, _ = gathered(look, feed_plan, (i for i in run_ids(look) if i not in spare))
    return Feeds(tuple(plan for plan in plans if plan is not None))
