"""The job file: out and back identical, and every bad one refused in words."""

import json
from pathlib import Path

import jsonschema
import pytest
from demo.tern_lane import tern_lane
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.findings import assess
from heathrise.core.job import Attachment
from heathrise.exchange.jobfile import NotAJobFile, job_schema, read_job, write_job
from tests.house import House

SCHOOL = tern_lane()
TEXT = write_job(SCHOOL)


def test_out_and_back_is_identical():
    assert read_job(TEXT) == SCHOOL
    assert write_job(read_job(TEXT)) == TEXT


def test_a_picture_travels_inside():
    picture = Attachment.model_construct(id=SCHOOL.elements[0].id, name="plan.png", png=b"\x89PNG\x00\xff")
    with_picture = SCHOOL.model_copy(update={"attachments": (picture,)})
    assert read_job(write_job(with_picture)).attachments[0].png == b"\x89PNG\x00\xff"


def test_the_published_schema_accepts_the_file():
    jsonschema.validate(json.loads(TEXT), job_schema())


def test_the_published_schema_refuses_a_wall_without_a_storey():
    body = json.loads(write_job(House().job))
    wall = next(e for e in body["elements"] if e["kind"] == "wall")
    del wall["storey_id"]
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(body, job_schema())


def broken(**changes):
    return json.dumps(json.loads(TEXT) | changes)


REFUSED = [
    ("", "not readable JSON"),
    ("{", "not readable JSON"),
    ("[" * 100_000, "not readable JSON"),
    (b"\xff\xfe\x00", "not readable JSON"),
    ("[]", "no job file"),
    ('{"format": "another"}', "no job file"),
    (broken(schema_version=3), "schema version 3; this release reads up to 2"),
    (broken(schema_version="old"), "schema_version"),
    (broken(name=""), "name: String should have at least 1 character"),
    (broken(elements=[{"kind": "wall"}]), r"elements\.0\.wall\.id: Field required"),
    (broken(surprise=1), "surprise: Extra inputs"),
]


@pytest.mark.parametrize(("text", "words"), REFUSED, ids=[words for _, words in REFUSED])
def test_a_file_that_is_no_job_is_refused_in_words(text, words):
    with pytest.raises(NotAJobFile, match=words):
        read_job(text)


@given(st.integers(0, len(TEXT) - 1), st.sampled_from('{}[]",:0x-'))
@settings(max_examples=60, deadline=None)
def test_a_file_with_a_letter_changed_is_read_or_refused_never_worse(position, letter):
    try:
        read_job(TEXT[:position] + letter + TEXT[position + 1 :])
    except NotAJobFile as refusal:
        assert str(refusal)


def test_the_example_of_the_documentation_is_a_job():
    page = (Path(__file__).parents[2] / "docs" / "job-file.md").read_text("utf-8")
    job = read_job(page.split("```json\n")[1].split("```")[0])
    assert {element.kind for element in job.elements} >= {"rack", "equipment", "link", "access-point"}
    assert not [f for f in assess(job).findings if f.rule in ("findings.could-not-run", "ports.not-decided")]
