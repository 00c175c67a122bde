"""Routes and ports are the same whatever the interpreter's hash seed, and do not hang on labels."""

import json
import os
import subprocess
import sys

import pytest

from heathrise.core.cabling.derived import route, run_ids
from heathrise.core.edit import Put, apply
from heathrise.core.job import Job, Link
from heathrise.core.switching.derived import ports
from tests.house import House, look_at

SCRIPT = "from tests.core.cabling.test_same_everywhere import planned; print(planned())"


def even() -> Job:
    """A house in which every run has several ways of one length."""
    house = House(storeys=2)
    house.rack("TR1", x=1, y=1)
    house.switch()
    for y in (2, 4, 6):
        house.add(
            "pathway", f"Tray {y}", storey_id=house.ground, path=[{"x_m": 1, "y_m": y}, {"x_m": 11, "y_m": y}]
        )
    for n in range(6):
        house.run(house.thing(f"Outlet {n}", x=7 + n % 3, y=3 + 2 * (n % 2)), f"R-0{n}")
    return house.job


def planned() -> str:
    look = look_at(even())
    return json.dumps(
        {
            "routes": [repr(route(look, run_id)) for run_id in run_ids(look)],
            "ports": [[p.switch_id, p.port, p.run_id] for p in ports(look).ports],
        }
    )


@pytest.mark.parametrize("seed", ["0", "1", "77"])
def test_equally_good_routes_fall_alike_under_every_hash_seed(seed):
    environment = os.environ | {"PYTHONHASHSEED": seed}
    found = subprocess.run(
        [sys.executable, "-c", SCRIPT], env=environment, capture_output=True, text=True, check=True
    )
    assert found.stdout.strip() == planned()


def test_new_labels_move_no_cable_and_no_port():
    job = even()
    renamed = [
        Put(element=run.model_copy(update={"label": f"Z-{9 - n}"})) for n, run in enumerate(job.of(Link))
    ]
    before, after = look_at(job), look_at(apply(job, renamed).job)
    assert [route(after, run_id) for run_id in run_ids(before)] == [route(before, r) for r in run_ids(before)]
    assert [(p.port, p.run_id) for p in ports(after).ports] == [
        (p.port, p.run_id) for p in ports(before).ports
    ]
