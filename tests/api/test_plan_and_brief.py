"""Plan and Brief by the API: drawing actions, build-ups, practice, inventories, papers and plans out."""

import io
import json

import pytest

from heathrise.core.job import Practice, Storey, Wall


@pytest.fixture
def ground(kept) -> str:
    return kept.job.storeys[0].id


def act(client, at, **action):
    return client.post(f"{at}/shape", json={"action": action})


def practice(kept, **changes) -> dict:
    return kept.job.practice.model_copy(update=changes).model_dump(mode="json")


class TestShape:
    def test_an_action_answers_with_operations_and_changes_nothing_itself(self, client, kept, at):
        wall = kept.job.of(Wall)[0]
        reply = act(client, at, do="split", wall_id=wall.id, at_m=2.0)
        assert reply.status_code == 200
        assert [step["op"] for step in reply.json["operations"]][:2] == ["put", "put"]
        assert client.get(at).json["revision"] == 0

    @pytest.mark.parametrize(
        ("action", "words"),
        [
            ({"do": "split", "wall_id": "00000000-0000-7000-8000-000000000000", "at_m": 1}, "not in the job"),
            ({"do": "join", "ids": ["00000000-0000-7000-8000-000000000000"]}, "not in the job"),
            ({"do": "remove", "ids": ["00000000-0000-7000-8000-000000000000"]}, "in the job any more"),
        ],
    )
    def test_what_cannot_be_done_is_a_problem_in_words(self, client, at, action, words):
        reply = act(client, at, **action)
        assert reply.status_code == 422
        assert words in reply.json["detail"]
        assert "nothing was harmed" in reply.json["detail"]

    @pytest.mark.parametrize(
        "action",
        [
            {"do": "fly"},
            {"do": "split", "wall_id": "no id", "at_m": 1},
            {"do": "offset", "ids": [], "by_m": 1},
            {
                "do": "array",
                "ids": ["00000000-0000-7000-8000-000000000000"],
                "columns": 0,
                "rows": 1,
                "dx_m": 1,
                "dy_m": 1,
            },
        ],
    )
    def test_an_action_that_is_none_is_not_understood(self, client, at, action):
        reply = act(client, at, **action)
        assert reply.status_code == 422
        assert reply.content_type.startswith("application/problem+json")

    def test_a_storey_is_laid_over_another_and_the_error_is_a_sum(self, client, kept, at):
        first = kept.job.of(Storey)[0]
        pair = [{"x_m": 0, "y_m": 0}, {"x_m": 10, "y_m": 0}]
        other = [{"x_m": 1, "y_m": 1}, {"x_m": 11.2, "y_m": 1}]
        reply = act(client, at, do="align-storey", storey_id=first.id, here=pair, there=other)
        assert reply.json["sum"]["value"] == pytest.approx(0.2)
        assert reply.json["sum"]["holds"] is False
        assert "0.20 m" in reply.json["note"]


class TestBuildUps:
    def test_layers_answer_with_losses_curve_and_source(self, client):
        reply = client.post(
            "/api/build-ups/loss",
            json={"domain": "etsi-like", "layers": [{"material": "concrete", "thickness_mm": 150}]},
        )
        assert reply.status_code == 200
        low, mid, high = reply.json["losses_db"]
        assert low < mid < high
        assert reply.json["thickness_m"] == pytest.approx(0.15)
        assert len(reply.json["curve"]) > 100
        assert "P.2040" in reply.json["source"]

    @pytest.mark.parametrize(
        "layers",
        [[], [{"material": "cheese", "thickness_mm": 5}], [{"material": "concrete", "thickness_mm": 0}]],
    )
    def test_layers_that_are_none_are_refused(self, client, layers):
        assert (
            client.post("/api/build-ups/loss", json={"domain": "etsi-like", "layers": layers}).status_code
            == 422
        )


class TestPractice:
    def test_the_firms_practice_starts_every_new_job_and_changes_none_that_is_there(self, client, at):
        before = client.get("/api/firm/practice").json["practice"]
        assert before["cables_per_point"] == Practice.model_fields["cables_per_point"].default
        chosen = {**before, "cables_per_point": 4, "ends": "A", "updates": "automatic"}
        assert client.put("/api/firm/practice", json={"practice": chosen}).status_code == 200
        fresh = client.post("/api/jobs", json={"name": "After", "site_kind": "shop"}).json
        (own,) = [e for e in fresh["elements"] if e["kind"] == "practice"]
        assert (own["cables_per_point"], own["ends"], own["updates"]) == (4, "A", "automatic")
        (old,) = [e for e in client.get(at).json["elements"] if e["kind"] == "practice"]
        assert old["cables_per_point"] == 1

    def test_before_and_after_of_a_change_that_is_not_made(self, client, kept, at):
        reply = client.post(f"{at}/practice/compare", json={"practice": practice(kept, cables_per_point=2)})
        assert reply.status_code == 200
        assert reply.json["after"]["advice"] > reply.json["before"]["advice"]
        assert {turned["title"] for turned in reply.json["comes"]} == {"Fewer cables than the practice"}
        assert client.get(at).json["revision"] == 0

    def test_a_practice_that_is_none_is_refused(self, client, kept, at):
        body = practice(kept) | {"ends": "C"}
        assert client.post(f"{at}/practice/compare", json={"practice": body}).status_code == 422
        assert client.put("/api/firm/practice", json={"practice": body}).status_code == 422


class TestInventory:
    def send(self, client, at, body: bytes):
        return client.post(f"{at}/inventory", data={"file": (io.BytesIO(body), "list.csv")})

    def test_a_list_is_understood_and_not_yet_kept(self, client, at):
        reply = self.send(client, at, b"Device;Count\nTills;2\nOdd;x\n")
        assert [d["device"] for d in reply.json["devices"]] == ["till"]
        assert [s["why"] for s in reply.json["skipped"]] == ["its count x is no whole number"]
        assert client.get(at).json["revision"] == 0

    def test_what_is_no_list_is_a_problem_in_words(self, client, at):
        reply = self.send(client, at, b"PK\x03\x04nothing")
        assert reply.status_code == 422
        assert "workbook cannot be read" in reply.json["detail"]

    def test_a_list_of_a_job_that_is_not_there(self, client):
        reply = self.send(client, "/api/jobs/00000000-0000-7000-8000-000000000000", b"a,1")
        assert reply.status_code == 404


@pytest.mark.parametrize(
    ("ending", "begins"),
    [("dxf", b"  0\nSECTION"), ("svg", b"<?xml"), ("geojson", b"{"), ("png", b"\x89PNG")],
)
def test_a_storey_goes_out_in_every_format(client, at, ground, ending, begins):
    reply = client.get(f"{at}/export/plan.{ending}?storey_id={ground}")
    assert reply.status_code == 200
    assert reply.data.startswith(begins)
    assert f"tern-lane-music-school.{ending}" in reply.headers["Content-Disposition"]


@pytest.mark.parametrize(
    "where", ["export/plan.dwg?storey_id={}", "export/plan.svg?storey_id=none", "export/plan.svg"]
)
def test_a_plan_that_cannot_go_out_says_so(client, at, ground, where):
    assert client.get(f"{at}/{where.format(ground)}").status_code in (404, 422)


def test_a_storey_that_is_gone_says_so(client, at, kept):
    reply = client.get(f"{at}/export/plan.svg?storey_id={kept.job.of(Wall)[0].id}")
    assert reply.status_code == 422
    assert "no such storey" in reply.json["detail"]


def test_questions_go_out_on_paper_and_as_text(client, at):
    text = client.get(f"{at}/export/questions.txt")
    assert "Tern Lane Music School" in text.text
    assert "Answer:" in text.text
    assert client.get(f"{at}/export/questions.pdf").data.startswith(b"%PDF-")
    assert client.get(f"{at}/export/questions.doc").status_code in (404, 422)


def test_the_library_answers_with_what_brief_and_plan_choose_from(client):
    found = client.get("/api/library").json
    assert len(found["practice"]) == 30
    assert found["build_ups"]["concrete-150"]["layers"] == [["concrete", 150.0]]
    assert {"profiles", "device_kinds", "slab_materials"} <= set(found)
    assert json.dumps(found)
