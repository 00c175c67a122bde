"""An edit costs what it changes: counted by name, and the same to the bit as working everything out anew."""

import random

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from heathrise.core.deriving import Memo
from heathrise.core.edit import Put, Remove, apply
from heathrise.core.findings.assess import Assessment, assess, assessment, table
from heathrise.core.findings.slices import SLICES
from heathrise.core.findings.tables import Tables
from heathrise.core.job import AccessPoint, Equipment, Job, Link, OnSheet, Space, Wall
from heathrise.core.job.view import changed_keys
from tests.house import House, by_label

HEAVY = {"radio.heard", "radio.sight", "radio.channel_plan", "site.building", "radio.scene"}


def small() -> Job:
    house = House()
    house.rack()
    house.switch()
    for n, (x, y) in enumerate(((2, 2), (4, 6), (9, 3))):
        house.run(house.point(f"AP {n}", x, y), f"R-0{n}")
    for n in range(3):
        house.run(house.thing(f"Outlet {n}", 7 + n, 1), f"R-1{n}", cable="cat6-indoor")
    house.add("pathway", "Tray", storey_id=house.ground, path=[{"x_m": 1, "y_m": 4}, {"x_m": 11, "y_m": 4}])
    network = house.add("network", "Main", vlan=20, subnet="10.20.20.0/24")
    house.add("ssid", "main", network_id=network)
    stops = [{"storey_id": house.ground, "at": {"x_m": x, "y_m": 4}} for x in (1, 5, 11)]
    house.add("walk", "Round", stops=stops)
    return house.job


class Open:
    """A job open at a memo, as a calculator holds it."""

    def __init__(self, job: Job):
        self.memo = Memo(job)
        self.undone = []
        assessment(self.memo.look)

    @property
    def job(self) -> Job:
        return self.memo.source

    def edit(self, *operations) -> dict[str, int]:
        """Make an edit and bring everything up to date; returns what ran, by name."""
        edited = apply(self.job, operations)
        self.undone.append(edited.inverse)
        self.memo.advance(edited.job, self.memo.revision + 1, changed_keys(self.job, edited.job, SLICES))
        self.memo.worked.clear()
        assessment(self.memo.look)
        return dict(self.memo.worked)

    def change(self, label: str, /, **changes) -> dict[str, int]:
        element = by_label(self.job, label)
        return self.edit(Put(element=type(element).model_validate(element.model_dump() | changes)))


@pytest.fixture
def school(school) -> Open:
    return Open(school)


def ran(worked: dict[str, int], *names: str) -> dict[str, int]:
    return {name: worked.get(name, 0) for name in names}


def test_a_job_that_did_not_change_runs_nothing(school):
    school.memo.advance(school.job, 1, changed_keys(school.job, school.job, SLICES))
    school.memo.worked.clear()
    assessment(school.memo.look)
    assert not school.memo.worked


def test_renaming_a_space_writes_its_rows_anew_and_no_signal(school):
    worked = school.change("Foyer", label="Entrance")
    assert not HEAVY & set(worked)
    assert ran(worked, "radio.scored", "radio.space_score") == {"radio.scored": 0, "radio.space_score": 1}
    assert ran(worked, "cabling.route", "cabling.run_plan") == {"cabling.route": 0, "cabling.run_plan": 0}


def test_people_of_a_space_are_laid_on_the_air_without_a_ray(school):
    worked = school.change("Foyer", people=90)
    assert not HEAVY & set(worked)
    assert ran(worked, "radio.scored", "site.brief", "radio.airtime") == {
        "radio.scored": 0,
        "site.brief": 1,
        "radio.airtime": 1,
    }


def test_a_note_in_the_brief_runs_no_air_and_no_run(school):
    brief = by_label(school.job, "Brief")
    worked = school.edit(Put(element=brief.model_copy(update={"budget": 12_345.0})))
    assert not HEAVY & set(worked)
    assert ran(worked, "cabling.run_plan", "power.feed_plan", "ordering.kit") == {
        "cabling.run_plan": 0,
        "power.feed_plan": 0,
        "ordering.kit": 1,
    }


def test_another_cable_works_out_one_run(school):
    worked = school.change("R-05", product="cat6-indoor")
    assert not HEAVY & set(worked)
    assert ran(worked, "cabling.route", "cabling.run_plan", "power.feed_plan") == {
        "cabling.route": 1,
        "cabling.run_plan": 1,
        "power.feed_plan": 1,
    }


def test_a_new_name_of_a_run_is_one_run(school):
    worked = school.change("R-05", label="R-99")
    assert not HEAVY & set(worked)
    assert worked["cabling.run_plan"] == 1


def test_a_thing_more_routes_its_own_run_alone(school):
    ground = by_label(school.job, "Ground").id
    rack = by_label(school.job, "TR1").id
    thing = Equipment(
        id="00000000-0000-7000-8000-0000000000e1",
        label="Outlet new",
        model="outlet-data",
        place=OnSheet(storey_id=ground, at={"x_m": 20, "y_m": 3}),
    )
    run = Link(
        id="00000000-0000-7000-8000-0000000000e2",
        label="R-77",
        product="cat6-indoor",
        a={"on": rack},
        b={"on": thing.id},
    )
    worked = school.edit(Put(element=thing), Put(element=run))
    assert not HEAVY & set(worked)
    assert worked["cabling.route"] == 1


def test_a_channel_is_planned_on_its_band_and_no_signal_is_sent_again(school):
    point = next(p for p in school.job.of(AccessPoint) if p.label == "Foyer")
    radios = tuple(r.model_copy(update={"channel": 11} if r.band == "2.4" else {}) for r in point.radios)
    worked = school.edit(Put(element=point.model_copy(update={"radios": radios})))
    assert ran(worked, "radio.heard", "site.building", "radio.scene") == {
        "radio.heard": 0,
        "site.building": 0,
        "radio.scene": 0,
    }


def test_a_power_is_an_offset_and_no_path_is_followed_again(school):
    point = next(p for p in school.job.of(AccessPoint) if p.label == "Foyer")
    radios = tuple(r.model_copy(update={"power_dbm": 9.0} if r.band == "5" else {}) for r in point.radios)
    worked = school.edit(Put(element=point.model_copy(update={"radios": radios})))
    assert ran(worked, "radio.ways_over", "radio.between", "radio.channel_plan", "radio.scene") == {
        "radio.ways_over": 0,
        "radio.between": 0,
        "radio.channel_plan": 1,
        "radio.scene": 0,
    }


def test_people_load_the_radios_that_serve_their_space_and_no_other(school):
    worked = school.change("Library", people=41)
    assert ran(worked, "site.space_demand", "radio.space_served", "radio.radio_row") == {
        "site.space_demand": 1,
        "radio.space_served": 0,
        "radio.radio_row": 0,
    }
    assert 1 <= worked["radio.radio_load"] <= 3


def test_a_point_that_moves_is_heard_anew_and_routes_one_run(school):
    point = next(p for p in school.job.of(AccessPoint) if p.label == "Library")
    at = point.at.model_copy(update={"x_m": point.at.x_m - 0.5})
    worked = school.edit(Put(element=point.model_copy(update={"at": at})))
    assert ran(worked, "site.building", "radio.scene", "cabling.route", "cabling.router") == {
        "site.building": 0,
        "radio.scene": 0,
        "cabling.route": 1,
        "cabling.router": 0,
    }
    assert worked["radio.heard"] <= 6


def test_an_inside_wall_that_moves_makes_one_building(school):
    wall = next(w for w in school.job.of(Wall) if w.label.startswith("Upper party wall"))
    shifted = {
        "a": wall.a.model_copy(update={"x_m": wall.a.x_m + 0.1}),
        "b": wall.b.model_copy(update={"x_m": wall.b.x_m + 0.1}),
    }
    worked = school.edit(Put(element=wall.model_copy(update=shifted)))
    assert worked["site.building"] == 1
    assert ran(worked, "site.brief", "network.nets") == {"site.brief": 0, "network.nets": 0}


# What a person might do, by name; each takes the job and a source of chance and returns operations.
def _rename(job, rng):
    element = rng.choice([e for e in job.elements if e.kind not in ("acceptance",)])
    return [Put(element=element.model_copy(update={"label": f"Name {rng.randrange(1000)}"}))]


def _move_point(job, rng):
    point = rng.choice(job.of(AccessPoint))
    at = point.at.model_copy(update={"x_m": rng.uniform(1, 11), "y_m": rng.uniform(1, 7)})
    return [Put(element=point.model_copy(update={"at": at}))]


def _recable(job, rng):
    link = rng.choice(job.of(Link))
    cable = rng.choice(("cat5e-indoor", "cat6-indoor", "cat6a-screened"))
    return [Put(element=link.model_copy(update={"product": cable}))]


def _people(job, rng):
    space = rng.choice(job.of(Space))
    need = rng.choice(("calls", "browsing", "none", "lessons"))
    return [Put(element=space.model_copy(update={"people": rng.randrange(60), "need": need}))]


def _radio(job, rng):
    point = rng.choice(job.of(AccessPoint))
    channel = rng.choice((None, 36, 44, 100))
    radios = [{"band": "5", "power_dbm": rng.randrange(5, 20), "channel": channel}]
    return [Put(element=AccessPoint.model_validate(point.model_dump() | {"radios": radios}))]


def _practice(job, rng):
    changes = rng.choice(
        ({"cords_m": 8.0}, {"design_on": "down"}, {"points_power": "more-power"}, {"ends": "A"})
    )
    return [Put(element=job.practice.model_copy(update=changes))]


def _wall(job, rng):
    wall = (
        by_label(job, "Ground middle")
        if any(w.label == "Ground middle" for w in job.of(Wall))
        else rng.choice(job.of(Wall))
    )
    return [Put(element=wall.model_copy(update={"build_up": rng.choice(("brick-102", "stud-plasterboard"))}))]


def _remove(job, rng):
    left = [
        e for e in job.elements if e.kind in ("access-point", "equipment", "link", "pathway", "ssid", "walk")
    ]
    return [Remove(id=rng.choice(left).id)] if len(left) > 4 else []


EDITS = (_rename, _move_point, _recable, _people, _radio, _practice, _wall, _remove)


@given(st.lists(st.tuples(st.integers(0, len(EDITS)), st.integers(0, 2**16)), min_size=1, max_size=5))
@settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.too_slow])
def test_any_edits_and_undos_give_what_working_everything_out_anew_gives(steps):
    """The same document to the bit, and the same tables for whoever takes in the changes alone."""
    here, tables, shown = Open(small()), Tables(), {}
    _take(here, tables)
    shown = _taken(shown, tables.since(None, Assessment.model_fields))
    for which, seed in steps:
        before = here.memo.revision
        if which == len(EDITS):
            here.edit(*(here.undone.pop() if here.undone else ()))
        elif here.job.of(AccessPoint) and here.job.of(Link):
            here.edit(*EDITS[which](here.job, random.Random(seed)))
        _take(here, tables)
        shown = _taken(shown, tables.since(before, Assessment.model_fields))
    fresh = assess(here.job)
    assert assessment(here.memo.look) == fresh
    anew = Tables()
    for name in Assessment.model_fields:
        anew.take(0, name, getattr(fresh, name))
    assert shown == _taken({}, anew.since(None, Assessment.model_fields))


def _take(here, tables):
    for name in Assessment.model_fields:
        tables.take(here.memo.revision, name, table(here.memo.look, name))


def _taken(shown, changes):
    """What a browser makes of an answer."""
    found = dict(shown)
    for name, change in changes.items():
        rows = {**found.get(name, {}), **change.rows}
        order = change.order if change.order is not None else tuple(found.get(name, {}))
        found[name] = {key: rows[key] for key in order}
    return found


def test_the_order_elements_stand_in_changes_nothing():
    job = small()
    shuffled = list(job.elements)
    random.Random(5).shuffle(shuffled)
    assert assess(Job(name=job.name, elements=tuple(shuffled))) == assess(job)
