"""The demo school, assessed: what a person sees on opening it."""

from heathrise.core.findings import assess
from heathrise.core.job import Job, Storey
from heathrise.core.units import plain
from tests.house import House, changed


def test_the_school_has_something_true_to_show_at_every_stage(assessed):
    assert {finding.stage for finding in assessed.findings} >= {
        "brief",
        "air",
        "links",
        "runs",
        "ports",
        "network",
    }
    assert len(assessed.spaces) == 29
    assert len(assessed.runs) == 28
    assert not assessed.unplaced
    assert assessed.kit
    assert assessed.hours


def test_faults_come_first_and_one_finding_is_accepted_with_its_reason(assessed):
    order = [("fault", "warning", "advice").index(f.severity) for f in assessed.findings]
    assert order == sorted(order)
    accepted = [f for f in assessed.findings if f.accepted]
    assert [f.subject for f in accepted] == ["Portable classroom"]


def test_every_finding_has_words_a_number_reads_and_its_place_exists(assessed, school):
    ids = {storey.id for storey in school.of(Storey)}
    for finding in assessed.findings:
        assert "[[" in f"{finding.text}[["
        assert "[[" not in plain(finding.text)
        assert finding.place is None or finding.place.storey_id in ids


def test_the_ledger_has_its_six_totals_each_with_a_sum(assessed):
    assert [entry.key for entry in assessed.ledger] == ["spaces", "longest", "poe", "ports", "kit", "hours"]
    for entry in assessed.ledger:
        assert entry.sum.lines
        assert entry.sum.source


def test_a_job_of_nothing_is_assessed_without_a_word():
    empty = assess(Job(name="empty"))
    assert empty.ledger == ()
    assert empty.findings == ()


def test_a_total_past_its_limit_does_not_hold_and_leads_to_its_cause():
    house = House()
    house.point(x=3, y=4)
    job = changed(house.job, "Ground east", need="lessons")
    spaces = next(entry for entry in assess(job).ledger if entry.key == "spaces")
    assert not spaces.sum.holds
    assert spaces.goes_to == house.d.id_of("space", "Ground east")
