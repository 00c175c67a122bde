"""What docs/adding.md promises: a row or a table of data is enough, and each is then used."""

import json
import shutil
import subprocess
import sys
from importlib import resources

import pytest

# A process of its own: the library is read once.
SCRIPT = """
import json, pathlib, sys
from heathrise.core.library import loader
loader._data = lambda: pathlib.Path(sys.argv[1])
from tests.core.library.test_adding import used
print(json.dumps(used()))
"""
MODEL = """
[sensor-new]
label = "A sensor nobody knew"
sign = "device"
mounts = ["outlet"]
ports = [ { name = "1", speed_mbps = 1000, takes_class = 2, uplink = true } ]
max_w = 4
typical_w = 3
price = 33
"""
TABLE = """
[far-runs]
stages = ["runs"]
name = "Seen from afar"
rows = "runs"
selects = "run_id"
empty = "Nothing yet."
columns = [ { key = "run", name = "Run", text = "{label}" } ]
"""


def used():
    from heathrise.core.findings import assess  # noqa: PLC0415
    from heathrise.core.library import library  # noqa: PLC0415
    from tests.house import House  # noqa: PLC0415

    house = House()
    house.rack()
    house.switch()
    house.run(house.thing("New", model="sensor-new"), "R-01", cable="cat9-indoor")
    found = assess(house.job)
    (run,) = found.runs
    return {
        "speed": run.speed_mbps,
        "port": [port.run_label for port in found.ports if port.run_label],
        "needs": [port.needs_class for port in found.ports if port.run_label],
        "kit": sorted(line.label for line in found.kit if "New" in line.label or "nobody" in line.label),
        "table": library().tables["far-runs"].name,
        "broken": [f.text for f in found.findings if f.rule == "findings.could-not-run"],
    }


@pytest.fixture(scope="module")
def answer(tmp_path_factory):
    folder = tmp_path_factory.mktemp("library") / "data"
    shutil.copytree(str(resources.files("heathrise.core.library") / "data"), folder)
    for name, more in (
        ("categories.csv", "9,Cat 9,9,jack-6a,,,made up\n"),
        ("speeds.csv", "9,1000,100,100,,made up\n9,40000,100,100,,made up\n"),
        ("cables.csv", "cat9-indoor,New cable indoor,9,23,no,7,,general,yes,Cca,no,305,300,no,made up\n"),
        ("equipment/fixed.toml", MODEL),
        ("tables.toml", TABLE),
    ):
        with (folder / name).open("a", encoding="utf-8") as file:
            file.write(more)
    found = subprocess.run(
        [sys.executable, "-c", SCRIPT, str(folder)], capture_output=True, text=True, check=False
    )
    assert not found.returncode, found.stderr
    return json.loads(found.stdout)


def test_a_category_of_cable_is_rows_and_runs_of_it_are_planned(answer):
    assert answer["speed"] == 1000
    assert "New cable indoor" in " ".join(answer["kit"])


def test_a_model_is_a_table_and_is_fed_planned_and_counted(answer):
    assert (answer["port"], answer["needs"]) == (["R-01"], [2])
    assert "A sensor nobody knew" in answer["kit"]


def test_a_table_of_a_stage_is_a_table_of_data(answer):
    assert answer["table"] == "Seen from afar"


def test_nothing_breaks_by_it(answer):
    assert answer["broken"] == []
