"""Surveys, scans and antenna patterns as people send them, good and bad."""

import io

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import Workbook

from heathrise.core.edit import apply
from heathrise.core.job import Antenna, Neighbour, SurveyPoint
from heathrise.exchange.measured import read_antenna, read_scan, read_survey
from heathrise.exchange.rows import table_rows
from heathrise.exchange.unreadable import Unreadable
from heathrise.store.jobs import new_id
from tests.house import House


def house():
    made = House(2)
    made.point("Foyer", x=3)
    return made.job


def survey(text):
    return read_survey(table_rows(text.encode()), house(), new_id)


@pytest.mark.parametrize(
    "text",
    [
        "storey,x,y,point,band,dbm\nGround,3.5,4,Foyer,5,-61.5\n",
        "Floor;X;Y;AP;GHz;RSSI\nGround;3,5;4;foyer;5 GHz;-61,5\n",
        "x\ty\tpoint\tdBm\n3.5\t4\tFOYER\t\u221261.5\n",
        "\ufeffstorey|x|y|point|band|signal|time\nground|3.5|4|Foyer|5500|-61.5|2026-11-03T10:15:00\n",
    ],
)
def test_a_survey_in_any_usual_writing(text):
    found = survey(text)
    (put,) = found.operations
    row = put.element
    assert isinstance(row, SurveyPoint)
    assert (row.at.x_m, row.at.y_m, row.band, row.rssi_dbm) == (3.5, 4.0, "5", -61.5)
    assert found.skipped == ()
    assert len(apply(house(), found.operations).job.of(SurveyPoint)) == 1


def test_a_workbook_is_a_survey_too():
    book = Workbook()
    for row in (["x", "y", "point", "dbm"], [3.5, 4, "Foyer", -61.5]):
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    assert read_survey(table_rows(out.getvalue()), house(), new_id).taken == 1


@pytest.mark.parametrize(
    ("row", "why"),
    [
        ("Ground,3,4,Nowhere,5,-60", "no access point of that name"),
        ("Attic,3,4,Foyer,5,-60", "no storey of that name"),
        ("Ground,three,4,Foyer,5,-60", "x and y must be numbers"),
        ("Ground,3,4,Foyer,5,60", "from -120 to 0 dBm"),
        ("Ground,3,4,Foyer,5,loud", "from -120 to 0 dBm"),
        ("Ground,3,4,Foyer,60,-60", "2.4, 5 or 6 GHz"),
        ("Ground,3,4,Foyer,5,-60,yesterday", "time must be written like"),
        ("Ground,1e9,4,Foyer,5,-60", "x and y must be numbers"),
        ("Ground,999999,4,Foyer,5,-60", "less than or equal to 100000"),
    ],
)
def test_a_row_that_cannot_be_is_left_out_and_named(row, why):
    found = survey(f"storey,x,y,point,band,dbm,time\n{row}\nGround,3,4,Foyer,5,-60,\n")
    assert found.taken == 1
    (left,) = found.skipped
    assert left.what.startswith("row 2")
    assert why in left.why


def test_the_same_reading_twice_counts_once():
    found = survey("x,y,point,dbm,time\n3,4,Foyer,-60,2026-01-01T10:00\n3,4,Foyer,-70,2026-01-01T10:00\n")
    assert found.taken == 1
    assert "stand above" in found.skipped[0].why


@pytest.mark.parametrize(("text", "words"), [("", "no rows"), ("a,b\n1,2\n", "no column x and no column y")])
def test_a_table_that_is_none_is_refused(text, words):
    with pytest.raises(Unreadable, match=words):
        survey(text)


def test_a_scan_takes_neighbours_and_guesses_their_band_from_the_channel():
    text = b"bssid,channel,rssi,width\n02:00:00:00:00:01,6,-71,\n02:00:00:00:00:02,36,-80,80\nx,400,-60,\n"
    found = read_scan(table_rows(text), new_id)
    rows = [put.element for put in found.operations]
    assert all(isinstance(row, Neighbour) for row in rows)
    assert [(r.band, r.channel, r.width_mhz) for r in rows] == [("2.4", 6, 20), ("5", 36, 80)]
    assert "1 to 233" in found.skipped[0].why


PATTERN = "cut,angle,gain\n" + "".join(
    f"{cut},{angle},{8 - abs(angle) / 10}\n"
    for cut in ("azimuth", "elevation")
    for angle in range(-180, 180, 30)
)


def test_a_pattern_is_brought_under_its_own_peak():
    (put,) = read_antenna(table_rows(PATTERN.encode()), "Sector 8.csv", new_id).operations
    antenna = put.element
    assert isinstance(antenna, Antenna)
    assert antenna.code == "own-sector-8"
    assert max(point.relative_db for point in antenna.azimuth) == 0
    assert len(apply(house(), (put,)).job.of(Antenna)) == 1


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("cut,angle,gain\n", "0 rows"),
        ("cut,angle,gain\nazimuth,0,3\nazimuth,10,2\nazimuth,20,1\n", "gap of"),
        ("angle,gain\n0,0\n", "no column cut"),
    ],
)
def test_a_pattern_with_gaps_or_nothing_is_refused(text, words):
    with pytest.raises(Unreadable, match=words):
        read_antenna(table_rows(text.encode()), "x.csv", new_id)


@given(st.text(max_size=300))
@settings(max_examples=60, deadline=None)
def test_any_text_is_read_or_refused_in_words(text):
    for read in (
        lambda b: read_survey(table_rows(b), house(), new_id),
        lambda b: read_scan(table_rows(b), new_id),
        lambda b: read_antenna(table_rows(b), "a", new_id),
    ):
        try:
            assert read(f"x,y,point,dbm,channel,cut,angle,gain\n{text}".encode()).taken >= 0
        except Unreadable as error:
            assert len(str(error)) > 10
