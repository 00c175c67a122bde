"""Jobs: list, make, open, assess."""

from flask import Response, make_response
from pydantic import Field
from sqlalchemy.orm import Session

from heathrise.api.desk import desk, opened
from heathrise.api.documented import answers_with, gives, group
from heathrise.api.shapes import (
    JobList,
    JobListed,
    JobPath,
    JobState,
    NewJob,
)
from heathrise.core.job import Brief, Element, Job, Label, Practice, Site, Storey
from heathrise.core.sums import Noun
from heathrise.exchange.smallplan import small_plan
from heathrise.store import imports, jobs
from heathrise.store.jobs import Kept, new_id
from heathrise.work.asking import AssessmentAsked, FindingAsked, RuleAsked

blueprint = group("jobs", "/api/jobs")

bin_blueprint = group("bin", "/api/bin", tag="jobs")


def answer(body: str, revision: int | None = None, status: int = 200) -> Response:
    """Return a JSON response with the revision as its ETag."""
    response = make_response(body, status)
    response.content_type = "application/json"
    if revision is not None:
        response.set_etag(str(revision))
    return response


def state(kept: Kept) -> JobState:
    """Return a job as the API shows it."""
    return JobState.model_construct(
        id=kept.id, name=kept.job.name, revision=kept.revision, elements=kept.job.elements
    )


def firm_practice(session: Session) -> Practice:
    """Return the firm's house practice as a job starts with it."""
    fields = {k: v for k, v in imports.choices(session, "practice").items() if k in Practice.model_fields}
    return Practice.model_validate({**fields, "id": new_id(), "label": "House practice"})


@blueprint.get("", responses={200: JobList})
def list_all() -> Response:
    """List every job, the latest change first."""
    with desk().database.transaction() as session:
        listed = tuple(JobListed.model_validate(vars(job)) for job in jobs.list_jobs(session))
    return answer(JobList(jobs=listed).model_dump_json())


@blueprint.post("", responses={201: JobState})
def create(body: NewJob) -> Response:
    """Make a job with a ground storey, the site's kind and the house practice."""
    elements: tuple[Element, ...] = (
        Site(id=new_id(), label="Site", site_kind=body.site_kind),
        Brief(id=new_id(), label="Brief"),
        Storey(id=new_id(), label="Ground", elevation_m=0),
    )
    with desk().database.transaction() as session:
        elements = (*elements, firm_practice(session))
        kept = jobs.create_job(session, Job(name=body.name, elements=elements))
    return answer(state(kept).model_dump_json(), kept.revision, 201)


@blueprint.get("/<job_id>", responses={200: JobState})
def get(path: JobPath) -> Response:
    """Open a job."""
    kept = opened(path.job_id, may="see").kept
    return answer(state(kept).model_dump_json(), kept.revision)


class JobChange(Noun):
    """What is changed of a job as a whole: its name, or whether it is done with."""

    name: Label | None = None
    archived: bool | None = None


@blueprint.patch("/<job_id>", responses={204: None})
def change(path: JobPath, body: JobChange) -> Response:
    """Rename a job, or put it among those that are done with and back."""
    job = opened(path.job_id, may="own")
    with job.desk.database.transaction() as session:
        if body.name is not None:
            jobs.rename_job(session, path.job_id, body.name)
        if body.archived is not None:
            jobs.archive_job(session, path.job_id, body.archived)
    return make_response("", 204)


@blueprint.post("/<job_id>/copy", responses={201: JobState})
def copy(path: JobPath) -> Response:
    """Make a job of its own of a job as it stands."""
    job = opened(path.job_id, may="see")
    with job.desk.database.transaction() as session:
        made = jobs.copy_job(session, path.job_id)
    return answer(state(made).model_dump_json(), made.revision, 201)


@blueprint.get("/<job_id>/plan.svg", responses=gives("image/svg+xml"))
def plan(path: JobPath) -> Response:
    """A job's plan the size of a stamp."""
    job = opened(path.job_id, may="see")
    with job.desk.database.transaction() as session:
        found = jobs.elements_of(session, path.job_id, ("storey", "wall"))
    by = {kind: [body for body in found if body["kind"] == kind] for kind in ("storey", "wall")}
    response = make_response(small_plan(by["storey"], by["wall"]))
    response.content_type = "image/svg+xml"
    return response


@blueprint.delete("/<job_id>", responses={204: None})
def delete(path: JobPath) -> Response:
    """Put a job in the bin. It stays there for a while with its history."""
    job = opened(path.job_id, may="own")
    with job.desk.database.transaction() as session:
        jobs.bin_job(session, path.job_id)
    return make_response("", 204)


@bin_blueprint.get("", responses={200: JobList})
def list_binned() -> Response:
    """List what lies in the bin; what has lain there for its days is forgotten now."""
    with desk().database.transaction() as session:
        jobs.forget_old(session)
        listed = tuple(JobListed.model_validate(vars(job)) for job in jobs.list_jobs(session, binned=True))
    return answer(JobList(jobs=listed).model_dump_json())


@bin_blueprint.post("/<job_id>/back", responses={204: None})
def take_back(path: JobPath) -> Response:
    """Take a job out of the bin, as it was."""
    job = opened(path.job_id, may="own", binned=True)
    with job.desk.database.transaction() as session:
        jobs.put_back(session, path.job_id)
    return make_response("", 204)


@bin_blueprint.delete("/<job_id>", responses={204: None})
def forget(path: JobPath) -> Response:
    """Forget a job that lies in the bin, for good."""
    job = opened(path.job_id, may="own", binned=True)
    with job.desk.database.transaction() as session:
        jobs.forget_job(session, path.job_id)
    return make_response("", 204)


class AssessmentQuery(Noun):
    """The revision the browser has, and the tables it shows, which may come first."""

    since: int | None = Field(None, ge=0)
    tables: str = Field("", max_length=400)


@blueprint.post("/<job_id>/findings/try", responses=answers_with("work.answers.assessment:TriedAnswer"))
def try_remedies(path: JobPath, body: FindingAsked) -> Response:
    """Try the remedies of a finding: what each cures, and what it would bring. Nothing is saved."""
    return opened(path.job_id, may="see").ask("findings.try", body)


@blueprint.post("/<job_id>/findings/mend", responses=answers_with("core.findings.trying:Mended"))
def mend_all(path: JobPath, body: RuleAsked) -> Response:
    """Work out what mends all findings of a rule as one edit. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("findings.mend", body)


@blueprint.get("/<job_id>/assessment", responses=answers_with("work.answers.assessment:AssessmentAnswer"))
def assessment(path: JobPath, query: AssessmentQuery) -> Response:
    """Return what was computed: findings, ledger, spaces, runs, ports, networks, kit; or what changed of it."""
    tables = tuple(filter(None, query.tables.split(",")))
    return opened(path.job_id, may="see").ask("assessment", AssessmentAsked(since=query.since, tables=tables))
