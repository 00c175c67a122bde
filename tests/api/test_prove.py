"""Records over the wire: sent twice, from a wrong clock, half of them unfit; photographs, files of tests, and a hand-over."""

import io
import json
import zipfile
from datetime import UTC, datetime, timedelta

import pypdfium2 as pdfium
import pytest
from openpyxl import load_workbook
from PIL import Image

from heathrise.exchange.jobfile import read_job
from heathrise.store import jobs
from heathrise.store.jobs import create_job, new_id
from tests.core.findings.test_rules import sound
from tests.house import by_label

DEVICE = new_id()


@pytest.fixture
def house(app):
    """A house of one rack and two runs, kept."""
    with app.extensions["desk"].database.transaction() as session:
        return create_job(session, sound().job)


@pytest.fixture
def door(house) -> str:
    return f"/api/jobs/{house.id}"


def run_of(house, label="R-01") -> str:
    return by_label(house.job, label).id


def tick(house, said_at=None, **body):
    run = run_of(house)
    given = {
        "id": new_id(),
        "kind": "done",
        "subject": run,
        "task": f"pull:{run}",
        "by": "Ana",
        "said_at": (said_at or datetime.now(tz=UTC)).isoformat(),
    }
    return given | body


def sent(client, door, *records, **more):
    body = {"device": DEVICE, "records": list(records)} | more
    return client.post(f"{door}/records", json=body)


def field(client, door):
    return client.get(f"{door}/field").json


def test_what_is_sent_twice_is_kept_once_and_counts_one_revision(client, house, door):
    one = tick(house)
    first, second = sent(client, door, one), sent(client, door, one)
    assert (first.json["new"], second.json["new"]) == (1, 0)
    assert first.json["kept"] == second.json["kept"] == [one["id"]]
    taken = field(client, door)
    assert taken["done"][one["task"]]["by"] == ["Ana"]
    assert taken["revision"] == 1


def test_one_that_is_unfit_keeps_no_other_back_and_says_why(client, house, door):
    good, bad = tick(house), tick(house, number=1e12)
    answer = sent(client, door, bad, good, {"id": "what"}).json
    assert answer["kept"] == [good["id"]]
    assert [one["id"] for one in answer["refused"]] == [bad["id"], "what"]
    assert "number" in answer["refused"][0]["why"]


def test_a_wrong_clock_is_put_right_by_what_it_says_when_it_sends(client, house, door):
    """A phone two years behind: what it wrote ten minutes before it sent was ten minutes ago."""
    then = datetime.now(tz=UTC) - timedelta(days=730)
    one = tick(house, said_at=then - timedelta(minutes=10))
    answer = sent(client, door, one, sent_at=then.isoformat()).json
    assert answer["clock_off_s"] == pytest.approx(730 * 86_400, abs=30)
    at = datetime.fromisoformat(field(client, door)["done"][one["task"]]["at"])
    assert abs(datetime.now(tz=UTC) - at - timedelta(minutes=10)) < timedelta(seconds=30)


def test_what_says_it_is_of_tomorrow_is_dated_now(client, house, door):
    one = tick(house, said_at=datetime.now(tz=UTC) + timedelta(days=1))
    sent(client, door, one)
    at = datetime.fromisoformat(field(client, door)["done"][one["task"]]["at"])
    assert at <= datetime.now(tz=UTC)


def test_five_hundred_records_take_few_statements_and_one_revision(client, app, house, door):
    many = [tick(house, kind="note", text=f"note {n}") for n in range(500)]
    assert sent(client, door, *many).json["new"] == 500
    with app.extensions["desk"].database.transaction() as session:
        assert jobs.revision_of(session, house.id) == 1


def test_a_record_of_what_was_removed_is_kept(client, house, door):
    run = run_of(house)
    removed = client.post(
        f"{door}/edits",
        json={
            "edit_id": new_id(),
            "actor": new_id(),
            "label": "Remove",
            "base_revision": 0,
            "known_revision": 0,
            "operations": [{"op": "remove", "id": run}],
            "seen": [house.job.by_id[run].model_dump(mode="json")],
            "absent": [],
            "choices": [],
        },
    )
    assert removed.status_code == 200, removed.text
    fault = tick(house, kind="measured", text="Crushed at the door", measured={"measured": "fault"})
    assert sent(client, door, fault).json["new"] == 1
    (shown,) = client.get(f"{door}/prove").json["faults"]
    assert (shown["text"], shown["label"]) == ("Crushed at the door", "what is no more on the drawing")


def test_records_stand_in_nobodys_way_to_undo(client, house, door):
    actor = new_id()
    edit = {
        "edit_id": new_id(),
        "actor": actor,
        "label": "Rename",
        "base_revision": 0,
        "known_revision": 0,
        "operations": [
            {
                "op": "put",
                "element": by_label(house.job, "AP west").model_dump(mode="json") | {"label": "AP sea"},
            }
        ],
        "seen": [by_label(house.job, "AP west").model_dump(mode="json")],
        "absent": [],
        "choices": [],
    }
    assert client.post(f"{door}/edits", json=edit).status_code == 200
    sent(client, door, tick(house), device=actor)
    undo = {"edit_id": new_id(), "actor": actor, "known_revision": 2, "choices": [], "target": None}
    assert client.post(f"{door}/undo", json=undo).status_code == 200
    assert field(client, door)["done"]


def photograph(size=(3000, 2000), **more) -> bytes:
    out = io.BytesIO()
    exif = Image.Exif()
    exif[0x010F] = "Somebody's camera"
    Image.new("RGB", size, (90, 120, 90)).save(out, "JPEG", exif=exif, **more)
    return out.getvalue()


def send_photo(client, door, body, photo=None):
    photo = photo or new_id()
    form = {"file": (io.BytesIO(body), "photo.jpg")}
    return photo, client.post(f"{door}/photos/{photo}", data=form, content_type="multipart/form-data")


def test_a_photograph_is_made_small_and_loses_what_the_camera_wrote(client, door):
    photo, answer = send_photo(client, door, photograph())
    assert (answer.status_code, answer.json["width_px"]) == (201, 1600)
    body = client.get(f"{door}/photos/{photo}").data
    assert b"Somebody" not in body
    assert Image.open(io.BytesIO(body)).size == (1600, 1067)
    assert send_photo(client, door, photograph((10, 10)), photo)[1].status_code == 201
    assert client.get(f"{door}/photos/{photo}").data == body


def test_a_photograph_of_forty_megabytes_is_refused_in_words(client, door):
    head = b'--mark\r\nContent-Disposition: form-data; name="file"; filename="photo.jpg"\r\n\r\n\xff\xd8\xff'
    body = head + bytes(40_000_000) + b"\r\n--mark--\r\n"
    answer = client.post(
        f"{door}/photos/{new_id()}", data=body, content_type="multipart/form-data; boundary=mark"
    )
    assert answer.status_code == 422
    assert "more than 30 MB" in answer.json["detail"]


TESTS = "label,configuration,class,verdict,quantity,pair,f_mhz,value\n" + "".join(
    f"{label},permanent link,EA,pass,next,12-36,{f},{80 - f / 20}\n"
    for label in ("R-01", "R-02")
    for f in (1, 10, 100, 500)
)


def send_tests(client, door, text=TESTS, **more):
    form = {"file": (io.BytesIO(text.encode()), "tests.csv"), "by": "Ana"} | more
    return client.post(f"{door}/prove/tests", data=form, content_type="multipart/form-data")


def test_a_file_of_tests_is_looked_at_first_and_taken_once(client, door):
    looked = send_tests(client, door).json
    assert (looked["taken"], looked["records"]) == (2, [])
    assert {run["state"] for run in client.get(f"{door}/prove").json["runs"]} == {"none"}
    for _ in range(2):
        assert send_tests(client, door, take="true").status_code == 200
    runs = client.get(f"{door}/prove").json["runs"]
    assert {(run["state"], run["tests"]) for run in runs} == {("pass", 1)}
    opened = client.get(f"{door}/prove/runs/{runs[0]['run_id']}").json
    (curve,) = opened["curves"]
    assert len(curve["f_mhz"]) == len(curve["limit_db"]) == 4


def test_a_run_that_is_not_there_says_so(client, door):
    assert client.get(f"{door}/prove/runs/{new_id()}").status_code == 422


def sign(client, door, **more):
    body = {"signed_by": "Ana", "client": "The head", "call": "01632 960000"} | more
    return client.post(f"{door}/hand-overs", json=body)


WAIVED = dict.fromkeys(("runs", "ports", "points", "walks", "air"), "proven next week, agreed")


def handed_over(client, door, **more) -> dict:
    edition = sign(client, door, waived=WAIVED, **more).json
    for _ in range(60):
        edition = client.post(f"{door}/hand-overs/{edition['id']}/next").json
        if edition["state"] != "making":
            return edition
    raise AssertionError("it never ends")


def test_nothing_is_signed_while_a_part_is_not_proven_and_no_reason_is_given(client, door):
    refused = sign(client, door)
    assert (refused.status_code, refused.json["why"]) == (409, "not-ready")
    assert "runs with a test that counts" in refused.json["detail"]


def test_nothing_is_signed_with_an_open_fault_and_an_accepted_one_is_handed_over_with_its_reason(
    client, house, door
):
    fault = tick(house, kind="measured", text="Tile cracked", measured={"measured": "fault"})
    sent(client, door, fault)
    refused = sign(client, door, waived=WAIVED)
    assert "1 faults are open" in refused.json["detail"]
    turn = tick(
        house,
        kind="measured",
        about=fault["id"],
        text="client knows",
        measured={"measured": "turn", "state": "accepted"},
    )
    sent(client, door, turn)
    edition = handed_over(client, door)
    paper = client.get(f"{door}/hand-overs/{edition['id']}/files/hand-over.pdf").data
    text = "".join(page.get_textpage().get_text_range() for page in pdfium.PdfDocument(paper))
    assert "Tile cracked" in text
    assert "client knows" in text
    assert "proven next week, agreed" in text


def test_a_set_is_whole_numbered_frozen_and_read_by_others(client, house, door):
    send_tests(client, door, take="true")
    edition = handed_over(client, door)
    assert (edition["state"], edition["number"], edition["made"]) == ("signed", 1, edition["of"])
    packed = zipfile.ZipFile(io.BytesIO(client.get(f"{door}/hand-overs/{edition['id']}/set.zip").data))
    names = set(packed.namelist())
    assert {
        "set.pdf",
        "hand-over.pdf",
        "job.json",
        "tests.csv",
        "proof.xlsx",
        "plan-ground.dxf",
        "runs-ground.svg",
    } <= names
    papers = ("hand-over.pdf", "test-report.pdf", "drawings.pdf", "racks.pdf", "mounting.pdf")
    pages = {name: len(pdfium.PdfDocument(packed.read(name))) for name in (*papers, "set.pdf")}
    assert pages["set.pdf"] == sum(pages[name] for name in papers)
    book = load_workbook(io.BytesIO(packed.read("proof.xlsx")))
    assert [row[4].value for row in book["Runs"].iter_rows(min_row=2)] == ["pass", "pass"]
    assert len(read_job(packed.read("job.json")).records) == 2
    assert json.loads(packed.read("settings.json"))["format"] == "heathrise-settings"
    frozen = packed.read("hand-over.pdf")
    sent(client, door, tick(house))
    assert client.get(f"{door}/hand-overs/{edition['id']}/files/hand-over.pdf").data == frozen
    assert handed_over(client, door)["number"] == 2


def test_a_set_begun_before_the_job_changed_is_made_anew_of_one_revision(client, house, door):
    edition = sign(client, door, waived=WAIVED).json
    made = client.post(f"{door}/hand-overs/{edition['id']}/next").json
    assert made["made"] == 1
    sent(client, door, tick(house))
    made = client.post(f"{door}/hand-overs/{edition['id']}/next").json
    assert (made["made"], made["revision"]) == (1, 1)


def test_a_fault_that_comes_up_while_a_set_is_made_stops_it(client, house, door):
    edition = sign(client, door, waived=WAIVED).json
    client.post(f"{door}/hand-overs/{edition['id']}/next")
    sent(client, door, tick(house, kind="measured", text="Smoke", measured={"measured": "fault"}))
    refused = client.post(f"{door}/hand-overs/{edition['id']}/next")
    assert (refused.status_code, refused.json["why"]) == (409, "not-ready")
    assert client.get(f"{door}/hand-overs").json["editions"] == []


def test_a_stopped_one_leaves_nothing_and_its_number_is_free(client, door):
    edition = sign(client, door, waived=WAIVED).json
    client.post(f"{door}/hand-overs/{edition['id']}/next")
    stopped = client.post(f"{door}/hand-overs/{edition['id']}/stop").json
    assert (stopped["state"], stopped["files"]) == ("stopped", [])
    assert client.get(f"{door}/hand-overs").json["editions"] == []
    assert sign(client, door, waived=WAIVED).json["number"] == 1


def test_what_is_otherwise_since_is_named_field_by_field(client, house, door):
    edition = handed_over(client, door)
    point = by_label(house.job, "AP west").model_dump(mode="json")
    edit = {
        "edit_id": new_id(),
        "actor": new_id(),
        "label": "Raise",
        "base_revision": 0,
        "known_revision": 0,
        "operations": [{"op": "put", "element": point | {"height_m": 2.4}}],
        "seen": [point],
        "absent": [],
        "choices": [],
    }
    assert client.post(f"{door}/edits", json=edit).status_code == 200
    drift = client.get(f"{door}/hand-overs/{edition['id']}/drift").json
    (line,) = drift["lines"]
    assert (line["label"], line["change"]) == ("AP west", "changed")
    assert line["fields"] == [{"field": "Height", "before": "2.6", "after": "2.4"}]


def test_a_job_file_brings_its_records_and_photographs_along(client, house, door):
    photo, _ = send_photo(client, door, photograph((40, 30)))
    sent(client, door, tick(house, kind="photo", photo=photo))
    body = client.get(f"{door}/export/job.json").data
    brought = client.post("/api/import", data=body, content_type="application/json").json
    other = f"/api/jobs/{brought['id']}"
    assert client.get(f"{other}/photos/{photo}").status_code == 200
    task = f"pull:{run_of(house)}"
    assert field(client, other)["done"][task]["photos"] == [photo]
