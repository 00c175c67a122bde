"""A job, assessed: one document with what every stage computed, its findings and the ledger."""

from dataclasses import dataclass

from heathrise.core.cabling.runs import ConduitPlan, RunPlan, Runs, plan_runs
from heathrise.core.findings.ledger import LedgerEntry, ledger
from heathrise.core.findings.registry import findings
from heathrise.core.job import Acceptance, Job
from heathrise.core.network.settings import PortSetting, Settings, settings_of
from heathrise.core.network.subnets import NamePlan, Nets, ScopePlan, plan_networks
from heathrise.core.ordering.kit import HoursLine, Kit, KitLine, count_kit
from heathrise.core.power.feeds import FeedPlan, Feeds, plan_feeds
from heathrise.core.radio.air import Air, SpaceScore, assess_air
from heathrise.core.radio.capacity import RadioLoad
from heathrise.core.radio.channels import BandPlan, RadioPlan
from heathrise.core.radio.walking import Walked
from heathrise.core.rule import Finding
from heathrise.core.site.brief import (
    Demand,
    DropLine,
    HourDemand,
    InventoryLine,
    OpenQuestion,
    SpaceDemand,
    demand,
)
from heathrise.core.site.building import Building, building_of
from heathrise.core.sums import Noun, Sum
from heathrise.core.switching.ports import BudgetPlan, PortPlan, Ports, Unplaced, plan_ports


class Assessment(Noun):
    """Everything computed of one job."""

    findings: tuple[Finding, ...]
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
    conduits: tuple[ConduitPlan, ...]
    feeds: tuple[FeedPlan, ...]
    ports: tuple[PortPlan, ...]
    budgets: tuple[BudgetPlan, ...]
    unplaced: tuple[Unplaced, ...]
    scopes: tuple[ScopePlan, ...]
    names: tuple[NamePlan, ...]
    beacons: Sum | None
    kit: tuple[KitLine, ...]
    hours: tuple[HoursLine, ...]
    cost_sum: Sum
    hours_sum: Sum


@dataclass(frozen=True)
class Facts:
    """What the floors computed, as the rules name it."""

    job: Job
    building: Building
    air: Air
    brief: Demand
    runs: Runs
    feeds: Feeds
    ports: Ports
    nets: Nets
    kit: Kit


def compute(job: Job) -> Facts:
    """Compute every floor of a job, lowest first."""
    building = building_of(job)
    air = assess_air(job)
    runs = plan_runs(job, building)
    feeds = plan_feeds(job, runs)
    return Facts(
        job=job,
        building=building,
        air=air,
        brief=demand(job),
        runs=runs,
        feeds=feeds,
        ports=plan_ports(job, runs, feeds),
        nets=plan_networks(job, air),
        kit=count_kit(job, runs),
    )


def assess(job: Job) -> Assessment:
    """Return everything computed of a job, with its findings and ledger."""
    facts = compute(job)
    reasons = {a.finding_key: a.reason for a in job.of(Acceptance)}
    found = tuple(
        finding.model_copy(update={"accepted": reasons.get(finding.key)}) for finding in findings(vars(facts))
    )
    return Assessment(
        findings=found,
        ledger=ledger(facts.air, facts.runs, facts.ports, facts.kit),
        spaces=facts.air.scores,
        radios=facts.air.radio_plan,
        bands=facts.air.bands,
        loads=facts.air.loads,
        walks=facts.air.walks,
        inventory=facts.brief.inventory,
        demand=facts.brief.spaces,
        demand_total=facts.brief.total,
        questions=facts.brief.questions,
        drops=facts.brief.drops,
        runs=facts.runs.plans,
        conduits=facts.runs.conduits,
        feeds=facts.feeds.plans,
        ports=facts.ports.ports,
        budgets=facts.ports.budgets,
        unplaced=facts.ports.unplaced,
        scopes=facts.nets.scopes,
        names=facts.nets.names,
        beacons=facts.nets.beacons,
        kit=facts.kit.lines,
        hours=facts.kit.hours,
        cost_sum=facts.kit.cost_sum,
        hours_sum=facts.kit.hours_sum,
    )


def settings(job: Job) -> Settings:
    """Return the settings document of a job."""
    facts = compute(job)
    ports = tuple(
        PortSetting(
            switch=port.switch_label,
            port=port.port,
            run=port.run_label,
            to=port.to_label,
            power=port.needs_class > 0,
            speed_mbps=port.speed_mbps,
        )
        for port in facts.ports.ports
    )
    return settings_of(job, facts.air, facts.nets, ports)
