"""What the controller is told: all of it from the job, nothing secret, nothing that the practice leaves to it."""

import json

import pytest
from demo.fern_hollow import fern_hollow
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill

from heathrise.core.deriving import Memo
from heathrise.core.findings.assess import settings
from heathrise.core.job import Network, Ssid
from tests.house import by_label, changed

JOBS = {"school": tern_lane(), "mill": withy_mill(), "clinic": fern_hollow()}


def told(job):
    return settings(Memo(job).look)


@pytest.mark.parametrize("name", JOBS)
def test_every_network_name_and_port_of_the_job_is_in_it(name):
    job, found = JOBS[name], told(JOBS[name])
    assert {n.name for n in found.networks} == {n.label for n in job.of(Network)}
    assert {n.name for n in found.names} == {s.label for s in job.of(Ssid)}
    assert len({(p.switch, p.port) for p in found.ports}) == len(found.ports)
    assert found.domain == job.site.domain


@pytest.mark.parametrize("name", JOBS)
def test_nothing_secret_goes_out(name):
    words = json.dumps(told(JOBS[name]).model_dump()).lower()
    assert not any(word in words for word in ("passphrase", "password", "secret"))


@pytest.mark.parametrize("name", JOBS)
def test_gateways_lie_in_their_subnets(name):
    for network in JOBS[name].of(Network):
        gateway = next(n.gateway for n in told(JOBS[name]).networks if n.vlan == network.vlan)
        assert gateway in {str(host) for host in [network.subnet.network_address + 1]}


def test_what_the_practice_leaves_to_the_controller_is_left_to_it():
    school = JOBS["school"]
    practice = next(e for e in school.elements if e.kind == "practice")
    left = told(changed(school, practice.label, radio_settings="automatic"))
    assert {row.channel for row in left.radios} == {"automatic"}
    assert {row.power_dbm for row in left.radios} == {"automatic"}
    said = told(changed(school, practice.label, radio_settings="planned"))
    assert all(isinstance(row.power_dbm, float | int) for row in said.radios)


def test_guests_alone_have_a_portal_and_a_cap():
    school = JOBS["school"]
    guests = {n.label for n in school.of(Network) if n.purpose == "guest"}
    assert guests
    for name in told(school).names:
        assert (name.client_mbps is not None) == (name.network in guests)
        assert not name.portal or name.network in guests


def on_channel(job, label, channel):
    """The job with a point's 5 GHz radio decided."""
    radios = [
        r.model_dump() | ({"channel": channel} if r.band == "5" else {}) for r in by_label(job, label).radios
    ]
    return changed(job, label, radios=radios)


def test_a_channel_that_is_decided_stays_whatever_its_neighbours_are_given():
    decided = on_channel(JOBS["school"], "Hall west", 124)
    after = told(on_channel(decided, "Yard eave", 124))
    rows = {row.access_point: row.channel for row in after.radios if row.band == "5"}
    assert (rows["Hall west"], rows["Yard eave"]) == (124, 124)


def test_a_name_that_is_changed_changes_that_name_alone():
    school = JOBS["school"]
    name = school.of(Ssid)[0]
    before, after = told(school), told(changed(school, name.label, isolation=not name.isolation))
    differ = [b.name for a, b in zip(before.names, after.names, strict=True) if a != b]
    assert differ == [name.label]
    assert (before.radios, before.ports, before.networks) == (after.radios, after.ports, after.networks)
