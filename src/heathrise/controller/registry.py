"""The drivers there are, by the name a connection keeps."""

from collections.abc import Callable

from heathrise.controller.driver import Door, Driver, Refused
from heathrise.controller.standin import StandIn

DRIVERS: dict[str, Callable[[Door], Driver]] = {"stand-in": StandIn}


def driver_of(name: str, door: Door) -> Driver:
    """Return a driver behind a door. Raises ControllerError."""
    if name not in DRIVERS:
        raise Refused(f"there is no driver {name}; there are {', '.join(DRIVERS)}")
    return DRIVERS[name](door)
