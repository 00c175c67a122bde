"""What is proven of a job, derived: a record makes stale what it is about, an edit what it changes."""

from dataclasses import dataclass
from functools import cached_property

from heathrise.core.cabling.derived import run_ids, run_plan
from heathrise.core.deriving import Broken, Look, derived, gathered
from heathrise.core.job import AccessPoint, SurveyPoint, Walk
from heathrise.core.job.view import JobView, job_of
from heathrise.core.network.derived import port_profiles
from heathrise.core.proving.cables import RunProof, run_proof_of
from heathrise.core.proving.doing import TaskDone, tasks_done
from heathrise.core.proving.faults import FaultShown, LogbookLine, faults_of, logbook, unsettled
from heathrise.core.proving.measured_air import SpaceAir, measured_spaces
from heathrise.core.proving.otherwise import FieldProposal, proposal_of
from heathrise.core.proving.ports import (
    PointProof,
    PortProof,
    WalkProof,
    point_proof,
    port_proof,
    port_subject,
    walk_proof,
)
from heathrise.core.radio.air import radio_rows, scene
from heathrise.core.radio.finds import Compared
from heathrise.core.radio.learning import measured_against_predicted
from heathrise.core.site.derived import building
from heathrise.core.switching.derived import ports


@dataclass(frozen=True)
class Proofs:
    """What the rules read of what was proven."""

    runs: tuple[RunProof, ...]
    ports: tuple[PortProof, ...]
    points: tuple[PointProof, ...]
    walks: tuple[WalkProof, ...]
    spaces: tuple[SpaceAir, ...]
    broken: tuple[Broken, ...] = ()

    @cached_property
    def begun(self) -> bool:
        """Whether anybody tested a run yet."""
        return any(run.tests for run in self.runs)


@derived
def run_proof(look: Look, run_id: str) -> RunProof | None:
    """What the records of one run prove."""
    plan = run_plan(look, run_id)
    if plan is None:
        return None
    job = job_of(look)
    return run_proof_of(plan, job.practice, job.recorded(run_id))


@derived
def port_proofs(look: Look) -> tuple[PortProof, ...]:
    """Every port in use beside what was found there."""
    job = job_of(look)
    native = {
        (one.switch_id, one.port): job.by_id[one.native_id].label
        for one in port_profiles(look).profiles
        if one.native_id
    }
    return tuple(
        port_proof(
            port,
            native.get((port.switch_id, port.port), ""),
            job.recorded(port_subject(port.switch_id, port.port)),
        )
        for port in ports(look).ports
        if port.run_id is not None
    )


@derived
def point_proofs(look: Look) -> tuple[PointProof, ...]:
    """Every access point beside what was found there."""
    job, radios = job_of(look), radio_rows(look)
    return tuple(
        point_proof(
            job,
            point,
            [row for row in radios if row.point_id == point.id],
            job.recorded(point.id),
            job.by_id[point.storey_id].label,
        )
        for point in job.of(AccessPoint)
    )


@derived
def walk_proofs(look: Look) -> tuple[WalkProof, ...]:
    """Every walk as it went last."""
    job = job_of(look)
    return tuple(walk_proof(walk, job.recorded(walk.id)) for walk in job.of(Walk))


@derived
def compared(look: Look) -> Compared:
    """Survey points beside their prediction."""
    return measured_against_predicted(job_of(look), scene(look))


@derived
def space_airs(look: Look) -> tuple[SpaceAir, ...]:
    """Every space somebody measured in."""
    job = job_of(look)
    if not job.of(SurveyPoint):
        return ()
    return measured_spaces(job, building(look), compared(look))


@derived
def proofs(look: Look) -> Proofs:
    """All of it, for the rules."""
    found, broken = gathered(look, run_proof, run_ids(look))
    return Proofs(
        runs=tuple(one for one in found if one is not None),
        ports=port_proofs(look),
        points=point_proofs(look),
        walks=walk_proofs(look),
        spaces=space_airs(look),
        broken=tuple(broken),
    )


@derived
def faults(look: Look) -> tuple[FaultShown, ...]:
    """The list of faults."""
    job = job_of(look)
    return faults_of(job, job.records)


@derived
def log_lines(look: Look) -> tuple[LogbookLine, ...]:
    """The logbook."""
    job = job_of(look)
    return logbook(job, job.records)


@derived
def done(look: Look) -> dict[str, TaskDone]:
    """How every task stands that anything was written down at."""
    return tasks_done(job_of(look).records)


@derived
def proposals(look: Look) -> tuple[FieldProposal, ...]:
    """What was found otherwise, as edits."""
    job = job_of(look)
    waiting = unsettled(job.records)
    return tuple(proposal_of(JobView(look).whole, one) for one in waiting)
