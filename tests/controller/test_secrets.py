"""Passphrases: made, judged, kept sealed, opened when asked for, and nowhere else in clear."""

import io
import json
import zipfile

import cv2
import pypdfium2
import pytest
from sqlalchemy import MetaData

from heathrise.core.job import Ssid
from heathrise.exchange.paper.guestcard import code_text
from heathrise.store import passphrases
from heathrise.store.sealing import NoKey, Sealer
from tests.controller.somebody import line_of, secret_of

SECRET = "Otter-Lantern-Quill-58"


def names(bench):
    return bench.get("network/passphrases")["passphrases"]


def first(bench):
    return next(one for one in names(bench) if one["needed"])


def test_one_is_made_kept_and_opened_only_when_asked(bench):
    ssid = first(bench)
    assert not ssid["kept"]
    bench.post(f"network/passphrases/{ssid['ssid_id']}", {}, "put")
    shown = first(bench)
    assert (shown["kept"], shown["made"], shown["problem"]) == (True, True, "")
    clear = bench.post(f"network/passphrases/{ssid['ssid_id']}/open")["passphrase"]
    assert shown["chars"] == len(clear) == 19
    assert clear not in json.dumps(names(bench))


@pytest.mark.parametrize(("given", "weak"), [("aaaaaaaaaaaa", True), ("short-12", True), (SECRET, False)])
def test_a_weak_one_is_kept_and_said_to_be_weak(bench, given, weak):
    ssid = first(bench)
    bench.post(f"network/passphrases/{ssid['ssid_id']}", {"passphrase": given}, "put")
    assert bool(first(bench)["problem"]) is weak


@pytest.mark.parametrize("given", ["seven77", "x" * 64])
def test_one_that_no_radio_takes_is_refused(bench, given):
    found = bench.post(f"network/passphrases/{first(bench)['ssid_id']}", {"passphrase": given}, "put")
    assert found["status"] == 422
    assert given not in json.dumps(found)


def test_it_appears_in_no_log_export_answer_or_table(bench, capfd):
    """Typed, pushed, refused and put back; then everything that leaves or is kept is searched for it."""
    for ssid in names(bench):
        if ssid["needed"]:
            bench.post(f"network/passphrases/{ssid['ssid_id']}", {"passphrase": SECRET}, "put")
    push = bench.brought_on()
    line = line_of(bench)
    assert line.send("POST", "config/wlans/check", {"name": first(bench)["label"], "secret": SECRET})["same"]
    said = [
        json.dumps(push),
        json.dumps(bench.get("controller/live")),
        json.dumps(bench.get("controller/log")),
    ]
    for path in (
        "export/settings.json",
        "export/settings.yaml",
        "export/topology.json",
        "export/job.json",
        "",
    ):
        answered = bench.client.get(f"{bench.at}/{path}".rstrip("/"))
        assert answered.status_code == 200, path
        said.append(answered.get_data(as_text=True))
    archive = zipfile.ZipFile(io.BytesIO(bench.client.get(f"{bench.at}/export/settings.zip").data))
    said += [archive.read(name).decode() for name in archive.namelist()]
    database = bench.client.application.extensions["desk"].database
    tables = MetaData()
    tables.reflect(database.engine)
    assert {"secret", "controller", "push", "element", "change"} <= set(tables.tables)
    with database.transaction() as session:
        said += [str(row) for table in tables.sorted_tables for row in session.execute(table.select())]
    out, err = capfd.readouterr()
    hay = "\n".join([*said, out, err])
    assert SECRET not in hay
    assert secret_of(bench) not in hay


def test_what_was_sealed_opens_with_its_key_and_for_its_name_only(tmp_path):
    sealer = Sealer(tmp_path / "key")
    sealed = sealer.seal(b"a passphrase", "job", "name")
    assert sealer.open(sealed, "job", "name") == b"a passphrase"
    assert sealed != sealer.seal(b"a passphrase", "job", "name")
    with pytest.raises(NoKey):
        sealer.open(sealed, "job", "another")
    with pytest.raises(NoKey, match="another key"):
        Sealer(tmp_path / "other").open(sealed, "job", "name")
    assert (tmp_path / "key").stat().st_mode & 0o077 == 0


def test_without_a_key_nothing_is_kept_and_it_is_said(bench, app):
    app.extensions["sealer"] = Sealer(None)
    found = bench.post(f"network/passphrases/{first(bench)['ssid_id']}", {"passphrase": SECRET}, "put")
    assert (found["status"], found["why"]) == (409, "no-key")
    assert not first(bench)["kept"]


def test_made_ones_are_strong_and_never_the_same():
    found = {passphrases.made() for _ in range(50)}
    assert len(found) == 50
    assert all(passphrases.strength(one).bits > 60 and len(one) == 19 for one in found)


@pytest.mark.parametrize(
    ("label", "security", "passphrase", "text_"),
    [
        ("guest", "transition", "abcd-efgh", "WIFI:T:WPA;S:guest;P:abcd-efgh;;"),
        ("guest", "wpa3", "abcd-efgh", "WIFI:T:SAE;S:guest;P:abcd-efgh;;"),
        ('a;b:"c"', "wpa2", "x\\y,z123", 'WIFI:T:WPA;S:a\\;b\\:\\"c\\";P:x\\\\y\\,z123;;'),
        ("open", "open", "", "WIFI:T:nopass;S:open;;"),
    ],
)
def test_the_code_of_a_card_is_what_phones_read(label, security, passphrase, text_):
    ident = "00000000-0000-7000-8000-000000000001"
    ssid = Ssid(id=ident, label=label, network_id=ident, security=security)
    assert code_text(ssid, passphrase) == text_


def test_a_card_is_a_page_that_says_the_name(bench):
    ssid = first(bench)
    bench.post(f"network/passphrases/{ssid['ssid_id']}", {"passphrase": SECRET}, "put")
    card = bench.client.post(f"{bench.at}/network/passphrases/{ssid['ssid_id']}/card")
    assert card.content_type == "application/pdf"
    assert card.headers["Cache-Control"] == "no-store"
    page = pypdfium2.PdfDocument(card.data)[0].render(scale=3).to_numpy()
    read, *_ = cv2.QRCodeDetector().detectAndDecode(page)
    assert read == f"WIFI:T:WPA;S:{ssid['label']};P:{SECRET};;"
