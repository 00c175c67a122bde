"""What the crew reads: the colours of ends, where a thing goes, and the papers themselves, read back."""

from datetime import UTC, date, datetime

import icalendar
import pypdfium2
import pytest
from demo.tern_lane import tern_lane

from heathrise.core.deriving import Memo
from heathrise.core.fitting.derived import tasks
from heathrise.core.fitting.ends import end_guide, pins_of
from heathrise.core.fitting.mounting import mount_sheets
from heathrise.core.fitting.scheduling import fit_plan
from heathrise.core.network.runbook import run_book
from heathrise.core.site.building import building_of
from heathrise.exchange.calendar import calendar_of
from heathrise.exchange.paper.fitting import (
    LabelText,
    bench_sheet,
    ends_guide,
    label_sheet,
    mounting_sheets,
    pull_sheet,
)
from heathrise.exchange.paper.sheets import titled
from tests.house import House, changed

B = "white orange, orange, white green, blue, white blue, green, white brown, brown"
A = "white green, green, white orange, blue, white blue, orange, white brown, brown"


@pytest.fixture(scope="module")
def memo():
    return Memo(tern_lane())


def read(body: bytes) -> str:
    """The words of a PDF, read by another library than wrote it."""
    document = pypdfium2.PdfDocument(body)
    return "\n".join(page.get_textpage().get_text_bounded() for page in document)


@pytest.mark.parametrize(("scheme", "colours", "pairs"), [("B", B, "22311344"), ("A", A, "33211244")])
def test_the_order_of_the_colours(scheme, colours, pairs):
    pins = pins_of(scheme)
    assert ", ".join(f"white {p.colour}" if p.white else p.colour for p in pins) == colours
    assert "".join(str(p.pair) for p in pins) == pairs


def test_a_job_has_one_scheme():
    assert end_guide(House().job).scheme == "B"
    assert end_guide(changed(House().job, "House practice", ends="A")).scheme == "A"


def test_two_lengths_from_the_faces_of_walls_across_each_other():
    house = House()
    house.point("AP 1", 2, 3, mount="ceiling")
    (sheet,) = mount_sheets(house.job, building_of(house.job), {})
    first, second = sheet.from_walls
    assert (first.wall, first.side) == ("Ground outer 4", "east of it")
    assert second.side == "south of it"
    assert 1.7 < first.away_m < 2.0, "two metres from its middle, less half of the wall"
    assert first.away_m - 2.0 == pytest.approx(second.away_m - 3.0)


def test_what_hangs_on_a_wall_says_which_and_where_it_looks():
    house = House()
    house.point("AP 1", 6.1, 3, mount="wall", facing_deg=90, tilt_deg=10)
    (sheet,) = mount_sheets(house.job, building_of(house.job), {})
    assert "on Ground middle, east of it" in sheet.face
    assert sheet.looks.startswith("east, 90°")


def test_every_pull_stands_on_the_sheet_in_the_order_of_pulling(memo):
    text = read(pull_sheet(titled(memo.source, "Pull sheet", 7), tasks(memo.look)))
    pulls = [task.label.partition(": ")[2] for task in tasks(memo.look) if task.step == "pull"]
    places = [text.index(label) for label in pulls]
    assert places == sorted(places)
    assert "Revision 7" in text


def test_bench_mounting_and_ends_say_what_is_asked_of_them(memo):
    foot = titled(memo.source, "x", 7)
    bench = read(bench_sheet(foot, tasks(memo.look), run_book(memo.source)))
    assert all(words in bench for words in ("Serial", "Hall east", "On the bench", "SW1"))
    mounting = read(mounting_sheets(foot, mount_sheets(memo.source, building_of(memo.source), {})))
    assert all(words in mounting for words in ("Yard eave", "Height", "from the face of each wall"))
    ends = read(ends_guide(foot, end_guide(memo.source)))
    assert "Ends by B" in ends and "Device end first" in ends


def test_labels_fill_page_after_page_and_their_codes_open_what_they_stand_on():
    labels = [
        LabelText(f"R-{n:02d}", ("at TR1", "TR1 to Hall"), f"http://here.invalid/{n}") for n in range(28)
    ]
    document = pypdfium2.PdfDocument(label_sheet(labels, "labels"))
    assert len(document) == 2
    assert "R-27" in document[1].get_textpage().get_text_bounded()


def test_the_days_are_read_by_another_calendar(memo):
    job = memo.source
    plan = fit_plan(tasks(memo.look), job.ordering, job.fitting, job.site, date(2026, 11, 27))
    body = calendar_of(job, plan, datetime(2026, 11, 27, tzinfo=UTC))
    entries = icalendar.Calendar.from_ical(body).walk("VEVENT")
    assert {entry.decoded("dtstart").date() for entry in entries} == {one.on for one in plan.planned}
    assert all(entry.decoded("dtstart") < entry.decoded("dtend") for entry in entries)
    loud = [entry for entry in entries if "loud" in entry["summary"]]
    assert loud and all(entry.decoded("dtstart").hour >= job.site.closes_h for entry in loud)
    assert len({str(entry["uid"]) for entry in entries}) == len(entries)
