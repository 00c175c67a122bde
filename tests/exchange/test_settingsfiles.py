"""Settings as files: valid by their published schemas, alike in every notation, a sheet a device."""

import csv
import io
import json
import zipfile
from pathlib import Path

import jsonschema
import pytest
import yaml
from demo.load import JOBS

from heathrise.core.findings.assess import settings
from heathrise.core.network.derived import built_as_planned
from heathrise.exchange.settingsfiles import bundle, settings_json, settings_yaml
from heathrise.exchange.topology import topology_json
from tests.house import look_at

DOCS = Path(__file__).resolve().parents[2] / "docs"


def schema(name: str):
    return json.loads((DOCS / f"{name}.schema.json").read_text("utf-8"))


@pytest.fixture(scope="module", params=list(JOBS))
def made(request):
    look = look_at(JOBS[request.param]())
    return settings(look), built_as_planned(look)


def test_settings_are_valid_by_the_published_schema_and_alike_in_both_notations(made):
    document = json.loads(settings_json(made[0]))
    jsonschema.validate(document, schema("settings"))
    assert yaml.safe_load(settings_yaml(made[0])) == document


def test_the_topology_is_valid_and_every_link_goes_both_ways(made):
    document = json.loads(topology_json("A job", made[1]))
    jsonschema.validate(document, schema("topology"))
    (network,) = document["ietf-network:networks"]["network"]
    ports = {
        (node["node-id"], tp["tp-id"])
        for node in network["node"]
        for tp in node["ietf-network-topology:termination-point"]
    }
    ways = set()
    for link in network["ietf-network-topology:link"]:
        here = (link["source"]["source-node"], link["source"]["source-tp"])
        there = (link["destination"]["dest-node"], link["destination"]["dest-tp"])
        assert here in ports
        assert there in ports
        ways.add((here, there))
    assert ways
    assert all((there, here) in ways for here, there in ways)


def test_the_archive_has_a_sheet_of_each_device_that_opens_as_a_table(made):
    archive = zipfile.ZipFile(io.BytesIO(bundle(*made)))
    sheets = [name for name in archive.namelist() if name.startswith("devices/")]
    assert len(sheets) == len(made[0].devices)
    for name in sheets:
        rows = list(csv.reader(io.StringIO(archive.read(name).decode())))
        assert rows[0][0] in ("port", "band")
        assert len({len(row) for row in rows}) == 1
    assert bundle(*made) == bundle(*made)


@pytest.mark.parametrize(("field", "wrong"), [("schema_version", 1), ("networks", "none"), ("secret", "x")])
def test_the_schema_refuses_what_is_no_settings(made, field, wrong):
    document = json.loads(settings_json(made[0])) | {field: wrong}
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(document, schema("settings"))
