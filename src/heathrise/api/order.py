"""Stage 8: the order - what it costs, price lists in and out, the ways side by side, the quote."""

from flask import Response
from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field

from heathrise.api.desk import opened
from heathrise.api.documented import answers_with, gives, group
from heathrise.api.sent import sent_table
from heathrise.api.shapes import JobPath, TablePath
from heathrise.core.job import Label
from heathrise.work.asking import LineOfOrder, Nothing, PricesAsked, ScheduleAsked

blueprint = group("order", "/api/jobs")
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


class PricesForm(BaseModel):
    """A price list, whose it is, and which items a person gave article numbers (JSON, by number)."""

    file: FileStorage
    supplier: Label
    chosen: dict[str, str] = Field(default_factory=dict)


@blueprint.get("/<job_id>/order/terms", responses=answers_with("core.ordering.terms:Terms"))
def terms(path: JobPath) -> Response:
    """Return what it costs in all, from whom it comes, how long a crew takes."""
    return opened(path.job_id, may="see").ask("order.terms", Nothing())


@blueprint.get("/<job_id>/order/line", responses=answers_with("core.findings.instead:LineAsked"))
def line(path: JobPath, query: LineOfOrder) -> Response:
    """Return what if an item of the order were another everywhere, or one more or fewer. Nothing is saved."""
    return opened(path.job_id, may="see").ask("order.line", query)


@blueprint.get("/<job_id>/order/options", responses=answers_with("core.findings.options:WaysToBuy"))
def options(path: JobPath) -> Response:
    """Return three ways to buy the job, each worked out whole."""
    return opened(path.job_id, may="see").ask("order.options", Nothing())


@blueprint.post("/<job_id>/order/prices", responses=answers_with("core.ordering.pricing:PriceList"))
def prices(path: JobPath, form: PricesForm) -> Response:
    """Read a price list and answer with what would become of each row; nothing is taken yet."""
    job = opened(path.job_id, may="edit")
    table = sent_table(form.file, "the price list")
    return job.ask("order.prices", PricesAsked(rows=table.rows, supplier=form.supplier, chosen=form.chosen))


@blueprint.get("/<job_id>/export/kit.<ending>", responses=gives("text/csv", _XLSX))
def export_kit(path: TablePath) -> Response:
    """Export the kit list: CSV, or a workbook with the hours beside it."""
    return opened(path.job_id, may="see").ask("export.kit", ScheduleAsked(ending=path.ending))


@blueprint.get("/<job_id>/export/prices.<ending>", responses=gives("text/csv", _XLSX))
def export_prices(path: TablePath) -> Response:
    """Export a price list to be filled in by a supplier and read back: CSV or a workbook."""
    return opened(path.job_id, may="see").ask("export.prices", ScheduleAsked(ending=path.ending))


@blueprint.get("/<job_id>/export/quote.pdf", responses=gives("application/pdf"))
def export_quote(path: JobPath) -> Response:
    """Export the quote: three ways side by side, kit, work, price and tax."""
    return opened(path.job_id, may="see").ask("export.quote", Nothing())
