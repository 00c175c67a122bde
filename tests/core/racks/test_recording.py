"""What recorders must hold and what sets of disks hold, by hand."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.deriving import Memo
from heathrise.core.racks.derived import recording
from heathrise.core.racks.recording import FEWEST, recorded_tb, usable_tb
from tests.house import House


@pytest.mark.parametrize(
    ("disks", "kind", "tb"),
    [
        ((4, 4), "none", 8),
        ((4, 4), "mirror", 4),
        ((8, 4), "mirror", 4),
        ((8, 8, 4, 4), "mirror", 12),
        ((4, 4, 4), "single", 8),
        ((8, 4, 4), "single", 8),
        ((4, 4, 4, 4), "double", 8),
        ((10, 8, 6, 4), "double", 8),
        ((4,), "mirror", 0),
        ((4, 4), "single", 0),
        ((4, 4, 4), "double", 0),
        ((), "none", 0),
    ],
)
def test_what_a_set_of_disks_holds(disks, kind, tb):
    assert usable_tb(disks, kind) == tb


@given(disks=st.lists(st.floats(0.5, 24), min_size=4, max_size=12), kind=st.sampled_from(sorted(FEWEST)))
def test_no_set_holds_more_than_its_disks_and_more_safety_never_more(disks, kind):
    assert usable_tb(disks, kind) <= sum(disks) + 1e-9
    assert usable_tb(disks, "double") <= usable_tb(disks, "single") <= usable_tb(disks, "none") + 1e-9


def test_what_cameras_come_to_by_hand():
    # 4 cameras of 6 Mb/s: 24 Mb/s = 3 MB/s = 259.2 GB a day, 7.776 TB in 30 days.
    assert recorded_tb(24, 24, 30) == pytest.approx(7.776)


def test_storage_for_large_files_says_that_its_path_is_narrow():
    house = House(settled=True)
    rack = house.rack()
    for n, model in enumerate(("storage-2bay", "storage-6bay-10g")):
        place = {"where": "rack", "rack_id": rack}
        house.add("equipment", f"NAS{n}", model=model, place=place, disks_tb=(4, 8), disk_set="mirror")
    house.switch(model="switch-24-poe")
    for n in range(2):
        house.cord(f"NAS{n}")
    slow, fast = recording(Memo(house.job).look)
    # The one with a cage goes into a cage, the other into a copper port, which is slower than it is.
    assert (slow.path.value, fast.path.value) == (1000, 10_000)
    assert (slow.path.holds, fast.path.holds) == (False, True)
    assert slow.says == "8 TB stand against a failed disk"
