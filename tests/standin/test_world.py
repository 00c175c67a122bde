"""The simulated controller is a fair opponent: it refuses what a real one would, and the same seed lives the same life."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from standin.shapes import Net, PortSet, Site, Socket, Unit, UnitSet, Wire, Wlan
from standin.world import JOIN_S, LISTEN_S, READY_S, Refused, World

NET = {
    "cidr": "10.0.20.0/24",
    "router": "10.0.20.1",
    "pool": ("10.0.20.20", "10.0.20.254"),
    "lease_s": 3600.0,
}


def site(points: int = 2, people: int = 0, seed: int = 1, budget_w: float = 100.0, **more) -> Site:
    sockets = tuple(Socket(name=str(n), gives_w=30) for n in range(1, points + 2))
    units = [
        Unit(serial="R", mac="02:00:00:00:00:01", model="Router", kind="router", sockets=(Socket(name="1"),)),
        Unit(
            serial="S",
            mac="02:00:00:00:00:02",
            model="Switch",
            kind="switch",
            sockets=sockets,
            budget_w=budget_w,
        ),
    ]
    wires = [Wire(near="R", near_port="1", far="S", far_port=str(points + 1))]
    for n in range(points):
        units.append(
            Unit(
                serial=f"P{n}",
                mac=f"02:00:00:00:01:{n:02x}",
                model="Point",
                kind="ap",
                sockets=(Socket(name="1"),),
                bands=("2.4", "5"),
                draws_w=20,
                x=5.0 + 10 * n,
                y=5.0,
            )
        )
        wires.append(Wire(near="S", near_port=str(n + 1), far=f"P{n}", far_port="1"))
    given_ = {"console_rounds": 0, "people": people, "seed": seed} | more
    return Site(account="a", secret="b", units=tuple(units), wires=tuple(wires), **given_)


def brought(world: World) -> World:
    for serial in world.units:
        world.take(serial)
    world.advance(JOIN_S + READY_S + 2)
    world.put_net(Net(name="Main", vid=20, **NET))
    world.wlans["air"] = Wlan(name="air", net="Main", bands=("2.4", "5"), secret="long-enough")
    return world


def test_nothing_is_taken_over_before_the_console_is_up_to_date():
    world = World(site(console_rounds=2))
    with pytest.raises(Refused, match="console"):
        world.take("S")
    for _ in range(2):
        world.update_console()
        world.advance(121)
    world.take("S")
    world.advance(JOIN_S + READY_S + 2)
    assert world.phase_of("S") == "up"
    with pytest.raises(Refused, match="already"):
        world.take("S")


def test_what_is_owned_elsewhere_is_refused_until_it_is_reset():
    units = [u.model_copy(update={"owner": "another firm"}) if u.serial == "P0" else u for u in site().units]
    world = World(site().model_copy(update={"units": tuple(units)}))
    with pytest.raises(Refused, match="another firm"):
        world.take("P0")
    world.release("P0")
    world.take("P0")


def test_one_without_a_cable_is_taken_over_beside_a_wired_one_only():
    units = [
        u.model_copy(update={"wired": False, "draws_w": 0}) if u.serial == "P1" else u for u in site().units
    ]
    wires = tuple(w for w in site().wires if w.far != "P1")
    world = World(site().model_copy(update={"units": tuple(units), "wires": wires}))
    world.carry("P1", "place")
    with pytest.raises(Refused, match="beside a wired one"):
        world.take("P1")
    world.carry("P1", "bench")
    world.take("P1")
    world.advance(JOIN_S + READY_S + 2)
    world.carry("P1", "place")
    assert world.phase_of("P1") == "up"
    world.set_unit("P1", UnitSet(mesh=False))
    assert world.phase_of("P1") == "cut off"


def test_over_budget_the_lowest_rank_goes_dark_first():
    world = brought(World(site(budget_w=100)))
    world.set_unit("S", UnitSet(ports={"1": PortSet(rank="critical"), "2": PortSet(rank="low")}))
    world.put_fault({"kind": "budget", "serial": "S", "watts": 25})
    assert (world.phase_of("P0"), world.phase_of("P1")) == ("up", "dark")
    world.clear_faults()
    assert world.phase_of("P1") == "up"


def test_a_port_without_the_network_of_its_unit_cuts_it_off():
    world = brought(World(site()))
    world.put_net(
        Net(
            name="Guest",
            vid=30,
            **(NET | {"cidr": "10.0.30.0/24", "router": "10.0.30.1", "pool": ("10.0.30.2", "10.0.30.9")}),
        )
    )
    ports = {str(n): PortSet(role="point", native="Main") for n in (1, 2)}
    world.set_unit("S", UnitSet(ports=ports))
    assert world.phase_of("P0") == "up"
    world.set_unit("S", UnitSet(ports={"1": PortSet(role="point", native="Guest")}))
    assert world.phase_of("P0") == "cut off"
    with pytest.raises(Refused, match="cut off"):
        world.set_unit("P0", UnitSet(alias="x"))


def test_listening_sends_people_away_and_they_come_back():
    world = brought(World(site(points=1, people=40)))
    world.advance(20)
    assert world.clients_at("P0") > 0
    drops = world.crowd.drops
    world.listen("P0")
    world.advance(5)
    assert world.clients_at("P0") == 0
    assert world.crowd.drops > drops
    world.advance(LISTEN_S + 10)
    assert world.clients_at("P0") > 0


def test_updates_take_rounds_and_start_the_unit_again():
    world = brought(World(site()))
    world.update("P0")
    assert world.phase_of("P0") == "updating"
    world.advance(200)
    assert world.phase_of("P0") == "up"
    with pytest.raises(Refused, match="up to date"):
        world.update("P0")


def test_old_leases_last_as_long_as_they_were_given():
    world = brought(World(site()))
    world.put_net(
        Net(
            name="Main",
            vid=20,
            **(NET | {"cidr": "10.0.40.0/24", "router": "10.0.40.1", "pool": ("10.0.40.2", "10.0.40.9")}),
        )
    )
    assert world.old_leases["Main"][0] == "10.0.20.0/24"
    world.advance(3601)
    assert world.old_leases == {}


@pytest.mark.parametrize(
    ("body", "said"),
    [
        (
            {
                "name": "Other",
                "vid": 20,
                "cidr": "10.9.0.0/24",
                "router": "10.9.0.1",
                "pool": ("10.9.0.2", "10.9.0.9"),
            },
            "number 20",
        ),
        (
            {
                "name": "Other",
                "vid": 21,
                "cidr": "10.0.20.0/25",
                "router": "10.0.20.1",
                "pool": ("10.0.20.2", "10.0.20.9"),
            },
            "lies over",
        ),
    ],
)
def test_networks_that_clash_are_refused(body, said):
    world = brought(World(site()))
    with pytest.raises(Refused, match=said):
        world.put_net(Net(lease_s=60, **body))


def test_a_loop_is_shut_where_it_is_guarded_and_drowns_the_switch_where_not():
    world = brought(World(site()))
    world.put_fault({"kind": "loop", "serial": "S", "port": "1"})
    assert world.phase_of("P1") == "cut off"
    world.clear_faults()
    world.set_unit("S", UnitSet(ports={"1": PortSet(loop=True)}))
    world.put_fault({"kind": "loop", "serial": "S", "port": "1"})
    assert (world.phase_of("P0"), world.phase_of("P1")) == ("cut off", "up")


@settings(max_examples=15, deadline=None)
@given(st.integers(0, 1000), st.lists(st.integers(1, 40), min_size=1, max_size=5))
def test_any_seed_lives_the_same_life_however_time_is_cut(seed, parts):
    once, cut = (brought(World(site(people=30, seed=seed))) for _ in range(2))
    once.advance(sum(parts))
    for part in parts:
        cut.advance(part)
    assert once.crowd.xy.tolist() == cut.crowd.xy.tolist()
    assert once.crowd.at.tolist() == cut.crowd.at.tolist()
    assert list(once.log) == list(cut.log)
