"""Whether a job can be signed: how much of it is proven, and what stands in the way."""

from collections.abc import Sequence

from heathrise.core.deriving import Look
from heathrise.core.findings.verdicts import judged
from heathrise.core.job import Space
from heathrise.core.job.view import job_of
from heathrise.core.library import library
from heathrise.core.proving.cables import RunProof
from heathrise.core.proving.derived import Proofs, faults, log_lines, proofs, proposals
from heathrise.core.proving.faults import FaultShown, LogbookLine
from heathrise.core.proving.measured_air import SpaceAir
from heathrise.core.proving.otherwise import FieldProposal
from heathrise.core.proving.ports import PointProof, PortProof, WalkProof
from heathrise.core.sums import Noun


class Gate(Noun):
    """One part of what is proven: so many of so many. One that does not hold is signed with a reason, or not at all."""

    code: str
    label: str
    done: int
    of: int
    holds: bool


class OpenFinding(Noun):
    """A fault of the plan or of what was measured that nobody has accepted."""

    key: str
    title: str
    text: str
    advice: str
    stage: str
    subject_ids: tuple[str, ...]


class Ready(Noun):
    """What stands in the way of signing. With `holds` nothing does."""

    gates: tuple[Gate, ...]
    findings: tuple[OpenFinding, ...]
    faults: tuple[FaultShown, ...]
    holds: bool


class Proven(Noun):
    """Everything of stage 10."""

    runs: tuple[RunProof, ...]
    ports: tuple[PortProof, ...]
    points: tuple[PointProof, ...]
    walks: tuple[WalkProof, ...]
    spaces: tuple[SpaceAir, ...]
    faults: tuple[FaultShown, ...]
    proposals: tuple[FieldProposal, ...]
    log: tuple[LogbookLine, ...]
    ready: Ready


def ready(look: Look) -> Ready:
    """Return what stands in the way of signing."""
    gates = tuple(gate for gate in _gates(proofs(look), _spaces_with_need(look)) if gate.of)
    findings = tuple(
        OpenFinding(
            key=one.key,
            title=one.title,
            text=one.text,
            advice=one.advice,
            stage=one.stage,
            subject_ids=one.subject_ids,
        )
        for one in judged(look)
        if one.severity == "fault" and one.accepted is None
    )
    open_faults = tuple(one for one in faults(look) if one.is_open)
    holds = all(gate.holds for gate in gates) and not findings and not open_faults
    return Ready(gates=gates, findings=findings, faults=open_faults, holds=holds)


def _spaces_with_need(look: Look) -> int:
    needs = library().needs
    return sum(needs[space.need].best_dbm is not None for space in job_of(look).of(Space))


def _gates(found: Proofs, spaces: int) -> list[Gate]:
    needed = [run for run in found.runs if run.needed]
    tested = sum(run.state not in ("none", "other") for run in needed)
    return [
        _gate("runs", "Runs with a test that counts", tested, len(needed)),
        _gate("ports", "Ports looked at", _looked_at(found.ports), len(found.ports)),
        _gate("points", "Access points looked at", _looked_at(found.points), len(found.points)),
        _gate("walks", "Walks walked", _looked_at(found.walks), len(found.walks)),
        _gate("air", "Spaces measured", len(found.spaces), spaces if found.points else 0),
    ]


def _looked_at(proofs_: Sequence[PortProof] | Sequence[PointProof] | Sequence[WalkProof]) -> int:
    return sum(one.state in ("holds", "differs") for one in proofs_)


def _gate(code: str, label: str, done: int, of: int) -> Gate:
    return Gate(code=code, label=label, done=done, of=of, holds=done >= of)


def proven(look: Look) -> Proven:
    """Return everything of stage 10."""
    found = proofs(look)
    return Proven(
        runs=found.runs,
        ports=found.ports,
        points=found.points,
        walks=found.walks,
        spaces=found.spaces,
        faults=faults(look),
        proposals=proposals(look),
        log=log_lines(look),
        ready=ready(look),
    )
