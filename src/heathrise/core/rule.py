"""What a rule is and what a finding is. Each package keeps its own `rules.py`; see `findings`.

A rule is a generator function marked with `@rule("stage.name")`. It names the facts it looks at
by its parameters (`job`, `building`, `air`, `runs`, ...), and yields `Found`. Marked
`@rule("stage.name", per="run")` its first parameter is one run, and its verdict is kept run by run. Its
standing data (stage, severity, title, why, source) is a table in the library's rules.toml.
"""

import inspect
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from heathrise.core.edit import Operation
from heathrise.core.job import Point
from heathrise.core.library import library
from heathrise.core.library.items import RuleInfo
from heathrise.core.sums import Noun, Sum

Severity = Literal["fault", "warning", "advice"]


class Place(Noun):
    """Where on the sheet."""

    storey_id: str
    at: Point


class Fix(Noun):
    """What one press can do about it."""

    label: str
    operations: tuple[Operation, ...]


class Observation(Noun):
    """What a rule saw, before its standing data is joined to it."""

    subject_ids: tuple[str, ...]
    subject: str
    text: str
    advice: str
    value: float | None = None
    limit: float | None = None
    unit: str = ""
    place: Place | None = None
    fixes: tuple[Fix, ...] = ()
    severity: Severity | None = None
    sum: Sum | None = None


class Finding(Noun):
    """A finding as it is shown: what, how much, where, why, and what to do.

    `text` and `advice` hold marked quantities, see `units.quantity`.
    """

    key: str
    rule: str
    stage: str
    severity: Severity
    title: str
    subject: str
    subject_ids: tuple[str, ...]
    text: str
    advice: str
    why: str
    source: str
    value: float | None
    limit: float | None
    unit: str
    place: Place | None
    fixes: tuple[Fix, ...]
    sum: Sum | None
    accepted: str | None = None


RuleFunction = Callable[..., Iterable[Observation]]


@dataclass(frozen=True)
class Rule:
    """A rule's code with its id, what it judges one by one, and the names of the facts it looks at."""

    id: str
    check: RuleFunction
    per: str
    looks_at: tuple[str, ...]

    def findings(self, facts: Mapping[str, Any]) -> Iterator[Finding]:
        """Run the rule on the facts and join its standing data to what it yields."""
        for found in self.check(**{name: facts[name] for name in self.looks_at}):
            yield finding_of(self.id, found)


def finding_of(rule_id: str, found: Observation) -> Finding:
    """Return what a rule saw with the rule's standing data."""
    return finding_from(rule_id, library().rules[rule_id], found)


def finding_from(code: str, info: RuleInfo, found: Observation) -> Finding:
    """Return what was seen with standing data of any shelf."""
    body = {name: getattr(found, name) for name in Observation.model_fields}
    body["severity"] = found.severity or info.severity
    return Finding(
        key=":".join((code, *found.subject_ids)),
        rule=code,
        stage=info.stage,
        title=info.title,
        why=info.why,
        source=info.source,
        **body,
    )


def rule(rule_id: str, per: str = "job") -> Callable[[RuleFunction], RuleFunction]:
    """Mark a function as the code of a rule. The registry finds marked functions by module."""

    def mark(check: RuleFunction) -> RuleFunction:
        looks_at = tuple(inspect.signature(check).parameters)
        check.rule = Rule(rule_id, check, per, looks_at)  # type: ignore[attr-defined]
        return check

    return mark
