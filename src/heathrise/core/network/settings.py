"""The settings of a job as one document: networks, who reaches whom, names, radios, ports, fixed addresses."""

from typing import Literal

from heathrise.core.library.equipment import Priority
from heathrise.core.sums import Noun

DeviceKind = Literal["gateway", "switch", "access-point", "controller"]


class RadioSetting(Noun):
    """One radio as the controller should have it. `clients` is False for one that is set aside for other points."""

    access_point: str
    band: str
    on: bool
    clients: bool
    channel: int | Literal["automatic"] | None
    width_mhz: int
    power_dbm: float | Literal["automatic"]
    lowest_rate_mbps: float
    mesh: bool


class NetworkSetting(Noun):
    """One network as the gateway should have it: addresses `first` to `last` are given out."""

    name: str
    purpose: str
    vlan: int
    subnet: str
    gateway: str
    first: str
    last: str
    lease_h: float
    reaches: tuple[str, ...]
    internet: bool
    filtering: str
    safe_search: bool
    client_mbps: int | None


class NameSetting(Noun):
    """One name on the air. Its passphrase is never here: it is handed over apart."""

    name: str
    network: str
    bands: tuple[str, ...]
    access_points: tuple[str, ...]
    security: str
    isolation: bool
    fast_roaming: bool
    assisted: bool
    steering: bool
    dtim: int
    lowest_rate_24_mbps: float
    lowest_rate_5_mbps: float
    client_mbps: int | None
    portal: bool
    hidden: bool
    from_h: int | None
    to_h: int | None


class PortSetting(Noun):
    """One switch port."""

    switch: str
    port: str
    name: str
    to: str
    role: str
    native: str
    tagged: tuple[str, ...]
    power: bool
    priority: Priority
    speed_mbps: int
    edge_protection: bool
    loop_protection: bool
    storm_percent: float | None


class DeviceSetting(Noun):
    """One device: its name on the drawing, its model, its unit where it is known."""

    name: str
    model: str
    kind: DeviceKind
    serial: str
    mac: str


class AddressSetting(Noun):
    """One fixed address."""

    name: str
    network: str
    address: str
    mac: str


class HouseSetting(Noun):
    """What the house practice says of the whole job."""

    ends: str
    names_across_points: str
    automatic_radios: bool
    airtime_fairness: bool
    updates: str
    update_at: str
    account: str


class Settings(Noun):
    """Everything the controller is told. Passphrases are never in it."""

    format: Literal["heathrise-settings"] = "heathrise-settings"
    schema_version: Literal[2] = 2
    job: str
    domain: str
    house: HouseSetting
    devices: tuple[DeviceSetting, ...]
    networks: tuple[NetworkSetting, ...]
    names: tuple[NameSetting, ...]
    radios: tuple[RadioSetting, ...]
    ports: tuple[PortSetting, ...]
    addresses: tuple[AddressSetting, ...]
