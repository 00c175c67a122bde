"""What is judged, on which quantity, and how it is said: cases just right and just wrong."""

import pytest
from demo.drawing import at

from heathrise.core.cabling.derived import bundles
from heathrise.core.deriving import Memo
from heathrise.core.edit import apply
from heathrise.core.findings import assess
from heathrise.core.findings.slices import SLICES
from heathrise.core.findings.trying import tried
from heathrise.core.findings.verdicts import judged
from heathrise.core.job import Job
from heathrise.core.job.view import changed_keys
from heathrise.core.library import library
from tests.core.findings.test_rules import (
    at_the_edge,
    both_on_one,
    of_rule,
    plain_switch,
    shouting,
    sound,
)
from tests.house import House, changed


def rules_of(job: Job) -> set[str]:
    return {finding.rule for finding in assess(job).findings}


def spare_pinned() -> Job:
    """Two runs to a point with one port, and the second was given a port of the switch."""
    house = House(settled=True)
    house.rack()
    house.switch()
    point = house.point("AP 1")
    house.run(point, "R-01")
    house.run(point, "R-02", on=("SW1", "3"))
    return house.job


def test_a_pinned_port_on_a_spare_run_leaves_every_stage_standing():
    found = assess(spare_pinned())
    assert not [f for f in found.findings if f.rule == "findings.could-not-run"]
    fed = {port.run_label: port.needs_class for port in found.ports if port.run_id}
    assert fed["R-02"] > 0  # the one that was given a port is the one in use
    assert "R-01" not in fed


def test_both_runs_pinned_feed_one_device_once():
    job = changed(
        spare_pinned(), "R-01", a={"on": next(p.switch_id for p in assess(spare_pinned()).ports), "port": "5"}
    )
    found = assess(job)
    assert not [f for f in found.findings if f.rule == "findings.could-not-run"]
    assert sum(port.needs_class > 0 for port in found.ports) == 1
    assert found.budgets[0].used_w == pytest.approx(found.feeds[0].reserve_w, abs=20)


def test_watts_on_a_port_without_power_are_not_asked_of_the_budget():
    found = assess(plain_switch())
    assert [budget.used_w for budget in found.budgets] == [0.0]
    assert all(port.watts == 0 for port in found.ports)


def test_too_few_powered_ports_are_one_finding_that_names_what_it_touches():
    (finding,) = of_rule(plain_switch(), "ports.too-few-powered")
    assert all(name in finding.text for name in ("AP 0", "AP 1", "AP 2"))
    assert not of_rule(plain_switch(), "power.device-under-fed")
    assert not of_rule(plain_switch(), "ports.few-spare")


def test_one_device_without_power_is_said_in_watts():
    (finding,) = of_rule(plain_switch(1), "power.device-under-fed")
    assert finding.unit == "W"
    assert finding.value == 0
    assert finding.limit == library().poe_class(4).source_w or finding.limit > 0


@pytest.mark.parametrize(
    ("over_db", "rule", "severity"),
    [
        (-4.0, "air.space-under-need", "fault"),
        (-1.0, "air.marginal", "warning"),
        (1.0, "air.marginal", "advice"),
        (6.0, None, None),
    ],
)
def test_near_the_need_it_is_marginal_and_beyond_it_is_plain(over_db, rule, severity):
    here = [
        f for f in assess(at_the_edge(over_db)).findings if f.subject == "Ground west" and f.stage == "air"
    ]
    said = {f.rule: f.severity for f in here if f.rule in ("air.space-under-need", "air.marginal")}
    assert said == ({rule: severity} if rule else {})


def test_a_need_is_judged_on_what_else_is_sent_on_the_channel():
    apart = shouting()
    for label, channel in (("AP west", 36), ("AP east", 100)):
        apart = changed(
            apart, label, radios=[{"band": "5", "power_dbm": 17, "channel": channel, "width_mhz": 20}]
        )
    assert "air.noisy" in rules_of(shouting())
    assert "air.noisy" not in rules_of(apart)
    (worst, *_) = of_rule(shouting(), "air.noisy")
    assert worst.value < worst.limit
    assert worst.sum is not None and worst.sum.holds is False


def test_a_channel_that_changes_moves_no_score():
    """What is sent on a channel is judged apart from the signal: another channel scores nothing anew."""
    job = shouting()
    memo = Memo(job)
    judged(memo.look)
    before = memo.worked["radio.scored"]
    radios = [{"band": "5", "power_dbm": 17, "channel": 100, "width_mhz": 20}]
    after = changed(job, "AP east", radios=radios)
    with memo.tried(after, changed_keys(job, after, SLICES)) as look:
        assert "air.noisy" not in {f.rule for f in judged(look)}
    assert memo.worked["radio.scored"] == before


def test_neighbours_on_two_switches_are_left_alone():
    assert "ports.neighbours-on-one-switch" not in rules_of(both_on_one(spread=True))


def test_nothing_is_heard_is_never_a_level():
    house = House(settled=True)
    texts = [f.text for f in assess(house.job).findings if f.stage == "air"]
    assert texts
    assert all("150" not in text for text in texts)
    assert any("No access point is heard" in text for text in texts)


@pytest.mark.parametrize(("x", "outdoors"), [(11.9, False), (12.2, True)])
def test_a_hand_beyond_the_outline_is_outdoors(x, outdoors):
    house = sound()
    house.point("AP edge", x=x, y=4, mount="wall")
    assert bool(of_rule(house.job, "air.indoor-unit-outdoors")) is outdoors


@pytest.mark.parametrize(
    ("power", "over"),
    # 6 GHz indoors, FCC-like: 5 dBm for each MHz, so 18 dBm over 20 MHz and 24 dBm over 80.
    [((13.0, 20), False), ((14.5, 20), True), ((19.0, 80), False), ((20.5, 80), True)],
)
def test_a_wide_channel_may_send_more_than_a_narrow_one(power, over):
    job = changed(sound().job, "Site", domain="fcc-like")
    radios = [{"band": "6", "power_dbm": power[0], "channel": 37, "width_mhz": power[1]}]
    model = next(
        code for code, m in job.equipment.items() if m.radiates and m.band("6") and m.band("6").gain_dbi <= 5
    )
    gain = job.equipment[model].band("6").gain_dbi
    radios[0]["power_dbm"] = power[0] + 5.0 - gain
    job = changed(job, "AP east", model=model, radios=radios)
    assert bool(of_rule(job, "air.power-over-domain")) is over


def test_a_bonded_block_has_the_strictest_limit_of_its_span():
    job = changed(
        sound().job, "AP east", radios=[{"band": "5", "power_dbm": 17.5, "channel": 36, "width_mhz": 160}]
    )
    (row,) = [r for r in assess(job).radios if r.label == "AP east"]
    # 36 to 64: 23 dBm to channel 48, 20 dBm from 52.
    assert row.eirp_limit_dbm == 20
    assert of_rule(job, "air.power-over-domain")


def test_the_power_proposed_is_the_middle_of_what_is_right():
    job = changed(sound().job, "AP east", radios=[{"band": "5", "power_dbm": 26, "channel": 100}])
    (finding,) = of_rule(job, "air.up-down-apart")
    mended = apply(job, finding.fixes[0].operations).job
    (row,) = [r for r in assess(mended).radios if r.label == "AP east"]
    client = library().clients[job.brief.client_class]
    assert row.power_dbm <= client.power_dbm("5") + 2.1


def test_a_fault_is_shown_against_the_limit_of_a_fault():
    job = changed(sound().job, "AP east", radios=[{"band": "5", "power_dbm": 28, "channel": 100}])
    (finding,) = of_rule(job, "air.up-down-apart")
    assert finding.severity == "fault"
    assert f"{finding.limit:.0f}" in finding.text.replace("10.0", "10")
    assert finding.limit == 10


def test_what_exists_and_serves_is_not_pressed_to_the_house_practice():
    house = sound()
    job = changed(house.job, "R-01", product="cat5e-indoor")
    assert of_rule(job, "runs.category-below-practice")
    there = changed(job, "R-01", there=True)
    assert not of_rule(there, "runs.category-below-practice")
    bought = {line.item: line.need for line in assess(there).kit if line.group == "Cable"}
    assert "cat5e-indoor" not in bought


def far_run(cable: str) -> Job:
    house = sound()
    house.d.space(house.ground, "Wing", (12, 0, 100, 8))
    house.run(house.point("AP far", x=80, y=4), "R-03", cable=cable)
    return house.job


def test_no_better_category_is_promised_where_there_is_none():
    for finding in of_rule(far_run("cat6a-indoor"), "runs.speed-over-category"):
        assert not finding.fixes
        assert "which carries the speed" not in finding.advice


def test_thin_cords_leave_less_for_the_cable():
    limits = {}
    for awg in (24, 26, 28):
        house = sound()
        job = changed(house.job, "House practice", cords_awg=awg)
        limits[awg] = {r.label: r.limit_m for r in assess(job).runs}["R-01"]
    assert limits[24] >= limits[26] >= limits[28]
    assert limits[28] < 90


def test_a_void_that_carries_air_wants_cable_made_for_it():
    job = changed(sound().job, "Ground", void_air=True)
    (first, *_) = of_rule(job, "runs.wrong-rating")
    assert "plenum" in first.text
    assert first.value > 0
    assert not of_rule(sound().job, "runs.wrong-rating")


def test_a_subnet_beyond_a_tunnel_counts_as_outside():
    house = sound()
    house.add("network", "Net", purpose="main", vlan=20, subnet="10.20.20.0/24")
    internet = {"subnet": "192.168.1.0/24", "beyond": ["10.20.0.0/16"]}
    job = changed(house.job, "Brief", internet=internet)
    (finding,) = of_rule(job, "network.overlaps-outside")
    assert "beyond a tunnel" in finding.text
    mended = apply(job, finding.fixes[0].operations).job
    assert not of_rule(mended, "network.overlaps-outside")


def test_a_price_that_is_not_known_is_not_nought():
    house = sound()
    job = changed(house.job, "Brief", kept=[{"what": "Old switch", "count": 1, "serves": False}])
    job = changed(job, "House practice", old_kit="replace")
    found = assess(job)
    assert any(line.each is None for line in found.kit)
    assert "unknown" in found.cost_sum.label
    assert any(line.label == "without a price" for line in found.cost_sum.lines)


def test_only_what_lies_together_warms_together():
    """Two runs that leave the rack opposite ways are no bundle; those that go one way are."""
    house = House(settled=True)
    house.rack(x=6, y=4)
    house.switch()
    for n in range(4):
        house.run(house.point(f"AP {n}", x=11, y=4), f"R-0{n}")
    house.run(house.point("AP west", x=1, y=4), "R-09")
    look = Memo(house.job).look
    thickest = {}
    for run in assess(house.job).runs:
        level = [
            n for leg, n in zip(run.legs, bundles(look, run.run_id), strict=True) if leg.z0_m == leg.z1_m
        ]
        thickest[run.label] = max(level)
    assert thickest.pop("R-09") == 1
    assert min(thickest.values()) >= 4


def test_beacons_are_those_of_points_heard_on_the_channel_on_any_band():
    house = sound()
    network = house.add("network", "Net", vlan=20, subnet="10.20.20.0/24")
    house.add("ssid", "air", network_id=network, bands=["5"])
    apart = house.job
    for label, channel in (("AP west", 36), ("AP east", 100)):
        apart = changed(apart, label, radios=[{"band": "5", "power_dbm": 17, "channel": channel}])
    alone = assess(apart).beacons
    together = assess(
        changed(apart, "AP east", radios=[{"band": "5", "power_dbm": 17, "channel": 36}])
    ).beacons
    assert alone is not None and together is not None
    assert together.value == pytest.approx(2 * alone.value, rel=0.02)


def test_what_is_advised_is_silent_beside_what_makes_it_moot():
    job = far_run("cat5e-indoor")
    said = [f.rule for f in assess(job).findings if "R-03" in f.subject]
    assert "runs.category-below-practice" not in said or not {
        "runs.over-length",
        "runs.speed-over-category",
    } & set(said)


def test_a_remedy_is_tried_before_it_is_offered_and_the_job_stays_as_it_was():
    job = shouting_low()
    memo = Memo(job)
    before = assess(job).findings
    for finding in before:
        for remedy, fix in zip(tried(memo, finding.key), finding.fixes, strict=True):
            after = assess(apply(job, fix.operations).job).findings
            known = {f.key for f in before}
            new = {f.key for f in after if f.severity == "fault"} - known
            assert {one.key for one in remedy.brings} == new, fix.label
            assert remedy.cures == (finding.key not in {f.key for f in after}), fix.label
    assert memo.source is job
    assert tried(memo, "no such finding") == ()


def shouting_low() -> Job:
    house = sound()
    house.run(house.point("AP new", x=5, y=6), "R-03", cable="cat5e-indoor")
    return changed(house.job, "AP east", radios=[{"band": "5", "power_dbm": 28, "channel": 100}])


def test_the_loudest_pair_is_pulled_farthest_apart():
    house = House(settled=True)
    for n, x in enumerate((2.0, 4.0, 10.0)):
        house.add(
            "access-point",
            f"AP {n}",
            storey_id=house.ground,
            at=at(x, 4),
            height_m=2.6,
            model="ap-ceiling-wifi6-2x2",
            radios=[{"band": "5", "power_dbm": 17, "width_mhz": 20}],
        )
    rows = {r.label: r.channel for r in assess(house.job).radios if r.band == "5"}
    gap = {pair: abs(rows[f"AP {pair[0]}"] - rows[f"AP {pair[1]}"]) for pair in ((0, 1), (0, 2), (1, 2))}
    assert gap[0, 1] >= 12  # two channel widths clear between them
