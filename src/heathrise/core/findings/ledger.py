"""The line at the foot: running totals with their limits."""

from heathrise.core.cabling.runs import Runs
from heathrise.core.ordering.kit import Kit
from heathrise.core.radio.air import Air
from heathrise.core.sums import Noun, Sum, SumLine
from heathrise.core.switching.ports import Ports


class LedgerEntry(Noun):
    """One total. `goes_to` is the element that pressing it selects, `stage` the stage it opens."""

    key: str
    sum: Sum
    stage: str
    goes_to: str | None = None


def ledger(air: Air, runs: Runs, ports: Ports, kit: Kit) -> tuple[LedgerEntry, ...]:
    """Return the ledger of a job; totals of nothing are left out."""
    entries = [
        _spaces(air),
        _longest(runs),
        _power(ports),
        _ports(ports),
        LedgerEntry(key="kit", sum=kit.cost_sum, stage="order") if kit.lines else None,
        LedgerEntry(key="hours", sum=kit.hours_sum, stage="order") if kit.hours else None,
    ]
    return tuple(entry for entry in entries if entry is not None)


def _spaces(air: Air) -> LedgerEntry | None:
    if not air.scores:
        return None
    meet = sum(score.holds for score in air.scores)
    worst = min(air.scores, key=lambda score: score.share)
    lines = [
        SumLine(label=score.label, value=round(100 * score.share, 1), unit="%", note=score.need_label)
        for score in air.scores
    ]
    return LedgerEntry(
        key="spaces",
        stage="air",
        goes_to=None if worst.holds else worst.space_id,
        sum=Sum(
            label="Spaces that meet their need",
            value=meet,
            unit="",
            limit=len(air.scores),
            holds=meet == len(air.scores),
            lines=tuple(lines),
            formula="spaces with 95 % of their area at their need / spaces scored",
            source="library: needs; limits: air.pass_share",
        ),
    )


def _longest(runs: Runs) -> LedgerEntry | None:
    if not runs.plans:
        return None
    tightest = max(runs.plans, key=lambda plan: plan.length_m / plan.limit_m)
    return LedgerEntry(key="longest", sum=tightest.length_sum, stage="runs", goes_to=tightest.run_id)


def _power(ports: Ports) -> LedgerEntry | None:
    if not ports.budgets:
        return None
    used = sum(budget.used_w for budget in ports.budgets)
    budget_w = sum(budget.budget_w for budget in ports.budgets)
    over = [budget for budget in ports.budgets if not budget.holds]
    lines = [
        SumLine(label=b.label, value=b.used_w, unit="W", note=f"of {b.budget_w:g} W, by {b.method}")
        for b in ports.budgets
    ]
    return LedgerEntry(
        key="poe",
        stage="ports",
        goes_to=over[0].switch_id if over else None,
        sum=Sum(
            label="PoE",
            value=round(used, 1),
            unit="W",
            limit=budget_w,
            holds=not over,
            lines=tuple(lines),
            formula="sum over switches; each is held against its own budget",
            source="house practice: PoE budget",
        ),
    )


def _ports(ports: Ports) -> LedgerEntry | None:
    access = [port for port in ports.ports if not port.uplink]
    if not access and not ports.unplaced:
        return None
    used = sum(port.run_id is not None for port in access) + len(ports.unplaced)
    labels = dict.fromkeys(port.switch_label for port in access)
    lines = [
        SumLine(
            label=label,
            value=sum(p.run_id is not None for p in access if p.switch_label == label),
            unit="",
        )
        for label in labels
    ]
    if ports.unplaced:
        lines.append(SumLine(label="runs without a port", value=len(ports.unplaced), unit=""))
    return LedgerEntry(
        key="ports",
        stage="ports",
        sum=Sum(
            label="Ports",
            value=used,
            unit="",
            limit=len(access),
            holds=not ports.unplaced,
            lines=tuple(lines),
            formula="runs that need an access port / access ports",
            source="library: switches",
        ),
    )
