"""The stand-in's door and its state: signed in only, kept over a restart, secrets never told."""

import pytest

from standin.app import create
from tests.standin.test_world import NET, site

BODY = site().model_dump(mode="json")


@pytest.fixture
def client(tmp_path):
    made = create(tmp_path, 0.0).test_client()
    assert made.put("/sim/one", json=BODY).status_code == 200
    return made


def signed(client) -> dict[str, str]:
    token = client.post("/sites/one/session", json={"account": "a", "secret": "b"}).get_json()["token"]
    return {"Authorization": f"Bearer {token}"}


def test_nobody_reads_without_signing_in_and_tries_are_counted(client):
    assert client.get("/sites/one/units").status_code == 401
    for _ in range(5):
        assert client.post("/sites/one/session", json={"account": "a", "secret": "x"}).status_code == 401
    assert client.post("/sites/one/session", json={"account": "a", "secret": "b"}).status_code == 429


def test_it_is_the_same_after_a_restart(client, tmp_path):
    door = signed(client)
    for serial in ("R", "S", "P0", "P1"):
        assert client.post(f"/sites/one/units/{serial}/take", headers=door).status_code == 200
    client.post("/sim/one/clock", json={"advance_s": 100})
    net = {"name": "Main", "vid": 20, **NET}
    assert client.put("/sites/one/config/nets", json=net, headers=door).status_code == 200
    wlan = {"name": "air", "net": "Main", "bands": ["5"], "secret": "not-to-be-told"}
    assert client.put("/sites/one/config/wlans", json=wlan, headers=door).status_code == 200
    before = client.get("/sites/one/all", headers=door).get_json()
    again = create(tmp_path, 0.0).test_client()
    after = again.get("/sites/one/all", headers=signed(again)).get_json()
    assert after["config"] == before["config"]
    assert {u["serial"]: u["phase"] for u in after["units"]} == {
        u["serial"]: u["phase"] for u in before["units"]
    }
    assert "not-to-be-told" not in str(before)
    assert "not-to-be-told" in str(client.get("/sites/one/archive", headers=door).get_json())


@pytest.mark.parametrize("path", ["nets", "wlans", "pinned", "whole"])
def test_a_change_made_of_what_is_old_is_refused(client, path):
    found = client.put(f"/sites/one/config/{path}", json={}, headers=signed(client) | {"If-Match": '"99"'})
    assert found.status_code == 412


def test_what_is_refused_is_said_without_the_secret(client):
    door = signed(client)
    wlan = {"name": "air", "net": "Main", "bands": ["5"], "secret": "short"}
    found = client.put("/sites/one/config/wlans", json=wlan, headers=door)
    assert found.status_code == 422
    assert "8 to 63" in found.get_json()["error"]
    assert "short" not in found.get_data(as_text=True)


def test_a_name_of_a_site_that_is_none_is_refused(client):
    assert client.put("/sim/..%2Fup", json=BODY).status_code in (404, 422)
    assert client.put("/sim/UPPER", json=BODY).status_code == 422
    assert client.get("/sites/none/units", headers=signed(client)).status_code == 404
