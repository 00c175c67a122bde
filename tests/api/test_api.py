"""The HTTP door: what a screen relies on, and every refusal as a problem document."""

import io
import json
import struct

import numpy as np
import pytest
from PIL import Image

from heathrise.api.shapes import MOST_OPERATIONS
from heathrise.core.job import AccessPoint, Space
from heathrise.store.database import Database
from heathrise.store.jobs import new_id
from tests.api.conftest import rows

ACTOR = new_id()


def body_of(element, **changes):
    return element.model_dump(mode="json") | changes


def edit(client, at, *operations, base=0, edit_id=None, actor=ACTOR):
    return client.post(
        f"{at}/edits",
        json={
            "edit_id": edit_id or new_id(),
            "actor": actor,
            "label": "Test",
            "base_revision": base,
            "operations": operations,
        },
    )


def put(element, **changes):
    return {"op": "put", "element": body_of(element, **changes)}


def test_a_job_is_made_listed_and_opened(client):
    made = client.post("/api/jobs", json={"name": "Mill", "site_kind": "home"})
    assert made.status_code == 201
    assert {e["kind"] for e in made.json["elements"]} == {"site", "brief", "practice", "storey"}
    assert [job["name"] for job in client.get("/api/jobs").json["jobs"]] == ["Mill"]
    opened = client.get(f"/api/jobs/{made.json['id']}")
    assert opened.json == made.json
    assert opened.headers["ETag"] == '"0"'


def test_an_edit_changes_the_ledger_and_undo_brings_it_back(client, at, school):
    before = client.get(f"{at}/assessment").json
    point = school.of(AccessPoint)[0]
    answer = edit(client, at, {"op": "remove", "id": point.id}).json
    assert answer["revision"] == 1
    assert answer["can_undo"]
    assert {o["op"] for o in answer["operations"]} == {"put", "remove"}
    after = client.get(f"{at}/assessment").json
    kit = [next(e["sum"]["value"] for e in rows(a, "ledger") if e["key"] == "kit") for a in (before, after)]
    assert kit[1] < kit[0]
    undone = client.post(f"{at}/undo", json={"edit_id": new_id(), "actor": ACTOR}).json
    assert (undone["can_undo"], undone["can_redo"]) == (False, True)
    assert rows(client.get(f"{at}/assessment").json, "ledger") == rows(before, "ledger")
    assert client.post(f"{at}/redo", json={"edit_id": new_id(), "actor": ACTOR}).json["revision"] == 3


def test_a_finding_brings_its_fix_ready_to_send(client, at):
    found = rows(client.get(f"{at}/assessment").json, "findings")
    finding = next(f for f in found if f["rule"] == "network.overlaps-outside")
    assert edit(client, at, *finding["fixes"][0]["operations"]).status_code == 200
    left = rows(client.get(f"{at}/assessment").json, "findings")
    assert finding["key"] not in {f["key"] for f in left}


def test_an_answer_carries_what_others_did_since(client, at, school):
    first, second = school.of(AccessPoint)[:2]
    edit(client, at, put(first, label="By Ben"), actor=new_id())
    answer = edit(client, at, put(second, label="By Anna")).json
    assert [o["element"]["label"] for o in answer["operations"]] == ["By Ben", "By Anna"]
    since = client.get(f"{at}/since/1?actor={ACTOR}").json
    assert [o["element"]["label"] for o in since["operations"]] == ["By Anna"]


def test_two_edits_of_one_element_answer_409_with_both_versions(client, at, school):
    point = school.of(AccessPoint)[0]
    edit(client, at, put(point, label="Theirs"), actor=new_id())
    refused = edit(client, at, put(point, label="Mine"))
    assert refused.status_code == 409
    assert refused.content_type.startswith("application/problem+json")
    (clash,) = refused.json["clashes"]
    assert (clash["path"], clash["theirs"], clash["mine"]) == (["label"], "Theirs", "Mine")
    assert (refused.json["why"], refused.json["revision"]) == ("clash", 1)


def test_fields_that_a_screen_saw_are_merged_and_a_choice_settles_the_rest(client, at, school):
    point = school.of(AccessPoint)[0]
    edit(client, at, put(point, label="Theirs", height_m=2.5), actor=new_id())
    mine = {
        "edit_id": new_id(),
        "actor": ACTOR,
        "label": "Test",
        "base_revision": 0,
        "operations": [put(point, label="Mine", pinned=True)],
        "seen": [body_of(point)],
    }
    (clash,) = client.post(f"{at}/edits", json=mine).json["clashes"]
    choice = {"element_id": point.id, "path": clash["path"], "take": "mine", "theirs": clash["theirs"]}
    done = client.post(f"{at}/edits", json=mine | {"choices": [choice]}).json
    element = done["operations"][-1]["element"]
    assert (element["label"], element["height_m"], element["pinned"]) == ("Mine", 2.5, True)


def test_a_window_whose_history_is_gone_is_told_to_open_the_job_anew(client, at, school):
    edit(client, at, put(school.of(AccessPoint)[0], label="Mine"))
    for revision, reload in ((0, False), (1, False), (2, True)):
        said = client.get(f"{at}/since/{revision}", query_string={"actor": ACTOR}).json
        assert (said["revision"], said["reload"]) == (1, reload)


def test_a_job_in_the_bin_says_so_and_comes_back_as_it_was(client, at, kept):
    assert client.delete(at).status_code == 204
    for answer in (client.get(at), client.get(f"{at}/assessment"), client.delete(at)):
        assert (answer.status_code, answer.json["why"]) == (410, "bin")
    assert client.get("/api/jobs").json["jobs"] == []
    assert [job["id"] for job in client.get("/api/bin").json["jobs"]] == [kept.id]
    assert client.post(f"/api/bin/{kept.id}/back").status_code == 204
    assert client.get(at).json["revision"] == kept.revision
    assert client.delete(f"/api/bin/{kept.id}").status_code == 404, "only what lies in the bin is forgotten"
    client.delete(at)
    assert client.delete(f"/api/bin/{kept.id}").status_code == 204
    assert client.get(at).status_code == 404


def grid(response):
    x0, y0, cell, columns, rows, step = struct.unpack_from("<6f", response.data)
    whole = np.frombuffer(response.data, "<i2", offset=24).reshape(int(rows), int(columns))
    return (x0, y0, cell), whole * step


def test_terrain_is_the_storeys_grid_and_follows_a_point_that_is_moved(client, at, school):
    ask = {"storey_id": school.storeys[0].id, "band": "5"}
    (x0, y0, cell), level = grid(client.post(f"{at}/air/terrain", json=ask))
    assert (x0, y0, cell) == (-1, -1, 0.5)
    assert level.shape == (72, 84)
    point = next(p for p in school.of(AccessPoint) if p.label == "Portable")
    _, moved = grid(
        client.post(f"{at}/air/terrain", json=ask | {"moved": body_of(point, at={"x_m": 8, "y_m": 24})})
    )
    here = (round((24 - y0) / cell), round((8 - x0) / cell))
    assert moved[here] > level[here] + 3
    assert client.get(at).json["revision"] == 0


@pytest.mark.parametrize(("signal", "way"), [("best", "down"), ("second", "weaker"), ("third", "up")])
def test_second_is_under_best_and_weaker_under_down(client, at, school, signal, way):
    ask = {"storey_id": school.storeys[0].id, "band": "2.4"}
    _, best = grid(client.post(f"{at}/air/terrain", json=ask | {"way": "down"}))
    _, other = grid(client.post(f"{at}/air/terrain", json=ask | {"signal": signal, "way": way}))
    assert (other <= best + 15).all()
    if signal != "best":
        assert other.mean() < best.mean()


def test_the_account_of_a_place_adds_up(client, at, school):
    query = {"storey_id": school.storeys[0].id, "band": "5", "x_m": 16.1, "y_m": 16.2}
    accounts = client.get(f"{at}/air/account", query_string=query).json["accounts"]
    sums = [account["sum"] for account in accounts]
    assert len(sums) == 2
    assert sum(line["value"] for line in sums[0]["lines"]) == pytest.approx(sums[0]["value"], abs=0.02)


def test_suggestions_can_be_sent_as_edits(client):
    job = client.post("/api/jobs", json={"name": "New"}).json
    at = f"/api/jobs/{job['id']}"
    networks = client.get(f"{at}/network/suggestion").json["operations"]
    assert edit(client, at, *networks).status_code == 200
    assert client.get(f"{at}/network/suggestion").json["operations"] == []
    assert client.get(f"{at}/runs/suggestion").json["operations"] == []


def png(size=(60, 40)):
    out = io.BytesIO()
    Image.new("RGB", size, "white").save(out, "PNG")
    return out.getvalue()


def upload(client, at, body, **form):
    return client.post(f"{at}/pictures", data={"file": (io.BytesIO(body), "plan.png"), **form})


def test_a_picture_is_kept_once_and_travels_with_the_job_file(client, at):
    kept = [upload(client, at, png()).json for _ in range(2)]
    assert kept[0] == kept[1]
    assert (kept[0]["width_px"], kept[0]["height_px"]) == (60, 40)
    shown = client.get(f"{at}/pictures/{kept[0]['attachment_id']}")
    assert shown.content_type == "image/png"
    exported = client.get(f"{at}/export/job.json")
    assert "attachment; filename=" in exported.headers["Content-Disposition"]
    other = client.post("/api/import", data=exported.data, content_type="application/json").json
    again = client.get(f"/api/jobs/{other['id']}/pictures/{kept[0]['attachment_id']}")
    assert again.data == shown.data


def test_a_job_file_goes_out_and_comes_back_identical(client, at):
    first = client.get(f"{at}/export/job.json").data
    made = client.post("/api/import", data=first, content_type="application/json")
    assert made.status_code == 201
    assert client.get(f"/api/jobs/{made.json['id']}/export/job.json").data == first


def test_kit_and_settings_go_out(client, at):
    assert client.get(f"{at}/export/kit.csv").data.startswith(b"group,item,label")
    settings = client.get(f"{at}/export/settings.json").json
    assert settings["format"] == "heathrise-settings"
    assert settings["radios"]


def test_the_library_is_served_whole(client):
    shelves = client.get("/api/library").json
    assert len(shelves["build_ups"]) >= 20
    assert shelves["needs"]["calls"]["second_dbm"] == -70


BAD = [
    ("text for a number", {"storey_id": "{storey}", "band": "5", "signal": 7}, 422),
    ("an unknown band", {"storey_id": "{storey}", "band": "9"}, 422),
    ("a storey that is none", {"storey_id": new_id(), "band": "5"}, 422),
]


@pytest.mark.parametrize(
    ("ask", "status"), [(ask, status) for _, ask, status in BAD], ids=[n for n, _, _ in BAD]
)
def test_a_terrain_that_cannot_be_is_refused(client, at, school, ask, status):
    ask = {
        k: v.replace("{storey}", school.storeys[0].id) if isinstance(v, str) else v for k, v in ask.items()
    }
    refused = client.post(f"{at}/air/terrain", json=ask)
    assert refused.status_code == status
    assert refused.json["detail"]


def wrong_edits(school):
    point, space = school.of(AccessPoint)[0], school.of(Space)[0]
    wall = next(e for e in school.elements if e.kind == "wall")
    underlay = {
        "kind": "underlay",
        "id": new_id(),
        "label": "x",
        "storey_id": point.storey_id,
        "attachment_id": new_id(),
        "width_px": 9,
        "height_px": 9,
    }
    return [
        (put(wall, b=wall.a.model_dump()), "no length"),
        ({"op": "put", "element": underlay | {"metres_per_px": 0}}, "greater than 0"),
        (put(point, height_m="high"), "valid number"),
        (put(point, storey_id=new_id()), "no such storey"),
        (put(point, at={"x_m": 9000, "y_m": 0}), "outside every storey"),
        (
            {
                "op": "put",
                "element": {
                    "kind": "link",
                    "id": new_id(),
                    "label": "R-99",
                    "a": {"on": new_id()},
                    "b": {"on": point.id},
                    "product": "cat6-indoor",
                },
            },
            "no such rack",
        ),
        (put(space, outline=[]), "at least 3"),
        ({"op": "remove", "id": new_id()}, "not in the job"),
        ({"op": "explode"}, "expected tags"),
    ]


@pytest.mark.parametrize("which", range(9))
def test_bad_edits_are_refused_in_words_and_harm_nothing(client, at, school, which):
    operation, words = wrong_edits(school)[which]
    before = client.get(f"{at}/export/job.json").data
    refused = edit(client, at, operation)
    assert refused.status_code == 422
    assert refused.content_type.startswith("application/problem+json")
    assert words in refused.json["detail"]
    assert "Nothing was saved" in refused.json["detail"]
    assert client.get(f"{at}/export/job.json").data == before


@pytest.mark.parametrize(
    ("body", "status", "words"),
    [
        (b"", 422, "neither PNG"),
        (b"GIF89a......", 422, "neither PNG"),
        (png((8000, 5001)), 422, "40 is the most"),
        (b"%PDF-1.4\n", 422, "PDF"),
    ],
    ids=["empty", "foreign", "40 megapixels", "broken PDF"],
)
def test_bad_pictures_are_refused_in_words(client, at, body, status, words):
    refused = upload(client, at, body)
    assert refused.status_code == status
    assert words in refused.json["detail"]


def test_a_picture_over_its_limit_is_refused_in_words(app, client, at):
    app.extensions["settings"] = app.extensions["settings"].model_copy(update={"picture_mb": 0.2})
    refused = upload(client, at, b"0" * 200_001)
    assert refused.status_code == 422
    assert "more than 0.2 MB, which is the most" in refused.json["detail"]


def test_a_body_beyond_any_limit_is_not_even_read(app, client, at):
    app.config["MAX_CONTENT_LENGTH"] = 1000
    refused = upload(client, at, b"0" * 2000)
    assert refused.status_code == 413
    assert "larger than is read" in refused.json["detail"]


@pytest.mark.parametrize(
    ("body", "words"),
    [
        (b"{", "not readable JSON"),
        (b"[1]", "no job file"),
        (json.dumps({"format": "heathrise-job", "schema_version": 9, "name": "x"}).encode(), "newer release"),
    ],
)
def test_bad_job_files_are_refused_and_nothing_is_made(client, body, words):
    refused = client.post("/api/import", data=body, content_type="application/json")
    assert refused.status_code == 422
    assert words in refused.json["detail"]
    assert client.get("/api/jobs").json["jobs"] == []


@pytest.mark.parametrize(
    "path",
    [
        "/api/jobs/{0}",
        "/api/jobs/{0}/assessment",
        "/api/jobs/{0}/export/kit.csv",
        "/api/jobs/{0}/pictures/{0}",
    ],
)
def test_what_is_not_there_answers_404(client, path):
    answer = client.get(path.format(new_id()))
    assert answer.status_code == 404
    assert answer.json["title"] == "No such job"


def test_undo_of_nothing_says_so(client, at):
    assert client.post(f"{at}/undo", json={"edit_id": new_id(), "actor": ACTOR}).status_code == 409


def test_a_database_gone_in_the_middle_answers_503_and_the_edit_can_be_sent_again(
    app, client, at, school, monkeypatch
):
    desk = app.extensions["desk"]
    good, point = desk.database, school.of(AccessPoint)[0]
    edit_id = new_id()
    monkeypatch.setattr(desk, "database", Database("mysql+pymysql://root@127.0.0.1:1/none"))
    refused = edit(client, at, put(point, label="Kept"), edit_id=edit_id)
    assert refused.status_code == 503
    assert "sent again" in refused.json["detail"]
    assert refused.headers["Retry-After"]
    monkeypatch.setattr(desk, "database", good)
    assert client.get(at).json["revision"] == 0
    assert edit(client, at, put(point, label="Kept"), edit_id=edit_id).json["revision"] == 1


def test_a_mistake_of_ours_is_a_plain_answer_without_its_innards(app, client, at, monkeypatch):
    monkeypatch.setattr(app.extensions["desk"], "newest", lambda _: 1 / 0)
    answer = client.get(at)
    assert answer.status_code == 500
    assert b"ZeroDivision" not in answer.data


DEEP = "[" * 50_000 + "]" * 50_000


@pytest.mark.parametrize("address", ["edits", "undo", "shape", "air/terrain", "studies"])
def test_what_is_nested_too_deep_is_refused(client, at, address):
    for text in (DEEP, f'{{"operations": {DEEP}}}'):
        said = client.post(f"{at}/{address}", data=text, content_type="application/json")
        assert 400 <= said.status_code < 500
        assert said.content_type.startswith("application/problem+json")


def test_the_log_quotes_nothing_of_what_was_sent(client, at, monkeypatch, capfd):
    def broken(*_):
        raise ValueError("the secret of the client")

    monkeypatch.setattr("heathrise.api.desk.Opened.edit", broken)
    said = edit(client, at, {"op": "remove", "id": new_id()})
    assert said.status_code == 500
    written = capfd.readouterr()
    assert "secret of the client" not in written.out + written.err + said.text
    assert "ValueError" in written.out


def test_a_file_whose_name_has_a_line_break_is_refused_in_words(client, at):
    form = {"file": (io.BytesIO(b"x"), "plan\r\nX-Evil: 1.png")}
    said = client.post(f"{at}/pictures", data=form)
    assert said.status_code == 422
    assert "did not come as a file" in said.json["detail"]


def test_an_edit_larger_than_is_kept_in_time_is_refused_whole(client, at):
    wall = {"op": "remove", "id": new_id()}
    said = edit(client, at, *[wall] * (MOST_OPERATIONS + 1))
    assert said.status_code == 422
    assert str(MOST_OPERATIONS) in said.json["detail"]
    assert client.get(at).json["revision"] == 0
