"""House practice: the library's questions fit the noun, and every choice is read by a later stage."""

from uuid import uuid4

import pytest

from heathrise.core.cabling.defaults import default_runs
from heathrise.core.edit import apply
from heathrise.core.findings import assess
from heathrise.core.findings.assess import settings
from heathrise.core.findings.whatif import what_if
from heathrise.core.job import Job, Network, Practice, Ssid
from heathrise.core.library import library
from heathrise.core.network.defaults import default_networks
from heathrise.core.radio.coverage import radios
from tests.house import House, changed, look_at

QUESTIONS = library().practice
CHOICES = [(key, number) for key, row in QUESTIONS.items() for number in range(len(row.choices))]


def new_id() -> str:
    return str(uuid4())


def practice(job: Job, **sets) -> Job:
    return changed(job, "House practice", **sets)


@pytest.fixture(scope="module")
def house() -> Job:
    made = House()
    made.rack()
    made.switch(model="switch-8-poe")
    made.run(made.point())
    for number in range(3):
        outlet = made.thing(f"Outlet {number}", 8 + number, 1)
        made.run(outlet, f"R-1{number}", cable="cat6-indoor")
    return made.job


@pytest.mark.parametrize(("key", "number"), CHOICES)
def test_every_choice_is_one_the_noun_takes(key, number):
    choice = QUESTIONS[key].choices[number]
    made = Practice.model_validate({"id": new_id(), "label": "x", **choice.sets})
    assert all(getattr(made, field) == value for field, value in choice.sets.items())


def test_the_first_choice_is_the_nouns_default_and_every_field_has_a_question():
    default = Practice(id=new_id(), label="x")
    asked = set()
    for row in QUESTIONS.values():
        assert all(getattr(default, field) == value for field, value in row.choices[0].sets.items()), (
            row.question
        )
        assert row.why and row.drives and row.stage in library().stages
        asked |= {field for choice in row.choices for field in choice.sets}
    assert set(Practice.model_fields) - asked == {
        "id",
        "label",
        "order",
        "kind",
        "width_6_mhz",
        "cords_m",
        "cords_awg",
        "currency",
    }


def kit(job: Job) -> dict[str, float]:
    return {line.item: line.need for line in assess(job).kit}


def test_cables_per_point_are_proposed_found_missing_and_spares_take_no_port(house):
    two = practice(house, cables_per_point=2)
    missing = [f for f in assess(two).findings if f.rule == "runs.fewer-than-practice"]
    assert [(f.value, f.limit) for f in missing] == [(1, 2)]
    full = apply(two, default_runs(two, new_id)).job
    assert len(assess(full).runs) == len(assess(house).runs) + 1
    assert len([p for p in assess(full).ports if p.run_id]) == len(
        [p for p in assess(house).ports if p.run_id]
    )
    assert len(assess(full).feeds) == len(assess(house).feeds)
    mended = apply(two, missing[0].fixes[0].operations).job
    assert not [f for f in assess(mended).findings if f.rule == "runs.fewer-than-practice"]


@pytest.mark.parametrize(
    ("sets", "item", "before", "after"),
    [
        ({"panel": "always"}, "panel-24", None, 1),
        ({"device_end": "plug"}, "plug-field", None, 4),
        ({"device_end": "plug"}, "cord-device", 4, None),
        ({"gateway": "separate"}, "controller", None, 1),
    ],
)
def test_the_kit_list_reads_the_practice(house, sets, item, before, after):
    assert kit(house).get(item) == before
    assert kit(practice(house, **sets)).get(item) == after


def test_old_kit_is_kept_for_nothing_or_named_for_replacement(house):
    job = changed(house, "Brief", kept=[{"what": "Old switch", "count": 2, "serves": True}])
    (line,) = [row for row in assess(job).kit if row.item == "kept"]
    assert (line.group, line.cost, line.order) == ("Kept", 0, 0)
    (line,) = [row for row in assess(practice(job, old_kit="replace")).kit if row.item == "kept"]
    assert (line.group, line.cost) == ("Replaced", None)


def test_hours_read_the_place_of_preparation(house):
    labels = {line.label for line in assess(practice(house, preparation="site")).hours}
    assert "Preparation on site" in labels
    assert assess(practice(house, preparation="site")).hours_sum.value > assess(house).hours_sum.value


@pytest.mark.parametrize(
    ("backhaul", "severity"),
    [("wire", "fault"), ("mesh-where-needed", "warning"), ("mesh", "advice"), ("powerline", "warning")],
)
def test_a_point_without_a_run_is_as_bad_as_the_practice_makes_it(backhaul, severity):
    made = House()
    made.rack()
    made.point()
    found = [f for f in assess(practice(made.job, backhaul=backhaul)).findings if f.rule == "runs.no-run"]
    assert [f.severity for f in found] == [severity]


def test_more_power_starts_louder(house):
    (point,) = [e for e in house.elements if e.kind == "access-point"]
    quiet = {r.band: r.power_dbm for r in radios(house, point)}
    loud = {r.band: r.power_dbm for r in radios(practice(house, points_power="more-power"), point)}
    assert {band: loud[band] - quiet[band] for band in quiet} == {"2.4": 3, "5": 3}


def nets(job: Job, **sets) -> Job:
    job = practice(job, **sets)
    return apply(job, default_networks(job, new_id)).job


def test_networks_and_names_are_proposed_by_the_practice(house):
    usual = nets(house)
    assert {n.purpose: n.vlan for n in usual.of(Network)} == {
        "main": 20,
        "guest": 30,
        "things": 40,
        "cameras": 50,
        "management": 10,
    }
    assert {s.fast_roaming for s in usual.of(Ssid) if "things" in s.label} == {False}
    role = nets(house, vlan_numbers="role")
    assert {n.purpose: n.vlan for n in role.of(Network)} == {
        "main": 100,
        "guest": 200,
        "things": 300,
        "cameras": 400,
        "management": 10,
    }
    assert "guest" not in {n.purpose for n in nets(house, guests="none").of(Network)}
    split = nets(house, band_names="split")
    assert sorted(s.bands for s in split.of(Ssid)) == [("2.4",), ("2.4",), ("2.4",), ("5",), ("5",)]
    assert {s.fast_roaming for s in nets(house, fast_roaming="on").of(Ssid)} == {True}
    assert {s.fast_roaming for s in nets(house, fast_roaming="off").of(Ssid)} == {False}


def test_the_settings_document_reads_the_practice(house):
    usual = settings(look_at(nets(house)))
    assert (usual.house.ends, usual.house.updates, usual.house.account) == ("T568B", "window", "local")
    assert usual.house.update_at == "03:00"
    assert {n.name: (n.dtim, n.client_mbps, n.portal) for n in usual.names} == {
        "Test house main": (3, None, False),
        "Test house guest": (3, 20, False),
        "Test house things": (1, None, False),
    }
    changes = {
        "ends": "A",
        "dtim": "1",
        "guests": "portal",
        "radio_settings": "automatic",
        "updates": "automatic",
        "account": "cloud",
        "airtime_fairness": True,
        "point_names": "per-point",
    }
    other = settings(look_at(nets(house, **changes)))
    assert (other.house.ends, other.house.account, other.house.airtime_fairness) == ("T568A", "cloud", True)
    assert other.house.names_across_points == "per-point"
    assert {n.dtim for n in other.names} == {1}
    assert [n.portal for n in other.names if "guest" in n.name] == [True]
    assert {(r.channel, r.power_dbm) for r in other.radios} == {("automatic", "automatic")}


def test_powered_and_plain_ports_are_split_when_the_practice_says_so():
    made = House()
    made.rack()
    made.switch()
    made.switch("SW2", "switch-8-poe")
    for number in range(3):
        outlet = made.thing(f"Outlet {number}", 8 + number, 1)
        made.run(outlet, f"R-1{number}", cable="cat6-indoor")
    powered = {
        p.run_label
        for p in assess(practice(made.job, port_split="powered-and-plain")).ports
        if p.run_id and p.poe_class
    }
    assert powered == set()


def test_beyond_reach_the_advice_names_what_the_practice_takes():
    made = House()
    made.rack()
    made.run(made.point("Far", 110, 4, mount="outdoor", model="ap-outdoor-wifi6-2x2"))
    for choice, words in (("fibre", "use fibre"), ("extender", "an extender"), ("bridge", "a radio bridge")):
        (found,) = [
            f
            for f in assess(practice(made.job, beyond_reach=choice)).findings
            if f.rule == "runs.over-length"
        ]
        assert words in found.advice


def test_before_and_after_agree_with_assessing_both(house):
    after = practice(house, cables_per_point=4, gateway="separate")
    one = practice(house, cables_per_point=1)
    found = what_if(assess(one), after)
    assert found.before.cost == assess(one).cost_sum.value
    assert found.after.cost == assess(after).cost_sum.value
    assert [turned.title for turned in found.comes] == ["Fewer cables than the practice"]
    same = what_if(assess(house), house)
    assert (same.comes, same.goes, same.before) == ((), (), same.after)
