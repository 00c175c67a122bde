"""Hours follow the rates, and what is hard about a place makes them longer."""

import pytest

from heathrise.core.ordering.derived import hours
from heathrise.core.ordering.labour import days_sum
from tests.house import House, look_at


def of_task(house: House, task: str):
    return [line for line in hours(look_at(house.job)) if line.task == task]


@pytest.mark.parametrize(
    ("height_m", "factor"), [(2.6, 1.0), (3.0, 1.0), (3.1, 1.25), (4.5, 1.25), (4.6, 1.8)]
)
def test_high_points_take_longer(height_m, factor):
    house = House(settled=True)
    house.point("AP 1", height_m=height_m)
    (line,) = of_task(house, "mount-point")
    assert (line.factor, line.hours) == (factor, pytest.approx(0.6 * factor, abs=0.005))


def test_what_is_upstairs_is_carried_there():
    house = House(storeys=2, settled=True)
    house.point("AP 1", storey_id=house.storeys[1])
    (line,) = of_task(house, "mount-point")
    assert line.factor == 1.05
    assert "carried up" in line.label


def test_what_holds_for_the_whole_job_is_said_by_a_person():
    house = House(settled=True)
    house.point("AP 1")
    house.add("ordering", "Order", hardships=["occupied", "after-hours"])
    (line,) = of_task(house, "mount-point")
    assert line.factor == pytest.approx(1.15 * 1.2)
    assert of_task(house, "hand-over")[0].factor == 1.0


def test_the_firms_own_rate_stands_before_the_librarys():
    house = House(settled=True)
    house.point("AP 1")
    house.add("ordering", "Order", rates=[{"task": "mount-point", "hours": 0.25}])
    (line,) = of_task(house, "mount-point")
    assert (line.each_h, line.hours_sum.lines[0].note) == (0.25, "the firm's rate in this job")


def test_every_line_opens_to_its_sum():
    house = House(storeys=2, settled=True)
    house.rack()
    house.run(house.point("AP 1", storey_id=house.storeys[1]), "R-01")
    for line in hours(look_at(house.job)):
        rate, count, *factors = (row.value for row in line.hours_sum.lines)
        product = rate * count
        for factor in factors:
            product *= factor
        assert line.hours == pytest.approx(product, abs=0.006)


def test_days_are_hours_over_the_crew():
    house = House()
    house.add("ordering", "Order", crew=3, day_h=7.5)
    assert days_sum(house.job.ordering, 90.0).value == 4.0
