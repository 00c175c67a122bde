"""Ports and budgets, derived rack by rack."""

from heathrise.core.cabling.derived import runs
from heathrise.core.deriving import Look, derived, gathered
from heathrise.core.job import Equipment, Rack
from heathrise.core.job.view import ids_of, job_of
from heathrise.core.links.carried import carried
from heathrise.core.power.derived import feeds
from heathrise.core.radio.air import ordered_spaces, space_score
from heathrise.core.switching.chains import Chain, chains_of
from heathrise.core.switching.ports import BudgetPlan, Ports, RackPorts, plan_budget, plan_rack, switches_in


@derived
def covering(look: Look) -> frozenset[frozenset[str]]:
    """The points that cover for each other, two and two, as Air knows them."""
    scores, _ = gathered(look, space_score, ordered_spaces(look))
    found = (frozenset(score.cover_ids) for score in scores if score is not None)
    return frozenset(pair for pair in found if len(pair) == 2)


@derived
def rack_ports(look: Look, rack_id: str) -> RackPorts:
    """The ports of one rack."""
    return plan_rack(job_of(look), runs(look), feeds(look), rack_id, covering(look))


@derived
def budget(look: Look, switch_id: str, rack_id: str) -> BudgetPlan:
    """What one switch is asked for."""
    job = job_of(look)
    return plan_budget(job, job.get(Equipment, switch_id), rack_ports(look, rack_id).ports, feeds(look))


@derived
def ports(look: Look) -> Ports:
    """Every port, budget and what found no port."""
    racks = ids_of(look, Rack)
    found = [rack_ports(look, rack_id) for rack_id in racks]
    job = job_of(look)
    budgets = [budget(look, switch.id, rack) for rack in racks for switch, _ in switches_in(job, rack)]
    return Ports(
        tuple(port for rack in found for port in rack.ports),
        tuple(budgets),
        tuple(missing for rack in found for missing in rack.unplaced),
    )


@derived
def chains(look: Look) -> tuple[Chain, ...]:
    """The way of everything on the sheet to the core."""
    return chains_of(job_of(look), runs(look), ports(look), carried(look))
