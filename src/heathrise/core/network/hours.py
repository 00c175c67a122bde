"""When nobody needs the network: the hours for updates and for scans that drop clients."""

from heathrise.core.job import Site

_DAY_H = 24
# Suits a home as well as an office: everybody sleeps.
_USUAL_H = 3


def open_hours(site: Site) -> frozenset[int]:
    """Return the hours of the day in which people are there, over midnight too."""
    lasts = (site.closes_h - site.opens_h) % _DAY_H or _DAY_H
    return frozenset((site.opens_h + n) % _DAY_H for n in range(lasts))


def quiet_hour(site: Site) -> int | None:
    """Return the hour in which least is lost: three at night where the place is closed then, else the middle of the
    longest closed stretch; None where it never closes.
    """
    closed = [hour for hour in range(_DAY_H) if hour not in open_hours(site)]
    if not closed:
        return None
    if _USUAL_H in closed:
        return _USUAL_H
    return (site.closes_h + len(closed) // 2) % _DAY_H


def update_hour(site: Site) -> int | None:
    """Return the hour updates are made at: as somebody said, else the quiet one."""
    return site.updates_at_h if site.updates_at_h is not None else quiet_hour(site)


def clock(hour: int | None) -> str:
    """Return an hour as it is written."""
    return "by hand, when people agree" if hour is None else f"{hour:02d}:00"
