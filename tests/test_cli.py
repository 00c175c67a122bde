"""The command line, run as a person runs it."""

import csv
import json
import subprocess
import sys
from pathlib import Path

import click
import pytest
from click.testing import CliRunner

from heathrise.cli import main
from heathrise.exchange.jobfile import job_schema, write_job

CASES = Path(__file__).parent / "core" / "worked_examples.json"


@pytest.fixture
def job(tmp_path, school):
    path = tmp_path / "school.json"
    path.write_text(write_job(school), "utf-8")
    return str(path)


def run(*words):
    return CliRunner().invoke(main, [str(word) for word in words])


def test_check_prints_findings_and_totals(job, assessed):
    found = json.loads(run("check", job, "--json").output)
    assert found["job"] == "Tern Lane Music School"
    assert [f["key"] for f in found["findings"]] == [f.key for f in assessed.findings]
    assert found["totals"]["ports"]["value"] == 28
    assert "[[" not in json.dumps(found)


def test_check_reads_well_too_and_strict_fails_on_an_open_fault(job):
    plain = run("check", job)
    assert plain.exit_code == 0
    assert "Ports: 28 / 44" in plain.output
    assert run("check", job, "--strict").exit_code == 1


def test_vectors_hold_and_exit_with_zero():
    result = run("vectors", CASES)
    assert result.exit_code == 0
    assert "35 of 35 hold" in result.output


def test_vectors_exit_with_one_when_one_does_not_hold(tmp_path):
    cases = json.loads(CASES.read_text("utf-8"))
    cases[0]["expect"]["pd_v"] = 40
    path = tmp_path / "wrong.json"
    path.write_text(json.dumps(cases), "utf-8")
    result = run("vectors", path)
    assert result.exit_code == 1
    assert "DOES NOT HOLD" in result.output
    assert "34 of 35 hold" in result.output


def test_coverage_on_a_grid_has_the_documented_columns(job, tmp_path):
    out = tmp_path / "grid.csv"
    assert run("coverage", job, "--band", "5", "--floor", "First", "--grid", "4", "--out", out).exit_code == 0
    rows = list(csv.DictReader(out.read_text("utf-8").splitlines()))
    assert list(rows[0]) == ["floor", "x", "y", "ap", "rssi_down_dbm", "rssi_up_dbm", "path_loss_db"]
    assert {row["floor"] for row in rows} == {"First"}
    assert len(rows) == 11 * 9 * 15
    assert (rows[0]["x"], rows[0]["y"]) == ("1.0", "1.0")


def test_coverage_at_points_and_its_arithmetic(job, tmp_path):
    points, out = tmp_path / "points.csv", tmp_path / "at.csv"
    points.write_text("floor,x,y\nGround,17.5,4.0\nFirst,20,4\n", "utf-8")
    at_points = ["coverage", job, "--band", "5", "--at", points, "--out", out]
    assert run(*at_points, "--direct").exit_code == 0
    rows = list(csv.DictReader(out.read_text("utf-8").splitlines()))
    (foyer,) = [r for r in rows if r["ap"] == "Foyer" and r["floor"] == "Ground"]
    # 1.9 m straight under the disc: 47.255 + 20 log 1.9; 17 dBm down, a phone's 14 up, 4 and -3 dBi.
    assert float(foyer["path_loss_db"]) == pytest.approx(52.830, abs=0.01)
    assert float(foyer["rssi_down_dbm"]) == pytest.approx(17 + 4 - 3 - 52.830, abs=0.01)
    assert float(foyer["rssi_up_dbm"]) == pytest.approx(14 + 4 - 3 - 52.830, abs=0.01)
    assert run(*at_points).exit_code == 0
    whole = next(r for r in csv.DictReader(out.read_text("utf-8").splitlines()) if r["ap"] == "Foyer")
    assert 51 < float(whole["path_loss_db"]) < 52.83


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (
            ["coverage", "{job}", "--band", "5", "--floor", "Attic", "--out", "x.csv"],
            "no storey Attic; it has Ground, First",
        ),
        (["coverage", "{job}", "--band", "7", "--out", "x.csv"], "not one of"),
        (["check", "{bad}"], "no job file"),
        (["vectors", "{job}"], "not a list of worked examples"),
        (
            ["coverage", "{job}", "--band", "5", "--at", "{bad}", "--out", "x.csv", "--floor", "First"],
            "line 2: x and y must be numbers",
        ),
    ],
)
def test_mistakes_are_answered_in_words(job, tmp_path, words, said):
    bad = tmp_path / "bad.csv"
    bad.write_text('{"x":\n1}', "utf-8")
    if words[0] == "check":
        bad.write_text('{"format": "other"}', "utf-8")
    result = run(*[word.format(job=job, bad=bad) if "{" in word else word for word in words])
    assert result.exit_code != 0
    assert said in result.output


def test_the_schema_is_published():
    assert json.loads(run("schema").output) == job_schema()


def test_each_command_is_listed_as_it_says_itself_and_none_is_loaded_for_it():
    listed = subprocess.run(
        [sys.executable, "-c", "import sys; from heathrise.cli import main\n"
         "try: main(['--help'])\nfinally: print('loaded:', [m for m in sys.modules if 'heathrise.core' in m])"],
        capture_output=True, text=True, check=True,
    ).stdout  # fmt: skip
    assert "loaded: []" in listed
    for name in ("check", "coverage", "schema", "vectors"):
        command = main.get_command(click.Context(main), name)
        assert command is not None and command.help is not None
        assert " ".join(command.help.split("\n\n")[0].split()) in " ".join(listed.split())
