"""The case: one thing that data is to reach, and all that the ways to it are worked out from."""

from dataclasses import dataclass

from heathrise.core.cabling.runs import RunPlan
from heathrise.core.job import AccessPoint, Equipment, Job, Link
from heathrise.core.joining.unwired import Unwired
from heathrise.core.links.meshing import MeshNode
from heathrise.core.links.span import Span
from heathrise.core.site.building import Building
from heathrise.core.sums import Sum


@dataclass(frozen=True)
class Case:
    """One thing to reach. `run` is its run as it lies or would lie, `plan` what that would be of copper; None with
    `no_run` saying why there is none. `bridge` is the one its house is reached by now; the ways are worked out from
    the rack that it comes from. `now` is what else it hangs on without a cable; `node` how it would hang on the other
    access points, for one that is an access point.
    """

    job: Job
    building: Building
    thing: AccessPoint | Equipment
    need: Sum
    run: Link | None
    plan: RunPlan | None
    no_run: str
    houses: tuple[str | None, str | None]
    span: Span | None
    bridge: Link | None
    now: Unwired
    node: MeshNode | None

    @property
    def is_apart(self) -> bool:
        """Whether both ends stand in houses with earths of their own."""
        return None not in self.houses and self.houses[0] != self.houses[1]

    @property
    def model_watts(self) -> float:
        """The most the thing draws. [W]"""
        return self.job.equipment[self.thing.model].max_w

    @property
    def radiates(self) -> bool:
        """Whether it serves clients by radio."""
        return self.job.equipment[self.thing.model].radiates

    @property
    def open_m(self) -> float:
        """How much of the run lies in the ground or outdoors where no pathway is: what is to be trenched. [m]"""
        legs = self.plan.legs if self.plan else ()
        return sum(
            leg.length_m
            for leg in legs
            if leg.pathway_id is None and leg.environment in ("outdoor", "ground") and leg.z0_m == leg.z1_m
        )
