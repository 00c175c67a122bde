"""The settings of a job as one document: networks, names, radios, ports."""

from heathrise.core.job import Job, Network, Ssid
from heathrise.core.network.subnets import Nets
from heathrise.core.radio.air import Air
from heathrise.core.sums import Noun


class RadioSetting(Noun):
    """One radio as the controller should have it."""

    access_point: str
    band: str
    on: bool
    channel: int | None
    width_mhz: int
    power_dbm: float


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


class PortSetting(Noun):
    """One switch port."""

    switch: str
    port: int
    run: str
    to: str
    power: bool
    speed_mbps: int


class Settings(Noun):
    """Everything the controller is told. Passphrases are never in it."""

    format: str = "heathrise-settings"
    schema_version: int = 1
    job: str
    domain: str
    networks: tuple[NetworkSetting, ...]
    names: tuple[NameSetting, ...]
    radios: tuple[RadioSetting, ...]
    ports: tuple[PortSetting, ...]


def settings_of(job: Job, air: Air, nets: Nets, ports: tuple[PortSetting, ...]) -> Settings:
    """Return the settings document of a job."""
    gateways = {scope.network_id: scope.gateway for scope in nets.scopes}
    return Settings(
        job=job.name,
        domain=job.site.domain,
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
        names=tuple(
            NameSetting(
                name=s.label,
                network=job.get(Network, s.network_id).label,
                bands=s.bands,
                security=s.security,
                isolation=s.isolation,
                fast_roaming=s.fast_roaming,
            )
            for s in job.of(Ssid)
        ),
        radios=tuple(
            RadioSetting(
                access_point=row.label,
                band=row.band,
                on=row.on,
                channel=row.channel,
                width_mhz=row.width_mhz,
                power_dbm=row.power_dbm,
            )
            for row in air.radio_plan
        ),
        ports=ports,
    )
