"""What reaches the network without a cable to a rack of its own: a hop from point to point, a pair on the mains, a
service from outside. What it hangs on now, and what takes that away.
"""

from dataclasses import dataclass

from heathrise.core.cabling.ends import runs_of
from heathrise.core.edit import Operation, Put, Remove
from heathrise.core.job import AccessPoint, Equipment, Job, Link, OnSheet

_HOPS = ("mesh", "powerline")


@dataclass(frozen=True)
class Unwired:
    """How a thing hangs without a cable: the link onto it, or the unit beside it that its cable begins at."""

    hop: Link | None = None
    unit: Equipment | None = None

    @property
    def hangs(self) -> bool:
        """Whether it hangs on anything without a cable."""
        return self.hop is not None or self.unit is not None


def unwired(job: Job, thing: AccessPoint | Equipment) -> Unwired:
    """Return how a thing hangs without a cable to a rack."""
    hop = next((link for link in job.of(Link) if link.medium in _HOPS and link.b.on == thing.id), None)
    laid = next((run for run in runs_of(job) if run.b.on == thing.id), None)
    begins = job.by_id[laid.a.on] if laid else None
    unit = begins if isinstance(begins, Equipment) and _is_unit(job, begins) else None
    return Unwired(hop, unit)


def _is_unit(job: Job, thing: Equipment) -> bool:
    """Say whether something stands beside what it serves to bring it data: an adapter, a router of an outside service."""
    model = job.equipment[thing.model]
    brings = model.mains is not None or any(group.medium == "air" for group in model.ports)
    return brings and isinstance(thing.place, OnSheet)


def _serves_others(job: Job, unit: Equipment, run: Link) -> bool:
    return any(other.a.on == unit.id and other.id != run.id for other in runs_of(job))


def taken_off(job: Job, now: Unwired, run: Link) -> tuple[Operation, ...]:
    """Return what takes away all that a thing hangs on without a cable: the link, units, and what feeds it there.

    A cable that began at a unit is handed to `run` first, which begins elsewhere; a unit that serves another stays.
    """
    kept: list[Operation] = [Put(element=run)] if now.unit is not None else []
    gone: list[str] = []
    if now.hop is not None:
        begins = job.by_id[now.hop.a.on]
        is_unit = isinstance(begins, Equipment) and _is_unit(job, begins)
        gone.append(begins.id if is_unit else now.hop.id)
    if now.unit is not None and not _serves_others(job, now.unit, run):
        pair = next(
            (link for link in job.of(Link) if link.medium == "powerline" and link.b.on == now.unit.id), None
        )
        gone += [now.unit.id, *([pair.a.on] if pair else [])]
    return (*kept, *(Remove(id=one) for one in gone))
