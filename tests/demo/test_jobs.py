"""The demo jobs: whole, different in kind, and true in what they have to say."""

import pytest
from demo.load import JOBS

from heathrise.core.findings import assess
from heathrise.core.job import Job, NoGo, Planting, Shaft, Space, Wall
from heathrise.core.site.building import building_of
from heathrise.exchange.jobfile import read_job, write_job

FLAWS = {
    "plan.space-open",
    "plan.wall-crosses-itself",
    "plan.door-improbable",
    "plan.storey-height",
    "plan.wall-without-build-up",
    "plan.no-riser",
    "runs.no-run",
}


@pytest.fixture(scope="module", params=JOBS.values(), ids=list(JOBS))
def job(request) -> Job:
    return request.param()


def test_each_is_drawn_without_a_flaw_and_goes_out_and_in(job):
    assert [f.text for f in assess(job).findings if f.rule in FLAWS] == []
    assert read_job(write_job(job).encode()) == job
    assert all(polygon.is_valid for polygon in building_of(job).polygons.values())


def test_each_has_something_in_every_stage(job):
    found = assess(job)
    assert (
        found.ledger
        and found.spaces
        and found.runs
        and found.feeds
        and found.ports
        and found.scopes
        and found.kit
    )
    assert found.demand and any(q.answer for q in found.questions) and any(d.wanted for d in found.drops)
    assert {line.way for line in found.inventory} == {"air", "cable"}


def by_name(name: str) -> Job:
    return next(job for job in (make() for make in JOBS.values()) if job.name == name)


def test_the_mill_has_half_a_metre_of_stone_and_a_boat_store_beyond_a_plain_run():
    mill = by_name("Withy Mill House")
    assert {s.storey_kind for s in mill.storeys} == {"cellar", "floor", "loft"}
    assert any(w.build_up == "stone-500" and w.thickness_m == 0.5 for w in mill.of(Wall))
    assert mill.of(Shaft) and mill.of(Planting)
    over = {f.subject for f in assess(mill).findings if f.rule == "runs.over-length"}
    assert over == {"R-06 to Boat store", "R-15 to Boat store camera"}


def test_the_clinic_keeps_out_of_the_lead_and_its_kennels_are_clad_in_metal():
    clinic = by_name("Fern Hollow Veterinary Clinic")
    assert len(clinic.storeys) == 1
    assert {"lead", "damp", "electrical"} == {area.reason for area in clinic.of(NoGo)}
    assert {"lead-lined", "metal-clad"} <= {w.build_up for w in clinic.of(Wall)}
    assert {s.label for s in clinic.of(Space)} >= {"Imaging", "Kennels", "Reception"}
