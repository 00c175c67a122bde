"""The settings of a job as one document: networks, names, radios, ports."""

from typing import Literal

from heathrise.core.job import AccessPoint, Job, Network, Ssid
from heathrise.core.network.subnets import Nets
from heathrise.core.radio.finds import RadioPlan
from heathrise.core.sums import Noun


class RadioSetting(Noun):
    """One radio as the controller should have it. `clients` is False for one that is set aside for other points."""

    access_point: str
    band: str
    on: bool
    clients: bool
    channel: int | Literal["automatic"] | None
    width_mhz: int
    power_dbm: float | Literal["automatic"]


class NetworkSetting(Noun):
    """One network as the gateway should have it."""

    name: str
    purpose: str
    vlan: int
    subnet: str
    gateway: str
    isolated: bool
    internet: bool


class NameSetting(Noun):
    """One name on the air."""

    name: str
    network: str
    bands: tuple[str, ...]
    security: str
    isolation: bool
    fast_roaming: bool
    dtim: int
    client_mbps: int | None
    portal: bool


class PortSetting(Noun):
    """One switch port."""

    switch: str
    port: str
    run: str
    to: str
    power: bool
    speed_mbps: int


class HouseSetting(Noun):
    """What the house practice says of the whole job."""

    ends: str
    names_across_points: str
    airtime_fairness: bool
    updates: str
    update_window: str
    account: str


class Settings(Noun):
    """Everything the controller is told. Passphrases are never in it."""

    format: str = "heathrise-settings"
    schema_version: int = 1
    job: str
    domain: str
    house: HouseSetting
    networks: tuple[NetworkSetting, ...]
    names: tuple[NameSetting, ...]
    radios: tuple[RadioSetting, ...]
    ports: tuple[PortSetting, ...]


def _house(job: Job) -> HouseSetting:
    practice, site = job.practice, job.site
    window = f"outside {site.opens_h:02d}:00 to {site.closes_h:02d}:00 on {', '.join(site.open_days)}"
    return HouseSetting(
        ends=f"T568{practice.ends}",
        names_across_points=practice.point_names,
        airtime_fairness=practice.airtime_fairness,
        updates=practice.updates,
        update_window=window if practice.updates == "window" else "at night, by itself",
        account=practice.account,
    )


def _name(job: Job, ssid: Ssid) -> NameSetting:
    network = job.get(Network, ssid.network_id)
    guest = network.purpose == "guest"
    sleepy = job.practice.dtim == "3-main-1-things" and network.purpose != "things"
    return NameSetting(
        name=ssid.label,
        network=network.label,
        bands=ssid.bands,
        security=ssid.security,
        isolation=ssid.isolation,
        fast_roaming=ssid.fast_roaming,
        dtim=3 if sleepy else 1,
        client_mbps=job.practice.guest_mbps if guest else None,
        portal=guest and job.practice.guests == "portal",
    )


def settings_of(
    job: Job, radios: tuple[RadioPlan, ...], nets: Nets, ports: tuple[PortSetting, ...]
) -> Settings:
    """Return the settings document of a job."""
    automatic = job.practice.radio_settings == "automatic"
    aside = {(point.id, radio.band) for point in job.of(AccessPoint) for radio in point.radios if radio.aside}
    gateways = {scope.network_id: scope.gateway for scope in nets.scopes}
    return Settings(
        job=job.name,
        domain=job.site.domain,
        house=_house(job),
        networks=tuple(
            NetworkSetting(
                name=n.label,
                purpose=n.purpose,
                vlan=n.vlan,
                subnet=str(n.subnet),
                gateway=gateways[n.id],
                isolated=n.isolated,
                internet=n.internet,
            )
            for n in job.of(Network)
        ),
        names=tuple(_name(job, ssid) for ssid in job.of(Ssid)),
        radios=tuple(
            RadioSetting(
                access_point=row.label,
                band=row.band,
                on=row.on,
                clients=(row.point_id, row.band) not in aside,
                channel="automatic" if automatic else row.channel,
                width_mhz=row.width_mhz,
                power_dbm="automatic" if automatic else row.power_dbm,
            )
            for row in radios
        ),
        ports=ports,
    )
