"""What is drawn of a proposal that a person accepted: walls, openings, spaces, storeys, as operations."""

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from pydantic import Field

from heathrise.core.edit import Operation, Put
from heathrise.core.job import Id, Job, Label, Opening, Space, Storey, Wall
from heathrise.core.site.proposal import (
    BODY,
    OpeningKind,
    Proposal,
    ProposedOpening,
    ProposedStorey,
)
from heathrise.core.sums import Noun

NewId = Callable[[], str]
_PROPOSED = {"certainty", "alike"}


class StoreyTaken(Noun):
    """What a person said of a proposed storey: whether it is drawn, how it is called, at which level."""

    take: bool = True
    label: Label | None = None
    elevation_m: float | None = Field(None, ge=-100, le=1000)


class OpeningSaid(Noun):
    """An opening a person took for another kind than was guessed."""

    id: Id
    opening_kind: OpeningKind


@dataclass(frozen=True)
class Taken:
    """What a person said of a proposal: what is left out, openings that are of another kind, storeys in their order."""

    rejected: frozenset[str] = frozenset()
    kinds: Mapping[str, OpeningKind] = field(default_factory=dict)
    storeys: Sequence[StoreyTaken] = ()

    def of(self, index: int) -> StoreyTaken:
        """Return what was said of a storey."""
        return self.storeys[index] if index < len(self.storeys) else StoreyTaken()


def accept(
    job: Job, proposal: Proposal, taken: Taken, storey_id: str | None, new_id: NewId
) -> tuple[Operation, ...]:
    """Return the operations that draw what was accepted of a proposal.

    A proposal of one storey without a height of its own goes onto `storey_id`; others bring
    their storeys, and one at the level of a storey that is there goes onto that.
    """
    operations: list[Operation] = []
    numbers = _Numbers(job)
    for index, proposed in enumerate(proposal.storeys):
        said = taken.of(index)
        if not said.take:
            continue
        storey = _as_said(proposed, said)
        target = _storey_for(job, storey, storey_id)
        if target is None:
            made = _new_storey(storey, new_id)
            operations.append(Put(element=made))
            target = made.id
        operations += _elements(storey, target, taken, numbers)
    return tuple(operations)


def _as_said(storey: ProposedStorey, said: StoreyTaken) -> ProposedStorey:
    changes = {
        name: value
        for name, value in (("label", said.label), ("elevation_m", said.elevation_m))
        if value is not None
    }
    return storey.model_copy(update=changes)


def _storey_for(job: Job, storey: ProposedStorey, storey_id: str | None) -> str | None:
    if storey.elevation_m is None:
        return storey_id
    level = storey.elevation_m
    return next((s.id for s in job.storeys if abs(s.elevation_m - level) < 0.3), None)


def _new_storey(storey: ProposedStorey, new_id: NewId) -> Storey:
    height = storey.height_m or 3.0
    ceiling = storey.ceiling_m or max(1.8, height - 0.55)
    return Storey(
        id=new_id(),
        label=storey.label,
        elevation_m=round(storey.elevation_m or 0.0, 3),
        ceiling_m=round(ceiling, 2),
        void_m=0.3,
        **({"slab_build_up": storey.slab_build_up} if storey.slab_build_up else {}),
    )


class _Numbers:
    """Gives out labels that are free: Wall 12, Door 3."""

    def __init__(self, job: Job):
        self.used = {element.label for element in job.elements}
        self.next: Counter[str] = Counter()

    def label(self, name: str) -> str:
        while True:
            self.next[name] += 1
            found = f"{name} {self.next[name]}"
            if found not in self.used:
                self.used.add(found)
                return found

    def free(self, name: str) -> str:
        return name if name not in self.used and not self.used.add(name) else self.label(name)  # type: ignore[func-returns-value]


def _elements(storey: ProposedStorey, storey_id: str, taken: Taken, numbers: _Numbers) -> list[Operation]:
    rejected = taken.rejected
    kept = [wall for wall in storey.walls if wall.id not in rejected]
    standing = {wall.id for wall in kept}
    out: list[Operation] = [
        Put(
            element=Wall(
                id=w.id,
                label=numbers.free(w.label) if w.label else numbers.label("Wall"),
                storey_id=storey_id,
                a=w.a,
                b=w.b,
                build_up=w.build_up,
                thickness_m=w.thickness_m,
            )
        )
        for w in kept
        if (w.a.x_m, w.a.y_m) != (w.b.x_m, w.b.y_m)
    ]
    for o in storey.openings:
        if o.wall_id in standing and o.id not in rejected:
            out.append(Put(element=_opening(o, taken.kinds.get(o.id), numbers)))
    for space in storey.spaces:
        if space.id not in rejected:
            out.append(
                Put(
                    element=Space(
                        id=space.id,
                        label=numbers.free(space.label),
                        storey_id=storey_id,
                        outline=space.outline,
                    )
                )
            )
    return out


def _opening(proposed: ProposedOpening, kind: OpeningKind | None, numbers: _Numbers) -> Opening:
    """Return an opening, as another kind where a person said so: with what is usual of that."""
    body = proposed.model_dump(exclude=_PROPOSED)
    if kind is not None and kind != proposed.opening_kind:
        body |= BODY[kind]
    return Opening.model_validate(body | {"label": numbers.label(str(body["opening_kind"]).capitalize())})
