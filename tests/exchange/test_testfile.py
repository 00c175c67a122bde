"""Files of cable tests as other people's testers write them: other columns, languages, shapes, and what cannot be taken."""

from datetime import UTC, datetime

import pytest

from heathrise.core.cabling.derived import runs
from heathrise.core.proving.testfile import held_against, plain_label
from heathrise.exchange.rows import table_rows
from heathrise.exchange.schedule import workbook
from heathrise.exchange.tables import to_csv
from heathrise.exchange.testfile import COLUMNS, quantity_of, read_tests, rows_of_tests
from heathrise.exchange.unreadable import Unreadable
from tests.core.findings.test_rules import sound
from tests.house import look_at

NOW = datetime(2026, 5, 4, 12, tzinfo=UTC)
LONG = """label;configuration;class;verdict;quantity;pair;f_mhz;value
R-01;permanent link;EA;pass;insertion loss;1,2;100;12,5
R-01;permanent link;EA;pass;NEXT;12-36;100;48,1
R-01;permanent link;EA;pass;length;12;;7,9
R-02;channel;EA;pass;length;12;;8,1
"""
WIDE = """Some tester, exported 2026-05-04
Cable ID,Date,Link type,Limit,Result,Length (m),Delay skew (ns),NEXT (dB),Remarks
R-01,04.05.2026 09:15,PL,Cat 6A,PASS,7.9,12,48.1,
R-02,04.05.2026 09:20,Perm. Link,Cat 6A,FAIL,8.4,14,22.0,"door, west"
,,,,,,,,
"""
GERMAN = """Kabel-ID\tMessart\tKlasse\tErgebnis\tLänge\tEinfügedämpfung\tFrequenz
R-01\tPermanent Link\tEA\tbestanden\t7,9\t12,5\t100
R-02\tKanal\tEA\tnicht bestanden\t8,1\t13,0\t100
"""


def read(text: str):
    return read_tests(table_rows(text.encode()))


def held(text: str, job=None, **more):
    job = job or sound().job
    tests, skipped = read(text)
    given = {"chosen": {}, "any_site": False} | more
    return held_against(job, runs(look_at(job)).plans, tests, "Ana", NOW, skipped=skipped, **given)


@pytest.mark.parametrize(
    ("text", "labels", "configurations", "verdicts"),
    [
        (LONG, ["R-01", "R-02"], ["permanent link", "channel"], ["pass", "none"]),
        (WIDE, ["R-01", "R-02"], ["permanent link", "permanent link"], ["pass", "fail"]),
        (GERMAN, ["R-01", "R-02"], ["permanent link", "channel"], ["pass", "fail"]),
    ],
    ids=["long", "wide", "german"],
)
def test_tables_of_other_shapes_and_languages_are_read(text, labels, configurations, verdicts):
    tests, _ = read(text)
    assert [one.label for one in tests] == labels
    assert [one.test.configuration for one in tests] == configurations
    assert [one.test.test_class for one in tests] == ["EA", "EA"]
    assert tests[0].test.verdict == verdicts[0]
    first = {(r.quantity, r.value) for r in tests[0].test.readings}
    assert ("length", 7.9) in first


def test_a_date_with_dots_has_its_day_first():
    tests, _ = read(WIDE)
    assert tests[0].said_at == datetime(2026, 5, 4, 9, 15, tzinfo=UTC)


def test_many_frequencies_of_a_pair_are_a_curve():
    rows = "\n".join(f"R-01,EA,NEXT,12-36,{f},{60 - f / 10}" for f in range(1, 101))
    (one,), _ = read(f"label,class,quantity,pair,f_mhz,value\n{rows}\n")
    (curve,) = one.test.curves
    assert (len(curve.f_mhz), one.test.readings) == (100, ())


@pytest.mark.parametrize(
    ("word", "quantity"),
    [
        ("NEXT (dB)", "next"),
        ("PS NEXT", "other"),
        ("ACR-F", "other"),
        ("Insertion loss", "insertion-loss"),
        ("RL", "return-loss"),
        ("Prop. delay", "delay"),
        ("Delay skew", "skew"),
        ("Résistance", "loop"),
        ("Lunghezza", "length"),
        ("Colour", None),
        ("next visit", "next"),
    ],
)
def test_quantities_by_other_names(word, quantity):
    assert quantity_of(word) == quantity


def test_labels_are_found_however_they_are_written():
    assert plain_label("TR1-A-07 / R-0.14") == plain_label("tr1 a07/r0.14")
    found = held("label,verdict\nr01,pass\n R 02 ,pass\n")
    assert [row.run_label for row in found.rows] == ["R-01", "R-02"]


def test_what_is_not_of_this_job_is_named_and_not_taken():
    found = held(
        "label,class,verdict,site\nR-77,EA,pass,Test house\nR-01,EA,pass,Other school\nR-02,EA,pass,Test house\n"
    )
    assert [row.taken for row in found.rows] == [False, False, True]
    assert "no run of this job" in found.rows[0].problem
    assert "Other school" in found.rows[1].problem
    assert (found.unnamed, found.other_site, found.taken) == (("R-77",), "Other school", 1)
    assert held("label,class,verdict,site\nR-01,EA,pass,Other school\n", any_site=True).taken == 1


def test_a_person_says_what_an_unknown_label_stands_for():
    job = sound().job
    plans = runs(look_at(job)).plans
    found = held("label,verdict\nPort 7,pass\n", job, chosen={"Port 7": plans[1].run_id})
    assert (found.rows[0].how, found.records[0].subject) == ("chosen", plans[1].run_id)


def test_another_configuration_or_class_is_kept_and_does_not_count():
    found = held("label,configuration,class,verdict\nR-01,channel,EA,pass\nR-02,PL,Cat 5e,pass\n")
    assert all(row.taken and "does not count" in row.warning for row in found.rows)


def test_a_file_read_twice_makes_the_same_records():
    assert [r.id for r in held(LONG).records] == [r.id for r in held(LONG).records]


@pytest.mark.parametrize("text", ["a,b\n1,2\n", "label\nR-01\n", ""])
def test_a_table_that_is_no_file_of_tests_says_what_it_lacks(text):
    with pytest.raises(Unreadable, match="no row names a cable"):
        read(text)


def test_a_value_out_of_all_bounds_stops_its_own_row_only():
    found = held("label,verdict,length\nR-01,pass,999999999\nR-02,pass,8\n")
    assert [row.taken for row in found.rows] == [False, True]
    assert "out of all bounds" in found.rows[0].problem


@pytest.mark.parametrize("ending", ["csv", "xlsx"])
def test_what_is_written_is_read_back_the_same(ending):
    job = sound().job
    records = held(LONG, job).records
    plans = runs(look_at(job)).plans
    rows = rows_of_tests({plan.run_id: plan.label for plan in plans}, records, job.name)
    body = to_csv(COLUMNS, rows).encode() if ending == "csv" else workbook((("Tests", COLUMNS, rows),))
    again, skipped = read_tests(table_rows(body))
    assert skipped == 0
    kept = [one.test.model_copy(update={"site": ""}) for one in again]
    assert kept == [record.measured for record in records]
