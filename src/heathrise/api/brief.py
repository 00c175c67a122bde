"""Stage 1: inventories in, the firm's practice, and what a change of practice would mean."""

from flask import Response
from flask_openapi3 import FileStorage
from pydantic import BaseModel

from heathrise.api.desk import desk, opened
from heathrise.api.documented import answers_with, group
from heathrise.api.jobs import answer, firm_practice
from heathrise.api.sent import sent_table
from heathrise.api.shapes import JobPath
from heathrise.core.job import Practice
from heathrise.core.sums import Noun
from heathrise.store import imports
from heathrise.work.asking import PracticeAsked

blueprint = group("brief", "/api")
# What differs from job to job by nature and is no practice of the firm.
_NOT_FIRM = {"id", "label", "order", "kind"}


class InventoryForm(BaseModel):
    """A device list: CSV, tab-separated text or XLSX."""

    file: FileStorage


class FirmPractice(Noun):
    """The firm's house practice; its id is of no meaning."""

    practice: Practice


@blueprint.post("/jobs/<job_id>/inventory", responses=answers_with("exchange.inventory:ListRead"))
def inventory(path: JobPath, form: InventoryForm) -> Response:
    """Read a device list and answer with what was understood; nothing is saved yet."""
    job = opened(path.job_id, may="edit")
    return job.ask("brief.inventory", sent_table(form.file, "the list"))


@blueprint.get("/firm/practice", responses={200: FirmPractice})
def get_practice() -> Response:
    """Return the firm's house practice, the defaults where it chose nothing."""
    with desk().database.transaction() as session:
        return answer(FirmPractice(practice=firm_practice(session)).model_dump_json())


@blueprint.put("/firm/practice", responses={200: FirmPractice})
def put_practice(body: FirmPractice) -> Response:
    """Make a practice the firm's: every new job starts with it."""
    chosen = body.practice.model_dump(mode="json", exclude=_NOT_FIRM)
    with desk().database.transaction() as session:
        imports.choose(session, "practice", chosen)
    return answer(body.model_dump_json())


@blueprint.post("/jobs/<job_id>/practice/compare", responses=answers_with("core.findings.whatif:Comparison"))
def compare_practice(path: JobPath, body: FirmPractice) -> Response:
    """Say what would become of findings, cost, hours and runs under another practice."""
    return opened(path.job_id, may="see").ask("practice.compare", PracticeAsked(practice=body.practice))
