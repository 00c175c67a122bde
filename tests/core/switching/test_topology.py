"""The network laid out: everything once, what flows together together, what nothing leads to said."""

import os
import subprocess
import sys
from collections import defaultdict
from itertools import pairwise

import pytest
from demo.fern_hollow import fern_hollow
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill

from heathrise.core.deriving import Memo
from heathrise.core.findings import assess
from heathrise.core.job import Job
from heathrise.core.switching.topology import SPRING, Topology, speed_words, topology
from tests.core.joining.test_bridged import taken
from tests.core.joining.test_ways import outbuilding
from tests.core.switching.test_failing import two_rooms

SCRIPT = (
    "from demo.tern_lane import tern_lane; from heathrise.core.deriving import Memo; "
    "from heathrise.core.switching.topology import topology; print(topology(Memo(tern_lane()).look).model_dump_json())"
)


def drawn(job: Job) -> Topology:
    return topology(Memo(job).look)


@pytest.mark.parametrize("build", [tern_lane, withy_mill, fern_hollow])
def test_everything_that_reaches_the_core_is_drawn_once_and_the_rest_is_named(build):
    job = build()
    found = drawn(job)
    chains = assess(job).chains
    labels = [thing.label for thing in found.things]
    for chain in chains:
        assert labels.count(chain.label) == chain.holds
        assert (chain.label in found.dry) != chain.holds
    assert len({thing.id for thing in found.things}) == len(found.things)
    for stream in found.streams:
        assert {stream.a, stream.b} <= {thing.id for thing in found.things}


@pytest.mark.parametrize("build", [tern_lane, withy_mill, fern_hollow])
def test_no_two_things_stand_on_one_place_and_streams_of_one_column_never_cross(build):
    found = drawn(build())
    places = [(thing.column, thing.row) for thing in found.things]
    assert len(set(places)) == len(places)
    rows = {thing.id: (thing.column, thing.row) for thing in found.things}
    into = defaultdict(list)
    for stream in found.streams:
        if not stream.second:
            column, row = rows[stream.b]
            into[column].append((row, rows[stream.a][1]))
    for ends in into.values():
        for (_, one), (_, other) in pairwise(sorted(ends)):
            assert one <= other


def test_what_comes_after_a_link_stands_a_column_further():
    found = drawn(two_rooms().job)
    column = {thing.label: thing.column for thing in found.things}
    assert column == {"Service": 0, "SW1": 1, "AP west": 2, "AP east": 2, "SW2": 2, "Outlet": 3}
    assert found.things[0].id == SPRING
    assert found.columns == 4


def test_a_stream_says_its_run_its_cable_and_its_speed():
    found = drawn(two_rooms().job)
    says = {stream.says for stream in found.streams}
    assert says == {
        "100 Mb/s",
        "R-01, Cat 6A, 2.5 Gb/s",
        "R-02, Cat 6A, 2.5 Gb/s",
        "R-03, Cat 6A, 1 Gb/s",
        "cord",
    }


def test_a_bridge_is_a_stream_through_the_air():
    found = drawn(taken(outbuilding(), "bridge-60").job)
    (air,) = [stream for stream in found.streams if stream.through_air]
    assert air.says == "Bridge to AP barn, by air, 1 Gb/s"


@pytest.mark.parametrize(("mbps", "words"), [(100, "100 Mb/s"), (1000, "1 Gb/s"), (2500, "2.5 Gb/s")])
def test_a_speed_is_said_as_people_say_it(mbps, words):
    assert speed_words(mbps) == words


def test_it_is_drawn_alike_under_every_hash_seed():
    outs = {
        subprocess.run(
            [sys.executable, "-c", SCRIPT],
            env=os.environ | {"PYTHONHASHSEED": seed},
            capture_output=True,
            text=True,
            check=True,
        ).stdout
        for seed in ("1", "77")
    }
    assert len(outs) == 1
