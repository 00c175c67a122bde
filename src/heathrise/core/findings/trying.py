"""Remedies tried on the job before they are offered: what each cures, and what it would bring."""

from heathrise.core.deriving import Memo
from heathrise.core.edit import EditError, Operation, apply
from heathrise.core.findings.slices import SLICES
from heathrise.core.findings.verdicts import judged
from heathrise.core.findings.whatif import Turned, turned
from heathrise.core.job import Job
from heathrise.core.job.view import changed_keys
from heathrise.core.rule import Finding, Fix
from heathrise.core.sums import Noun


class Tried(Noun):
    """One remedy of a finding: whether the finding is gone with it, the faults it brings, or why it cannot be."""

    label: str
    cures: bool
    brings: tuple[Turned, ...] = ()
    refused: str = ""

    @property
    def holds(self) -> bool:
        """Whether it may be offered: it cures, and leaves no new fault."""
        return self.cures and not self.brings and not self.refused


def tried(memo: Memo, key: str) -> tuple[Tried, ...]:
    """Return what becomes of a finding with each of its remedies, in their order; none for one that is gone.

    Costs what the edits themselves would: what they leave alone is not worked out anew.
    """
    before = judged(memo.look)
    finding = next((one for one in before if one.key == key), None)
    known = {one.key for one in before}
    return tuple(_try(memo, finding, fix, known) for fix in finding.fixes) if finding else ()


def _try(memo: Memo, finding: Finding, fix: Fix, known: set[str]) -> Tried:
    job: Job = memo.source
    try:
        after = apply(job, fix.operations).job
    except EditError as error:
        return Tried(label=fix.label, cures=False, refused=str(error))
    with memo.tried(after, changed_keys(job, after, SLICES)) as look:
        then = judged(look)
    brings = (one for one in then if one.severity == "fault" and one.key not in known)
    cures = all(one.key != finding.key for one in then)
    return Tried(label=fix.label, cures=cures, brings=tuple(map(turned, brings)))


class Mended(Noun):
    """What mends all findings of a rule that can be mended by one press each: as one edit."""

    operations: tuple[Operation, ...]
    mended: int
    left: int
    brings: tuple[Turned, ...] = ()


def mended_all(memo: Memo, rule_id: str) -> Mended:
    """Return the first remedies of all findings of a rule, each worked out on the job as the last one left it.

    A remedy that does not cure, or is refused, is left to a person.
    """
    before = judged(memo.look)
    known = {one.key for one in before}
    job: Job = memo.source
    operations: list[Operation] = []
    given_up: set[str] = set()
    mended, said = 0, before
    while (one := _first(said, rule_id, given_up)) is not None:
        try:
            after = apply(job, one.fixes[0].operations).job
        except EditError:
            given_up.add(one.key)
            continue
        with memo.tried(after, changed_keys(memo.source, after, SLICES)) as look:
            then = judged(look)
        if any(other.key == one.key for other in then):
            given_up.add(one.key)
            continue
        job, said, mended = after, then, mended + 1
        operations += one.fixes[0].operations
    left = sum(one.rule == rule_id and one.accepted is None for one in said)
    brings = (one for one in said if one.severity == "fault" and one.key not in known)
    return Mended(operations=tuple(operations), mended=mended, left=left, brings=tuple(map(turned, brings)))


def _first(said: tuple[Finding, ...], rule_id: str, besides: set[str]) -> Finding | None:
    return next(
        (f for f in said if f.rule == rule_id and f.fixes and f.accepted is None and f.key not in besides),
        None,
    )
