"""What next: the first step in the order of the work that this job still wants.

A new step is a table in next.toml and a function of its name here.
"""

from collections.abc import Callable
from typing import Any

from heathrise.core.cabling.defaults import lacking_runs
from heathrise.core.cabling.ends import runs_of
from heathrise.core.deriving import Look
from heathrise.core.findings.verdicts import judged
from heathrise.core.job import (
    AccessPoint,
    Job,
    Network,
    Rack,
    ServiceEntry,
    Space,
    Underlay,
    Wall,
)
from heathrise.core.job.view import job_of
from heathrise.core.library import library
from heathrise.core.rule import Finding
from heathrise.core.sums import Noun
from heathrise.core.switching.ports import switches_in


class NextStep(Noun):
    """One step: what to do and where. `finding` is the key of the finding it is about, if any."""

    code: str
    text: str
    stage: str
    tool: str | None = None
    panel: str | None = None
    finding: str | None = None


Wants = Callable[[Job, tuple[Finding, ...]], bool]
STEPS: dict[str, Wants] = {}


def step(wants: Wants) -> Wants:
    """Register a condition by its name."""
    STEPS[wants.__name__] = wants
    return wants


@step
def draw(job: Job, _: tuple[Finding, ...]) -> bool:
    """Nothing is drawn and nothing lies under the sheet."""
    return not job.of(Wall) and not job.of(Underlay)


@step
def scale(job: Job, _: tuple[Finding, ...]) -> bool:
    """A picture lies under the sheet and has no scale."""
    return any(picture.metres_per_px is None for picture in job.of(Underlay))


@step
def spaces(job: Job, _: tuple[Finding, ...]) -> bool:
    """There are walls, and no space."""
    return not job.of(Space)


@step
def entry(job: Job, _: tuple[Finding, ...]) -> bool:
    """Nobody said where the service enters."""
    return not job.of(ServiceEntry)


@step
def rack(job: Job, _: tuple[Finding, ...]) -> bool:
    """There is no rack."""
    return not job.of(Rack)


@step
def needs(job: Job, _: tuple[Finding, ...]) -> bool:
    """All spaces still have the need they were made with, and nobody is in any."""
    fresh = Space.model_fields["need"].default
    return all(space.need == fresh and not space.people for space in job.of(Space))


@step
def points(job: Job, _: tuple[Finding, ...]) -> bool:
    """There is no access point."""
    return not job.of(AccessPoint)


@step
def runs(job: Job, _: tuple[Finding, ...]) -> bool:
    """Something that wants a cable has none."""
    served = {run.b.on for run in runs_of(job)}
    return any(thing.id not in served for thing, _lacks in lacking_runs(job))


@step
def switch(job: Job, _: tuple[Finding, ...]) -> bool:
    """Runs end in a rack without a switch."""
    ends = {job.rack_of(run.a.on) for run in runs_of(job)}
    return any(rack.id in ends and not switches_in(job, rack.id) for rack in job.of(Rack))


@step
def networks(job: Job, _: tuple[Finding, ...]) -> bool:
    """There is no network."""
    return not job.of(Network)


@step
def faults(_: Job, findings: tuple[Finding, ...]) -> bool:
    """A fault is open."""
    return any(_is_open(one) for one in findings)


@step
def questions(job: Job, _: tuple[Finding, ...]) -> bool:
    """Questions to the client are open."""
    return len(job.brief.answers) < len(library().questions)


@step
def order(_: Job, __: tuple[Finding, ...]) -> bool:
    """Nothing else is left."""
    return True


def _is_open(finding: Finding) -> bool:
    return finding.severity == "fault" and finding.accepted is None


def next_step(look: Look) -> NextStep:
    """Return the first step the job still wants."""
    job, findings = job_of(look), judged(look)
    code = next(code for code in library().next_steps if STEPS[code](job, findings))
    return _worded(code, findings)


def _worded(code: str, findings: tuple[Finding, ...]) -> NextStep:
    body: dict[str, Any] = library().next_steps[code].model_dump()
    if code != "faults":
        return NextStep(code=code, **body)
    worst = [one for one in findings if _is_open(one)]
    count = f"{len(worst)} faults, first" if len(worst) > 1 else "one fault"
    text = f"Mend {count}: {worst[0].title.lower()}"
    return NextStep(code=code, **{**body, "text": text, "stage": worst[0].stage}, finding=worst[0].key)
