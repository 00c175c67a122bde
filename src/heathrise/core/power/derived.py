"""Power over every run, derived one by one."""

from heathrise.core.cabling.derived import run_ids, run_plan, spares
from heathrise.core.deriving import Look, derived, gathered
from heathrise.core.job.view import job_of
from heathrise.core.power.feeds import FeedPlan, Feeds, plan_feed


@derived
def feed_plan(look: Look, run_id: str) -> FeedPlan | None:
    """Power over one run; None when nothing at its end asks for any."""
    return plan_feed(job_of(look), run_plan(look, run_id))


@derived
def feeds(look: Look) -> Feeds:
    """Power over every run. A run that has no plan has no feed; that is said once, of the run."""
    spare = spares(look)
    plans, _ = gathered(look, feed_plan, (i for i in run_ids(look) if i not in spare))
    return Feeds(tuple(plan for plan in plans if plan is not None))
