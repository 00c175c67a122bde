"""What a change would mean, before it is made: findings, cost, hours and runs, before and after."""

from collections import Counter

from heathrise.core.findings.assess import Assessment, assess
from heathrise.core.job import Job
from heathrise.core.rule import Finding
from heathrise.core.sums import Noun


class Figures(Noun):
    """What is compared."""

    faults: int
    warnings: int
    advice: int
    cost: float
    hours: float
    runs: int
    run_m: float
    spaces_met: int


class Turned(Noun):
    """A finding that comes or goes."""

    key: str
    severity: str
    title: str
    subject: str


class Comparison(Noun):
    """Before and after a change, with the findings that come and go."""

    before: Figures
    after: Figures
    comes: tuple[Turned, ...]
    goes: tuple[Turned, ...]
    currency: str


def figures(found: Assessment) -> Figures:
    """Return the figures of an assessment; accepted findings are not counted."""
    counts = Counter(finding.severity for finding in found.findings if finding.accepted is None)
    return Figures(
        faults=counts["fault"],
        warnings=counts["warning"],
        advice=counts["advice"],
        cost=found.cost_sum.value,
        hours=found.hours_sum.value,
        runs=len(found.runs),
        run_m=round(sum(run.length_m for run in found.runs), 1),
        spaces_met=sum(space.holds for space in found.spaces),
    )


def what_if(before: Assessment, after: Job) -> Comparison:
    """Return what becomes of an assessed job when it changes."""
    then = assess(after)
    return Comparison(
        before=figures(before),
        after=figures(then),
        comes=_only_in(then, before),
        goes=_only_in(before, then),
        currency=after.practice.currency,
    )


def _only_in(one: Assessment, other: Assessment) -> tuple[Turned, ...]:
    known = {finding.key for finding in other.findings}
    return tuple(turned(finding) for finding in one.findings if finding.key not in known)


def turned(finding: Finding) -> Turned:
    """Return a finding as it is named when it comes or goes."""
    return Turned(key=finding.key, severity=finding.severity, title=finding.title, subject=finding.subject)
