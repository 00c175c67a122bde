"""What next: the steps this job still wants, in the order of the work.

A new step is a table in next.toml; what no finding asks for has a function of its name here.
"""

from collections.abc import Callable
from typing import Any, Literal

from heathrise.core.deriving import Look
from heathrise.core.findings.verdicts import judged
from heathrise.core.job import (
    AccessPoint,
    Job,
    Network,
    Space,
    Underlay,
    Wall,
)
from heathrise.core.job.view import job_of
from heathrise.core.library import library
from heathrise.core.rule import Finding
from heathrise.core.sums import Noun


class NextStep(Noun):
    """One step: what to do and where. `findings` are the keys of those it is about, in the order to take them."""

    code: str
    text: str
    stage: str
    shape: Literal["find-spaces"] | None = None
    tool: str | None = None
    panel: str | None = None
    findings: tuple[str, ...] = ()


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
def spaces(job: Job, _: tuple[Finding, ...]) -> bool:
    """There are walls, and no space."""
    return not job.of(Space)


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
def networks(job: Job, _: tuple[Finding, ...]) -> bool:
    """There is no network."""
    return not job.of(Network)


@step
def faults(_: Job, findings: tuple[Finding, ...]) -> bool:
    """A fault is open."""
    return any(_is_open(one) for one in findings)


@step
def order(_: Job, __: tuple[Finding, ...]) -> bool:
    """Nothing else is left."""
    return True


def _is_open(finding: Finding) -> bool:
    return finding.severity == "fault" and finding.accepted is None


def next_steps(look: Look) -> tuple[NextStep, ...]:
    """Return the steps the job still wants; a person who cannot take the first now takes the one after."""
    job, findings = job_of(look), judged(look)
    said = {one.rule for one in findings if one.accepted is None}
    steps = library().next_steps.items()
    codes = (c for c, row in steps if row.while_open in said or (c in STEPS and STEPS[c](job, findings)))
    return tuple(_worded(code, findings) for code in codes)


def _worded(code: str, findings: tuple[Finding, ...]) -> NextStep:
    body: dict[str, Any] = library().next_steps[code].model_dump(exclude={"while_open"})
    if code != "faults":
        return NextStep(code=code, **body)
    # What one press may mend comes first: a fault that wants a person's thought holds up no other.
    faults = sorted((one for one in findings if _is_open(one)), key=lambda one: not one.fixes)
    count = f"{len(faults)} faults" if len(faults) > 1 else "one fault"
    body |= {"text": f"Mend {count}", "stage": faults[0].stage}
    return NextStep(code=code, **body, findings=tuple(one.key for one in faults))
