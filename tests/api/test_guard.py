"""Trust at the door."""

import pytest

from heathrise.store.jobs import new_id


@pytest.mark.parametrize("host", ["127.0.0.1:8420", "localhost:8420", "[::1]:8420"])
def test_loopback_names_are_served(client, host):
    assert client.get("/api/jobs", headers={"Host": host}).status_code == 200


@pytest.mark.parametrize("host", ["evil.example", "127.0.0.1.evil.example", "192.0.2.7"])
def test_other_names_are_not(client, host):
    refused = client.get("/api/jobs", headers={"Host": host})
    assert refused.status_code == 403
    assert refused.json["status"] == 403


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({}, 201),
        ({"Origin": "http://localhost"}, 201),
        ({"Origin": "http://evil.example"}, 403),
        ({"Origin": "http://localhost:9999"}, 403),
        ({"Origin": "null"}, 403),
        ({"Sec-Fetch-Site": "cross-site"}, 403),
        ({"Sec-Fetch-Site": "same-site"}, 403),
        ({"Sec-Fetch-Site": "same-origin"}, 201),
    ],
)
def test_writes_come_from_our_own_pages(client, headers, status):
    assert client.post("/api/jobs", json={"name": "x"}, headers=headers).status_code == status


def test_pages_carry_a_strict_policy_with_a_fresh_nonce(client):
    answers = [client.get("/") for _ in range(2)]
    policies = [answer.headers["Content-Security-Policy"] for answer in answers]
    assert "default-src 'self'" in policies[0]
    assert "unsafe" not in policies[0]
    assert policies[0] != policies[1]
    nonce = answers[0].text.split("'")[1]
    assert f"'nonce-{nonce}'" in policies[0]
    assert answers[0].headers["X-Content-Type-Options"] == "nosniff"


@pytest.mark.parametrize(
    "path",
    ["/assets/../../etc/passwd", "/assets/%2e%2e/settings.py", "/console", "/openapi/swagger", "/api/none"],
)
def test_nothing_else_is_served(client, path):
    assert client.get(path).status_code in (404, 405)


@pytest.mark.parametrize("name", ["'; drop table job; --", "<script>alert(1)</script>", "naïve ☃ 名"])
def test_names_are_only_ever_data(client, name):
    made = client.post("/api/jobs", json={"name": name}).json
    assert made["name"] == name
    assert client.get(f"/api/jobs/{made['id']}").json["name"] == name


def test_an_id_that_is_none_is_not_looked_up(client):
    assert client.get("/api/jobs/1%20or%201=1").status_code == 422
    assert client.get(f"/api/jobs/{new_id()}").status_code == 404
