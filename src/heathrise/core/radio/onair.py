"""Names on the air: which radio carries which, and what their beacons cost it."""

from heathrise.core.job import Band, Job, Ssid
from heathrise.core.library import limit
from heathrise.core.radio.beacons import name_airtime


def is_at(job: Job, ssid: Ssid, point_id: str) -> bool:
    """Return whether a name is on the air at an access point."""
    if ssid.everywhere or point_id in ssid.point_ids:
        return True
    point = job.by_id[point_id]
    return getattr(point, "storey_id", None) in ssid.storey_ids


def names_on(job: Job, point_id: str, band: Band) -> list[Ssid]:
    """Return the names on one radio."""
    return [ssid for ssid in job.of(Ssid) if band in ssid.bands and is_at(job, ssid, point_id)]


def rate_mbps(ssid: Ssid, band: Band) -> float:
    """Return the rate of a name's beacons on a band. [Mb/s]"""
    return ssid.lowest_rate_24_mbps if band == "2.4" else ssid.lowest_rate_5_mbps


def beacon_bytes(ssid: Ssid, band: Band) -> float:
    """Return the size of a name's beacon: more with newer security, and on 6 GHz. [bytes]"""
    newer = band == "6" or ssid.security in ("wpa3", "transition", "enterprise")
    return limit("network.beacon_bytes_newer" if newer else "network.beacon_bytes")


def share_of(ssid: Ssid, band: Band) -> float:
    """Return the share of airtime that a name's beacons take on one radio."""
    return name_airtime(rate_mbps(ssid, band), beacon_bytes(ssid, band))


def radio_share(job: Job, point_id: str, band: Band) -> float:
    """Return the share of airtime that the beacons of all names of one radio take."""
    return sum(share_of(ssid, band) for ssid in names_on(job, point_id, band))
