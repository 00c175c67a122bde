"""A drawing sent, read, mapped and accepted, by the API as the browser uses it."""

import io
import threading
import time
from itertools import pairwise
from uuid import uuid4

import pytest
from benchmarks import plans
from benchmarks.models import model
from reportlab.pdfgen.canvas import Canvas

from heathrise.core.findings import assess
from heathrise.core.job import Job, Opening, Space, Underlay, Wall
from heathrise.core.site.building import building_of
from heathrise.store.jobs import load_job, new_id
from heathrise.store.tables import ImportRow


@pytest.fixture
def empty(client) -> dict:
    return client.post("/api/jobs", json={"name": "Drawn from a file", "site_kind": "home"}).json


def send(client, job, body: bytes, name: str, **form):
    at = f"/api/jobs/{job['id']}/imports"
    sent = client.post(at, data={"file": (io.BytesIO(body), name), **form})
    assert sent.status_code == 202, sent.text
    return f"{at}/{sent.json['id']}"


def wait(client, address: str, seconds: float = 60) -> dict:
    """Poll as the browser does until the file is read or refused."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        state = client.get(address).json
        if state["state"] != "running":
            return state
        client.application.extensions["pause"].wait(0.1)
    raise AssertionError(f"still reading: {state}")


@pytest.fixture(autouse=True)
def pause(app):
    app.extensions["pause"] = threading.Event()


def accept(client, job, address: str, rejected=(), storey=True, **said):
    ground = next(e["id"] for e in job["elements"] if e["kind"] == "storey")
    body = {
        "edit_id": str(uuid4()),
        "actor": str(uuid4()),
        "base_revision": 0,
        "rejected": list(rejected),
        "storey_id": ground if storey else None,
    }
    return client.post(f"{address}/accept", json=body | said), body


def job_now(app, job) -> Job:
    with app.extensions["desk"].database.transaction() as session:
        return load_job(session, job["id"]).job


def geometry_holds(job: Job) -> None:
    """No finding of the drawing itself, every space a proper polygon, every opening on its wall."""
    wrong = {"plan.space-open", "plan.wall-crosses-itself", "plan.door-improbable", "plan.storey-height"}
    assert [f.text for f in assess(job).findings if f.rule in wrong] == []
    building = building_of(job)
    assert all(p.is_valid and p.area > 0.5 for p in building.polygons.values())
    for opening in job.of(Opening):
        assert opening.at_m + opening.width_m <= job.get(Wall, opening.wall_id).length_m + 0.01


def test_a_cad_drawing_becomes_a_building_in_one_edit_and_one_undo(app, client, empty):
    made = plans.plan(5)
    address = send(client, empty, plans.dxf(made).encode(), "ground floor.dxf")
    state = wait(client, address)
    assert state["state"] == "done", state
    reading = state["reading"]
    assert {row["name"]: row["role"] for row in reading["layers"]} == {
        "A-DOOR": "door",
        "A-FURN": "ignore",
        "A-ROOM-NAME": "text",
        "A-WALL": "wall",
    }
    answer, body = accept(client, empty, address)
    assert answer.status_code == 200, answer.text
    job = job_now(app, empty)
    assert len(job.of(Space)) == len(made.rooms)
    assert len([o for o in job.of(Opening) if o.opening_kind == "door"]) == len(made.doors)
    assert {s.label for s in job.of(Space)} == {name for name, _ in made.rooms}
    geometry_holds(job)
    assert client.get(address).status_code == 404
    undone = client.post(f"/api/jobs/{empty['id']}/undo", json={"edit_id": new_id(), "actor": body["actor"]})
    assert undone.status_code == 200
    assert job_now(app, empty).of(Wall) == ()


def test_what_a_layer_holds_is_remembered_by_the_firm(client, empty):
    made = plans.plan(2)
    text = plans.dxf(made).replace("A-WALL", "XY-7")
    address = send(client, empty, text.encode(), "odd.dxf")
    first = wait(client, address)["reading"]
    roles = {row["name"]: row["role"] for row in first["layers"]}
    # Its name says nothing, but its lines make rooms.
    assert roles["XY-7"] == "wall"
    assert len(first["proposal"]["storeys"][0]["walls"]) > 5
    asked = client.put(address, json={"roles": roles | {"XY-7": "ignore"}})
    assert asked.status_code == 202
    assert wait(client, address)["reading"]["proposal"]["storeys"][0]["walls"] == []
    again = wait(client, send(client, empty, text.encode(), "odd again.dxf"))["reading"]
    rows = {row["name"]: row for row in again["layers"]}
    assert (rows["XY-7"]["role"], rows["XY-7"]["why"]) == ("ignore", "as was said")
    # What was guessed and left as it was is nobody's word.
    assert rows["A-DOOR"]["why"] == "by its name"


def test_a_scanned_picture_gives_walls_its_scale_and_a_straight_underlay(app, client, empty):
    made = plans.plan(3)
    address = send(client, empty, plans.picture(made.turned(2.0), scale=100), "leaflet.png")
    first = wait(client, address)["reading"]
    assert not first["scale_known"]
    assert abs(first["turn_deg"]) == pytest.approx(2.0, abs=0.3)
    asked = client.put(address, json={"scale": {"metres_per_unit": 0.0254 / 150 * 100}})
    assert asked.status_code == 202
    state = wait(client, address)
    reading = state["reading"]
    assert reading["scale_known"]
    walls = reading["proposal"]["storeys"][0]["walls"]
    length = sum(
        ((w["a"]["x_m"] - w["b"]["x_m"]) ** 2 + (w["a"]["y_m"] - w["b"]["y_m"]) ** 2) ** 0.5 for w in walls
    )
    truth = sum(((x1 - x2) ** 2 + (y1 - y2) ** 2) ** 0.5 for (x1, y1, x2, y2), _ in made.walls)
    assert length == pytest.approx(truth, rel=0.05)
    assert client.get(f"{address}/picture").data.startswith(b"\x89PNG")
    answer, _ = accept(client, empty, address, rejected=[walls[0]["id"]])
    assert answer.status_code == 200, answer.text
    job = job_now(app, empty)
    assert len(job.of(Wall)) == len(walls) - 1
    assert job.of(Underlay)[0].metres_per_px == pytest.approx(0.0254 / 150 * 100)
    geometry_holds(job)


def test_a_building_model_brings_its_storeys(app, client, empty):
    address = send(client, empty, model(storeys=3, rooms=3).encode(), "house.ifc")
    state = wait(client, address)
    assert state["state"] == "done", state
    answer, _ = accept(client, empty, address)
    assert answer.status_code == 200, answer.text
    job = job_now(app, empty)
    assert [round(s.elevation_m, 2) for s in job.storeys] == [0, 3, 6]
    assert len(job.of(Space)) == 9
    assert {w.build_up for w in job.of(Wall)} == {"cavity", "stud-plasterboard", "reinforced-200"}
    geometry_holds(job)


@pytest.mark.parametrize(
    ("body", "name", "words"),
    [
        (b"  0\nSECTION\n  2\nENTITIES\n  0\nENDSEC\n  0\nEOF\n", "nothing.dxf", "no line"),
        (b"ISO-10303-21;\nHEADER;\nENDSEC;", "cut.ifc", "cut short"),
        (b'{"type": "FeatureCollection"}', "bare.geojson", "no GeoJSON"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'><path d='M0", "cut.svg", "cut off"),
        (b"\x89PNG\r\n\x1a\nrest", "cut.png", "cannot be read"),
    ],
)
def test_what_cannot_be_read_says_why_and_changes_nothing(app, client, empty, body, name, words):
    state = wait(client, send(client, empty, body, name))
    assert state["state"] == "failed"
    assert words in state["doing"]
    assert job_now(app, empty).of(Wall) == ()


@pytest.mark.parametrize(
    ("body", "name", "words"),
    [
        (b"", "empty.dxf", "empty"),
        (b"hello", "notes.txt", "none of DXF"),
        (b"AC1032\x00\x00\x00binary", "closed.dwg", "closed format"),
        (b"PK\x03\x04rest", "packed.zip", "Unpack it"),
    ],
)
def test_what_is_no_drawing_is_refused_at_once(app, client, empty, body, name, words):
    sent = client.post(f"/api/jobs/{empty['id']}/imports", data={"file": (io.BytesIO(body), name)})
    assert sent.status_code == 422
    assert words in sent.json["detail"]
    assert job_now(app, empty).of(Wall) == ()


def test_a_cancelled_import_is_gone_and_its_reader_ends(client, empty):
    address = send(client, empty, plans.dxf(plans.plan(1), extra_entities=4_000).encode(), "large.dxf")
    assert client.delete(address).status_code == 204
    assert client.get(address).status_code == 404
    assert (
        client.post(
            f"{address}/accept", json={"edit_id": str(uuid4()), "actor": str(uuid4()), "base_revision": 0}
        ).status_code
        == 404
    )


def test_scales_are_said_by_door_and_by_printed_scale(client, empty):
    made = plans.plan(5)
    address = send(client, empty, plans.dxf(made, unit=10.0, insunits=None).encode(), "no units.dxf")
    first = wait(client, address)["reading"]
    assert not first["scale_known"]
    assert "guessed" in first["unit"]
    asked = client.put(address, json={"scale": {"door_m": 0.9}, "roles": {}})
    if asked.status_code == 202:
        assert asked.json["scale_sum"]["lines"]
    refused = client.put(address, json={"scale": {"metres_per_unit": 0}})
    assert refused.status_code == 422


def locked_pdf() -> bytes:
    out = io.BytesIO()
    pen = Canvas(out, pagesize=(1190, 842), encrypt="sesame")
    for ring in plans.plan(3).faces:
        for (x1, y1), (x2, y2) in pairwise(ring):
            pen.line(x1 * 28 + 90, y1 * 28 + 90, x2 * 28 + 90, y2 * 28 + 90)
    pen.showPage()
    pen.save()
    return out.getvalue()


def test_a_locked_file_asks_for_its_password_and_keeps_none(app, client, empty):
    address = send(client, empty, locked_pdf(), "locked.pdf")
    state = wait(client, address)
    assert (state["state"], state["locked"]) == ("failed", True)
    assert client.put(address, json={"password": "sesame"}).status_code == 202
    state = wait(client, address)
    assert (state["state"], state["locked"]) == ("done", False)
    with app.extensions["desk"].database.transaction() as session:
        row = session.get(ImportRow, address.rsplit("/", 1)[-1])
        assert "sesame" not in str(row.asked)


def test_openings_and_storeys_are_taken_as_a_person_says(app, client, empty):
    made = plans.plan(5)
    address = send(client, empty, plans.dxf(made).encode(), "plan.dxf")
    storey = wait(client, address)["reading"]["proposal"]["storeys"][0]
    kinds = [{"id": o["id"], "opening_kind": "window"} for o in storey["openings"]]
    answer, _ = accept(
        client, empty, address, kinds=kinds, storeys=[{"take": True, "label": "Loft", "elevation_m": 6.0}]
    )
    assert answer.status_code == 200, answer.text
    job = job_now(app, empty)
    assert {o.opening_kind for o in job.of(Opening)} == {"window"}
    assert {o.sill_m for o in job.of(Opening)} == {0.9}
    assert {s.label: s.elevation_m for s in job.storeys}["Loft"] == 6.0


def test_the_picture_as_it_was_sent_is_shown_to_say_its_corners(client, empty):
    body = plans.picture(plans.plan(2))
    address = send(client, empty, body, "leaflet.png")
    wait(client, address)
    original = client.get(f"{address}/original")
    assert (original.status_code, original.content_type, original.data) == (200, "image/png", body)
    drawing = send(client, empty, plans.dxf(plans.plan(2)).encode(), "plan.dxf")
    assert client.get(f"{drawing}/original").status_code == 404


def test_a_reading_that_fails_leads_back_to_the_one_before(client, empty):
    address = send(client, empty, plans.picture(plans.plan(2)), "leaflet.png")
    first = wait(client, address)
    assert not first["earlier"]
    crossed = [[0.1, 0.1], [0.9, 0.9], [0.9, 0.1], [0.1, 0.9]]
    assert client.put(address, json={"corners": crossed}).status_code == 202
    failed = wait(client, address)
    assert (failed["state"], failed["earlier"]) == ("failed", True)
    assert "do not go round" in failed["doing"]
    refused, _ = accept(client, empty, address)
    assert refused.status_code == 422
    back = client.post(f"{address}/back")
    assert (back.status_code, back.json["state"]) == (200, "done")
    assert back.json["reading"] == first["reading"]
    taken, _ = accept(client, empty, address)
    assert taken.status_code == 200


def test_a_reading_that_is_stopped_leads_back_and_its_reader_says_no_more(client, empty):
    address = send(client, empty, plans.dxf(plans.plan(5), extra_entities=4_000).encode(), "large.dxf")
    first = wait(client, address)["reading"]
    roles = {layer["name"]: "ignore" for layer in first["layers"]}
    assert client.put(address, json={"roles": roles}).json["earlier"]
    assert client.post(f"{address}/back").json["reading"] == first
    # Read once more, it is by what is asked now.
    assert client.put(address, json={"roles": {}}).status_code == 202
    again = wait(client, address)["reading"]
    ids = [[wall["id"] for wall in r["proposal"]["storeys"][0]["walls"]] for r in (first, again)]
    assert ids[0] == ids[1]


def test_a_file_that_was_never_read_has_nothing_to_go_back_to(client, empty):
    address = send(client, empty, locked_pdf(), "locked.pdf")
    assert not wait(client, address)["earlier"]
    assert client.post(f"{address}/back").status_code == 422
