"""Stage 8: what is bought, from whom, at what price; what if it were another; the quote."""

from datetime import UTC, datetime

from heathrise.core.findings.instead import line_asked
from heathrise.core.findings.options import options
from heathrise.core.job import Job
from heathrise.core.ordering.derived import kit
from heathrise.core.ordering.pricing import seen_prices
from heathrise.core.ordering.terms import terms
from heathrise.exchange.named import named_file
from heathrise.exchange.paper.quote import quote_pdf
from heathrise.exchange.pricelist import COLUMNS, price_rows, read_prices
from heathrise.exchange.schedule import workbook
from heathrise.exchange.tables import KIT_COLUMNS, kit_csv, kit_rows, to_csv
from heathrise.store.jobs import new_id
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import LineOfOrder, Nothing, PricesAsked, ScheduleAsked
from heathrise.work.open_job import OpenJob

_CSV = "text/csv; charset=utf-8"
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@answers("order.terms", Nothing)
def order_terms(opened: OpenJob, _: Nothing) -> Answer:
    """What it costs in all, from whom it comes, how long a crew takes."""
    memo = opened.memo()
    return in_json(terms(memo.source, kit(memo.look)), memo.revision)


@answers("order.line", LineOfOrder)
def line(opened: OpenJob, asked: LineOfOrder) -> Answer:
    """What if a line of the order were another."""
    memo = opened.memo()
    return in_json(line_asked(memo, asked.item), memo.revision)


@answers("order.options", Nothing)
def three_ways(opened: OpenJob, _: Nothing) -> Answer:
    """Good, better, best."""
    memo = opened.memo()
    return in_json(options(memo, new_id), memo.revision)


@answers("order.prices", PricesAsked)
def prices(opened: OpenJob, asked: PricesAsked) -> Answer:
    """A price list held against the order; nothing is taken yet."""
    kept = opened.newest()
    rows, skipped = read_prices(asked.rows)
    return in_json(seen_prices(kept.job, rows, asked.supplier, asked.chosen, skipped), kept.revision)


@answers("export.kit", ScheduleAsked)
def export_kit(opened: OpenJob, asked: ScheduleAsked) -> Answer:
    """The kit list: CSV or a workbook."""
    memo = opened.memo()
    found, name = kit(memo.look), named_file(memo.source.name, f"kit.{asked.ending}")
    if asked.ending == "csv":
        return Answer(kit_csv(found.lines).encode(), memo.revision, _CSV, name)
    hours = [(line.label, line.count, line.per, line.each_h, line.factor, line.hours) for line in found.hours]
    head = ("task", "count", "per", "each_h", "factor", "hours")
    sheets = (("Kit", KIT_COLUMNS, kit_rows(found.lines)), ("Hours", head, hours))
    return Answer(workbook(sheets), memo.revision, _XLSX, name)


@answers("export.prices", ScheduleAsked)
def export_prices(opened: OpenJob, asked: ScheduleAsked) -> Answer:
    """The price list to be filled in and read back: CSV or a workbook."""
    memo = opened.memo()
    rows, name = (
        price_rows(memo.source, kit(memo.look).lines),
        named_file(memo.source.name, f"prices.{asked.ending}"),
    )
    if asked.ending == "csv":
        return Answer(to_csv(COLUMNS, rows).encode(), memo.revision, _CSV, name)
    return Answer(workbook((("Prices", COLUMNS, rows),)), memo.revision, _XLSX, name)


@answers("export.quote", Nothing)
def quote(opened: OpenJob, _: Nothing) -> Answer:
    """The quote as PDF."""
    memo = opened.memo()
    job: Job = memo.source
    found = options(memo, new_id)
    body = quote_pdf(job, kit(memo.look), found, memo.revision, datetime.now(tz=UTC).date())
    return Answer(body, memo.revision, "application/pdf", named_file(job.name, "quote.pdf"))
