"""What was computed, as tables or as what changed of them; practice compared; papers made of tables."""

from datetime import UTC, datetime

from heathrise.core.edit import Put, apply
from heathrise.core.findings.assess import Assessment, assessment, settings, table
from heathrise.core.findings.tables import AssessmentChange, change_of
from heathrise.core.findings.trying import Tried, mended_all, tried
from heathrise.core.findings.whatif import what_if
from heathrise.core.library import UnknownItem
from heathrise.core.network.derived import built_as_planned
from heathrise.core.sums import Noun
from heathrise.exchange.named import named_file
from heathrise.exchange.questions import questions_pdf, questions_text
from heathrise.exchange.settingsfiles import bundle, settings_json, settings_yaml
from heathrise.exchange.topology import topology_json
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import (
    AssessmentAsked,
    FindingAsked,
    Nothing,
    PracticeAsked,
    QuestionsAsked,
    RuleAsked,
    SettingsAsked,
)
from heathrise.work.open_job import OpenJob


class AssessmentAnswer(Noun):
    """What changed since a revision; `since` is None when it is all there is."""

    revision: int
    since: int | None
    tables: AssessmentChange


@answers("assessment", AssessmentAsked)
def changed(opened: OpenJob, asked: AssessmentAsked) -> Answer:
    """Return the tables as they changed since a revision."""
    names = asked.tables or tuple(Assessment.model_fields)
    if unknown := set(names) - set(Assessment.model_fields):
        raise UnknownItem(f"there is no table named {min(unknown)}")
    revision = opened.tabled(asked.tables)
    since = (
        asked.since if asked.since is not None and opened.tables.first <= asked.since <= revision else None
    )
    found = opened.tables.since(since, names)
    tables = change_of(found)
    body = AssessmentAnswer.model_construct(revision=revision, since=since, tables=tables)
    return Answer(body.model_dump_json().encode(), revision)


@answers("practice.compare", PracticeAsked)
def compare_practice(opened: OpenJob, asked: PracticeAsked) -> Answer:
    """Say what would become of findings, cost, hours and runs under another practice."""
    memo = opened.memo()
    job = memo.source
    now = job.practice
    changed = asked.practice.model_copy(update={"id": now.id} if now.id in job.by_id else {})
    after = apply(job, [Put(element=changed)]).job
    return in_json(what_if(assessment(memo.look), after), memo.revision)


class TriedAnswer(Noun):
    """The remedies of a finding, tried."""

    remedies: tuple[Tried, ...]


@answers("findings.try", FindingAsked)
def try_remedies(opened: OpenJob, asked: FindingAsked) -> Answer:
    """Say what each remedy of a finding cures, and what it would bring."""
    memo = opened.memo()
    return in_json(TriedAnswer(remedies=tried(memo, asked.key)), memo.revision)


@answers("findings.mend", RuleAsked)
def mend_all(opened: OpenJob, asked: RuleAsked) -> Answer:
    """Work out what mends all findings of a rule as one edit."""
    memo = opened.memo()
    return in_json(mended_all(memo, asked.rule), memo.revision)


_SETTINGS = {
    "json": "application/json; charset=utf-8",
    "yaml": "application/yaml; charset=utf-8",
    "zip": "application/zip",
}


@answers("export.settings", SettingsAsked)
def export_settings(opened: OpenJob, asked: SettingsAsked) -> Answer:
    """Networks, names, radios and ports as a file."""
    memo = opened.memo()
    found = settings(memo.look)
    written = {
        "json": lambda: settings_json(found).encode(),
        "yaml": lambda: settings_yaml(found).encode(),
        "zip": lambda: bundle(found, built_as_planned(memo.look)),
    }
    name = named_file(memo.source.name, f"settings.{asked.ending}")
    return Answer(written[asked.ending](), memo.revision, _SETTINGS[asked.ending], name)


@answers("export.topology", Nothing)
def export_topology(opened: OpenJob, _: Nothing) -> Answer:
    """What is joined to what."""
    memo = opened.memo()
    text = topology_json(memo.source.name, built_as_planned(memo.look))
    name = named_file(memo.source.name, "topology.json")
    return Answer(text.encode(), memo.revision, _SETTINGS["json"], name)


@answers("export.questions", QuestionsAsked)
def export_questions(opened: OpenJob, asked: QuestionsAsked) -> Answer:
    """The questions to the client: text or PDF."""
    memo = opened.memo()
    questions, name = table(memo.look, "questions"), memo.source.name
    today = datetime.now(tz=UTC).date()
    if asked.ending == "txt":
        body, kind = questions_text(name, questions, today).encode(), "text/plain; charset=utf-8"
    else:
        practice = memo.source.practice.label
        body, kind = questions_pdf(name, questions, today, practice), "application/pdf"
    return Answer(body, memo.revision, kind, named_file(name, f"questions.{asked.ending}"))
