"""One cable for several services: the home network, the service that comes in, television; a strand each, or one."""

from collections.abc import Callable

from heathrise.core.cabling.derived import runs
from heathrise.core.cabling.runs import RunPlan, carries_over
from heathrise.core.deriving import Look
from heathrise.core.edit import EditError, Operation, Put
from heathrise.core.job import Equipment, InLine, Job, Network
from heathrise.core.job.view import job_of
from heathrise.core.joining.bridged import boxes_on
from heathrise.core.library import library, limit
from heathrise.core.sums import Noun, Sum, SumLine

_TOO_MUCH = "All services together are more than the cable and its ports carry."
_THERE = "A managed switch stands on its way already: give its ports their VLANs."


class Carries(Noun):
    """One service over a cable: how much of it, its VLAN where it shares one, and whether it comes back. [Mb/s]"""

    label: str
    mbps: float
    vlan: int
    comes_back: bool = False


class StrandWay(Noun):
    """One way to bring several services over what lies there: whether it holds, why, and what it takes."""

    code: str
    label: str
    holds: bool
    why: str
    strands: int
    cost: Sum
    caution: str


class Strands(Noun):
    """What is wanted at the far end of a run, how many cables lie there, and the ways to bring it over them."""

    run_id: str
    label: str
    to_label: str
    there: int
    services: tuple[Carries, ...]
    carried: Sum
    ways: tuple[StrandWay, ...]


def strands(look: Look, run_id: str, screens: int, service_there: bool, bridges: bool) -> Strands:
    """Return how several services reach the far end of a run.

    Parameters
    ----------
    look
        The job.
    run_id
        The run that lies there, or is to.
    screens
        How many boxes of a television service stand at its far end.
    service_there
        Whether the service enters there, so that it goes back over the same way.
    bridges
        Whether the modem only bridges, so that the gateway behind it signs in.

    Raises
    ------
    EditError
        If the job has no such run.
    """
    job = job_of(look)
    plan = runs(look).by_id.get(run_id)
    if plan is None:
        raise EditError("the run is not there any more")
    there = sum(1 for other in runs(look).plans if (other.from_id, other.to_id) == (plan.from_id, plan.to_id))
    services = _services(job, screens, service_there)
    port = min(_fastest(job, plan), int(limit("links.wire_router_mbps")))
    # Both directions have all of the cable each: what comes back does not stand in the way of what goes.
    ways_mbps = [sum(s.mbps for s in services if s.comes_back == back) for back in (False, True)]
    total = max(ways_mbps)
    carried = Sum(
        label=f"{plan.label}: all services together",
        value=round(total, 1),
        unit="Mb/s",
        limit=port,
        holds=total <= port,
        lines=tuple(SumLine(label=s.label, value=s.mbps, unit="Mb/s") for s in services),
        formula="the busier direction, against the slower of the cable and usual ports",
        source="demand of this job; design values",
    )
    ways = (
        _each(plan, len(services), there),
        _tagged(job, run_id, carried, service_there),
        _plain(job, carried, service_there, bridges, screens),
    )
    return Strands(
        run_id=run_id,
        label=plan.label,
        to_label=plan.to_label,
        there=there,
        services=services,
        carried=carried,
        ways=ways,
    )


def _services(job: Job, screens: int, service_there: bool) -> tuple[Carries, ...]:
    used = {network.vlan for network in job.of(Network)}
    home = next((n.vlan for n in job.of(Network) if n.purpose == "main"), None)
    free = (number for number in range(1001, 4000) if number not in used)
    found = [Carries(label="home network", mbps=job.brief.internet.down_mbps, vlan=home or next(free))]
    if service_there:
        found.append(
            Carries(
                label="service in, to the gateway",
                mbps=job.brief.internet.down_mbps,
                vlan=next(free),
                comes_back=True,
            )
        )
    tv = next(free)
    each = library().device_kinds["television"].demand_kbps / 1000
    found += [Carries(label=f"television {n}", mbps=each, vlan=tv) for n in range(1, screens + 1)]
    return tuple(found)


def _fastest(job: Job, plan: RunPlan) -> int:
    """Return the most a run's cable carries over its channel. [Mb/s]"""
    channel_m = plan.span_m + job.practice.cords_m
    speeds = {row.speed_mbps for row in library().speeds}
    return max((s for s in speeds if carries_over(plan.category, s, channel_m)), default=0)


def _each(plan: RunPlan, wanted: int, there: int) -> StrandWay:
    """A cable for each service."""
    lacks, row, length_m = max(0, wanted - there), library().cables[plan.cable], plan.length_m
    price = (row.box_price or 0.0) / row.box_m * length_m
    return StrandWay(
        code="each",
        label="A cable for each",
        holds=lacks == 0,
        why=""
        if lacks == 0
        else f"{wanted} are wanted and {there} lie there; {lacks} more would be drawn in.",
        strands=wanted,
        cost=Sum(
            label="A cable for each: cable",
            value=round(lacks * price, 2),
            unit="",
            lines=(
                SumLine(
                    label=f"{lacks} x {length_m:.0f} m of {row.label}", value=round(lacks * price, 2), unit=""
                ),
            ),
            source="design prices",
        ),
        caution="",
    )


def shared_already(job: Job, run_id: str) -> bool:
    """Say whether a managed switch stands on a run's way."""
    models = (job.equipment[box.model] for box in boxes_on(job, run_id))
    return any(model.joins and model.managed for model in models)


def _tagged(job: Job, run_id: str, carried: Sum, service_there: bool) -> StrandWay:
    """One cable between two managed switches, a VLAN for each service."""
    code = managed_switch(job)
    name, price = (
        (job.equipment[code].label, job.equipment[code].price or 0.0) if code else ("no such model", 0.0)
    )
    there = shared_already(job, run_id)
    guards = " The one of the service reaches the gateway and nothing else." if service_there else ""
    return StrandWay(
        code="tagged",
        label="One cable between two managed switches",
        holds=carried.holds and code is not None and not there,
        why=_THERE if there else "" if carried.holds else _TOO_MUCH,
        strands=1,
        cost=Sum(
            label="Two managed switches: parts",
            value=price,
            unit="",
            lines=(SumLine(label=name, value=price, unit=""),),
            source="design prices; the one at the rack is there or is planned",
        ),
        caution=f"Both ends carry every VLAN tagged; each outlet gets its own untagged.{guards}",
    )


def _plain(job: Job, carried: Sum, service_there: bool, bridges: bool, screens: int) -> StrandWay:
    """One cable and a plain switch, where nothing has to be kept apart."""
    why = ""
    if service_there and not bridges:
        why = "The modem routes: its network and the home's would be one. Let it bridge, or keep them apart by VLAN."
    elif screens and service_there:
        why = "Television of the service floods what is not kept apart from it."
    elif not carried.holds:
        why = _TOO_MUCH
    fits = {code: m for code, m in job.equipment.items() if m.forwards == "switch" and not m.managed}
    cheapest = min((m.price or 0.0 for m in fits.values()), default=0.0)
    return StrandWay(
        code="plain",
        label="One cable and a plain switch",
        holds=not why,
        why=why,
        strands=1,
        cost=Sum(
            label="Plain switch: parts",
            value=cheapest,
            unit="",
            lines=(SumLine(label="a plain switch", value=cheapest, unit=""),),
            source="design prices",
        ),
        caution="The gateway alone may sign in: what else is plugged in there stands before it, unprotected."
        if service_there
        else "",
    )


def managed_switch(job: Job) -> str | None:
    """Return the cheapest managed switch, None where the library has none."""
    fits = {code: m for code, m in job.equipment.items() if m.forwards == "switch" and m.managed}
    return min(fits, key=lambda code: fits[code].price or 0.0, default=None)


def tagged(look: Look, run_id: str, new_id: Callable[[], str]) -> tuple[Operation, ...]:
    """Return what puts a managed switch at the far end of a run.

    Raises
    ------
    EditError
        If the run is gone, or the library has no managed switch.
    """
    job = job_of(look)
    plan, code = runs(look).by_id.get(run_id), managed_switch(job)
    if plan is None or code is None:
        raise EditError(
            "the run is not there any more" if plan is None else "the library has no managed switch"
        )
    if shared_already(job, run_id):
        raise EditError("a managed switch stands on its way already")
    place = InLine(link_id=run_id, at_m=plan.length_m)
    label = f"Switch of {plan.to_label}"
    return (Put(element=Equipment(id=new_id(), label=label, model=code, place=place)),)
