"""A job, assessed: one document with what every stage computed, its findings and the ledger."""

from collections.abc import Callable
from typing import Any, TypeVar

from heathrise.core.cabling.derived import runs
from heathrise.core.cabling.runs import PathwayPlan, RunPlan, Runs
from heathrise.core.deriving import Look, Memo, Superseded
from heathrise.core.findings.ledger import LedgerEntry, ledger
from heathrise.core.findings.next_step import NextStep, next_steps
from heathrise.core.findings.verdicts import judged
from heathrise.core.job import Job
from heathrise.core.job.own import OwnShelves, own_shelves
from heathrise.core.job.view import job_of
from heathrise.core.links.bridges import BridgePlan, bridges
from heathrise.core.links.mains import MainsPlan, mains_links
from heathrise.core.links.meshing import MeshNode, meshes
from heathrise.core.network.composing import settings_of
from heathrise.core.network.derived import nets, port_profiles
from heathrise.core.network.profiles import Carrying, PortProfile
from heathrise.core.network.settings import Settings
from heathrise.core.network.subnets import NamePlan, Nets, ScopePlan
from heathrise.core.ordering.derived import kit
from heathrise.core.ordering.kit import Kit, KitLine
from heathrise.core.ordering.labour import HoursLine
from heathrise.core.power.derived import feeds
from heathrise.core.power.feeds import FeedPlan, Feeds
from heathrise.core.radio.air import Air, air, radio_rows
from heathrise.core.radio.capacity import RadioLoad
from heathrise.core.radio.finds import BandPlan, RadioPlan
from heathrise.core.radio.scoring import SpaceScore
from heathrise.core.radio.walking import Walked
from heathrise.core.rule import Finding
from heathrise.core.site.brief import (
    Demand,
    DropLine,
    HourDemand,
    InventoryLine,
    OpenQuestion,
    SpaceDemand,
)
from heathrise.core.site.derived import brief
from heathrise.core.sums import Noun, Sum
from heathrise.core.switching.chains import Chain
from heathrise.core.switching.derived import chains, ports
from heathrise.core.switching.ports import BudgetPlan, PortPlan, Ports, Unplaced

T = TypeVar("T")


class Assessment(Noun):
    """Everything computed of one job."""

    findings: tuple[Finding, ...]
    next: tuple[NextStep, ...]
    ledger: tuple[LedgerEntry, ...]
    spaces: tuple[SpaceScore, ...]
    radios: tuple[RadioPlan, ...]
    bands: tuple[BandPlan, ...]
    loads: tuple[RadioLoad, ...]
    walks: tuple[Walked, ...]
    inventory: tuple[InventoryLine, ...]
    demand: tuple[SpaceDemand, ...]
    demand_total: tuple[HourDemand, ...]
    questions: tuple[OpenQuestion, ...]
    drops: tuple[DropLine, ...]
    runs: tuple[RunPlan, ...]
    pathways: tuple[PathwayPlan, ...]
    feeds: tuple[FeedPlan, ...]
    ports: tuple[PortPlan, ...]
    budgets: tuple[BudgetPlan, ...]
    unplaced: tuple[Unplaced, ...]
    chains: tuple[Chain, ...]
    bridges: tuple[BridgePlan, ...]
    meshes: tuple[MeshNode, ...]
    mains: tuple[MainsPlan, ...]
    scopes: tuple[ScopePlan, ...]
    names: tuple[NamePlan, ...]
    profiles: tuple[PortProfile, ...]
    beacons: Sum | None
    kit: tuple[KitLine, ...]
    hours: tuple[HoursLine, ...]
    cost_sum: Sum
    hours_sum: Sum
    own: OwnShelves


def assess(job: Job) -> Assessment:
    """Return everything computed of a job, worked out anew."""
    return assessment(Memo(job).look)


def assessment(look: Look) -> Assessment:
    """Return everything computed of a job at its revision. A stage that breaks leaves the others standing."""
    return Assessment.model_construct(**{name: table(look, name) for name in Assessment.model_fields})


def table(look: Look, name: str) -> Any:
    """Return one table of the assessment. Raises KeyError for a name that is none."""
    return _TABLES[name](look)


_BRIEF = Demand((), (), (), (), ())
_AIR = Air(None, (), (), (), (), ())
_RUNS = Runs((), (), frozenset())
_PORTS = Ports((), (), ())
_NETS = Nets((), (), None)
_NO_CHAINS: tuple[Chain, ...] = ()
_NO_BRIDGES: tuple[BridgePlan, ...] = ()
_NO_NODES: tuple[MeshNode, ...] = ()
_NO_MAINS: tuple[MainsPlan, ...] = ()
_LOOK_THROUGH: tuple[NextStep, ...] = (NextStep(code="order", text="Look it through", stage="order"),)


def _ledger(look: Look) -> tuple[LedgerEntry, ...]:
    return ledger(
        _or(look, air, _AIR), _or(look, runs, _RUNS), _or(look, ports, _PORTS), _or(look, kit, _no_kit())
    )


_TABLES: dict[str, Callable[[Look], Any]] = {
    "findings": judged,
    "next": lambda look: _or(look, next_steps, _LOOK_THROUGH),
    "ledger": _ledger,
    "spaces": lambda look: _or(look, air, _AIR).scores,
    "radios": lambda look: _or(look, air, _AIR).radio_plan,
    "bands": lambda look: _or(look, air, _AIR).bands,
    "loads": lambda look: _or(look, air, _AIR).loads,
    "walks": lambda look: _or(look, air, _AIR).walks,
    "inventory": lambda look: _or(look, brief, _BRIEF).inventory,
    "demand": lambda look: _or(look, brief, _BRIEF).spaces,
    "demand_total": lambda look: _or(look, brief, _BRIEF).total,
    "questions": lambda look: _or(look, brief, _BRIEF).questions,
    "drops": lambda look: _or(look, brief, _BRIEF).drops,
    "runs": lambda look: _or(look, runs, _RUNS).plans,
    "pathways": lambda look: _or(look, runs, _RUNS).pathways,
    "feeds": lambda look: _or(look, feeds, Feeds(())).plans,
    "ports": lambda look: _or(look, ports, _PORTS).ports,
    "budgets": lambda look: _or(look, ports, _PORTS).budgets,
    "unplaced": lambda look: _or(look, ports, _PORTS).unplaced,
    "chains": lambda look: _or(look, chains, _NO_CHAINS),
    "bridges": lambda look: _or(look, bridges, _NO_BRIDGES),
    "meshes": lambda look: _or(look, meshes, _NO_NODES),
    "mains": lambda look: _or(look, mains_links, _NO_MAINS),
    "scopes": lambda look: _or(look, nets, _NETS).scopes,
    "names": lambda look: _or(look, nets, _NETS).names,
    "profiles": lambda look: _or(look, port_profiles, Carrying((), ())).profiles,
    "beacons": lambda look: _or(look, nets, _NETS).beacons,
    "kit": lambda look: _or(look, kit, _no_kit()).lines,
    "hours": lambda look: _or(look, kit, _no_kit()).hours,
    "cost_sum": lambda look: _or(look, kit, _no_kit()).cost_sum,
    "hours_sum": lambda look: _or(look, kit, _no_kit()).hours_sum,
    "own": lambda look: _or(look, own_shelves, OwnShelves()),
}


def _no_kit() -> Kit:
    return Kit((), (), (), _nothing("Kit"), _nothing("Hours"), 0.0, 0.0, False)


def _or(look: Look, ask: Callable[[Look], T], nothing: T) -> T:
    try:
        return ask(look)
    except Superseded:
        raise
    except Exception:
        return nothing


def _nothing(label: str) -> Sum:
    return Sum(label=label, value=0, unit="", source="could not be worked out; see the findings")


def settings(look: Look) -> Settings:
    """Return the settings document of a job."""
    return settings_of(job_of(look), radio_rows(look), nets(look), port_profiles(look))
