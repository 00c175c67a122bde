"""The settings document of a job, composed from what was planned."""

from heathrise.core.job import AccessPoint, Equipment, FixedAddress, Job, Network, Ssid
from heathrise.core.network.flows import reached_by
from heathrise.core.network.hours import clock, update_hour
from heathrise.core.network.onair import announced, points_of
from heathrise.core.network.profiles import Carrying
from heathrise.core.network.ruled import name_ruled, network_ruled
from heathrise.core.network.settings import (
    AddressSetting,
    DeviceKind,
    DeviceSetting,
    HouseSetting,
    NameSetting,
    NetworkSetting,
    PortSetting,
    RadioSetting,
    Settings,
)
from heathrise.core.network.subnets import Nets
from heathrise.core.radio.finds import RadioPlan
from heathrise.core.radio.hopping import mesh_links


def settings_of(job: Job, radios: tuple[RadioPlan, ...], nets: Nets, carrying: Carrying) -> Settings:
    """Return the settings document of a job."""
    labels = {network.id: network.label for network in job.of(Network)}
    return Settings(
        job=job.name,
        domain=job.site.domain,
        house=_house(job),
        devices=_devices(job),
        networks=_networks(job, nets, labels),
        names=tuple(one for ssid in job.of(Ssid) for one in _names(job, ssid, labels)),
        radios=_radios(job, radios),
        ports=_ports(carrying, labels),
        addresses=tuple(
            AddressSetting(
                name=one.label, network=labels[one.network_id], address=str(one.address), mac=one.mac
            )
            for one in job.of(FixedAddress)
        ),
    )


def _house(job: Job) -> HouseSetting:
    practice = job.practice
    return HouseSetting(
        ends=f"T568{practice.ends}",
        names_across_points=practice.point_names,
        automatic_radios=practice.radio_settings == "automatic",
        airtime_fairness=practice.airtime_fairness,
        updates=practice.updates,
        update_at=clock(update_hour(job.site)),
        account=practice.account,
    )


_KINDS: dict[str, DeviceKind] = {"route": "gateway", "switch": "switch"}


def kind_of(job: Job, thing: AccessPoint | Equipment) -> DeviceKind | None:
    """Return what a device is to a controller; None for what no controller looks after."""
    model = job.equipment[thing.model]
    if model.radiates:
        return "access-point"
    if model.joins and model.managed:
        return _KINDS[model.forwards]
    return "controller" if model.controls else None


def managed_devices(job: Job) -> list[AccessPoint | Equipment]:
    """Return what a controller looks after, gateways first, then switches, then access points."""
    order = ("controller", "gateway", "switch", "access-point")
    every: list[AccessPoint | Equipment] = [*job.of(Equipment), *job.of(AccessPoint)]
    found = [thing for thing in every if kind_of(job, thing) is not None]
    return sorted(found, key=lambda thing: order.index(kind_of(job, thing) or ""))


def _devices(job: Job) -> tuple[DeviceSetting, ...]:
    found = []
    for thing in managed_devices(job):
        kind = kind_of(job, thing)
        assert kind is not None
        model = job.equipment[thing.model].label
        found.append(
            DeviceSetting(name=thing.label, model=model, kind=kind, serial=thing.serial, mac=thing.mac)
        )
    return tuple(found)


def _networks(job: Job, nets: Nets, labels: dict[str, str]) -> tuple[NetworkSetting, ...]:
    scopes, found = {scope.network_id: scope for scope in nets.scopes}, []
    for network in job.of(Network):
        scope = scopes[network.id]
        ruled = {field: one.value for field, one in network_ruled(job, network).items()}
        found.append(
            NetworkSetting(
                name=network.label,
                purpose=network.purpose,
                vlan=network.vlan,
                subnet=scope.subnet,
                gateway=scope.gateway,
                first=scope.first,
                last=scope.last,
                lease_h=scope.lease_h,
                reaches=tuple(labels[other.id] for other in reached_by(job, network)),
                internet=network.internet,
                filtering=ruled["filtering"],
                safe_search=ruled["safe_search"],
                client_mbps=ruled["client_mbps"],
            )
        )
    return tuple(found)


_NAME_FIELDS = frozenset(NameSetting.model_fields) - {"name", "network", "access_points"}


def _names(job: Job, ssid: Ssid, labels: dict[str, str]) -> list[NameSetting]:
    """Return a name as it is set: once, or once a point where the practice gives each its own."""
    ruled = {field: one.value for field, one in name_ruled(job, ssid).items() if field in _NAME_FIELDS}
    at = points_of(job, ssid)
    points = [point for point in job.of(AccessPoint) if point.id in at]
    by_name: dict[str, list[str]] = {} if points else {ssid.label: []}
    for point in points:
        by_name.setdefault(announced(job, ssid, point), []).append(point.label)
    return [
        NameSetting(name=name, network=labels[ssid.network_id], access_points=tuple(at_points), **ruled)
        for name, at_points in by_name.items()
    ]


def may_mesh(job: Job, point: AccessPoint) -> bool:
    """Return whether a point may hang on others by air: as somebody set it, else where it is part of a mesh."""
    if point.mesh is not None:
        return point.mesh
    hops = mesh_links(job).values()
    return any(point.id in (link.a.on, link.b.on) for link in hops)


def _radios(job: Job, radios: tuple[RadioPlan, ...]) -> tuple[RadioSetting, ...]:
    automatic = job.practice.radio_settings == "automatic"
    points = {point.id: point for point in job.of(AccessPoint)}
    aside = {(point.id, radio.band) for point in points.values() for radio in point.radios if radio.aside}
    lowest = _lowest_rates(job)
    return tuple(
        RadioSetting(
            access_point=row.label,
            band=row.band,
            on=row.on,
            clients=(row.point_id, row.band) not in aside,
            channel="automatic" if automatic else row.channel,
            width_mhz=row.width_mhz,
            power_dbm="automatic" if automatic else row.power_dbm,
            lowest_rate_mbps=lowest["2.4" if row.band == "2.4" else "5"],
            mesh=may_mesh(job, points[row.point_id]),
        )
        for row in radios
    )


def _lowest_rates(job: Job) -> dict[str, float]:
    """Return the lowest rate a radio has to keep on: that of the name that asks for the lowest. [Mb/s]"""
    of_24 = [s.lowest_rate_24_mbps for s in job.of(Ssid) if "2.4" in s.bands]
    of_5 = [s.lowest_rate_5_mbps for s in job.of(Ssid) if {"5", "6"} & set(s.bands)]
    starts = Ssid.model_fields
    return {
        "2.4": min(of_24, default=starts["lowest_rate_24_mbps"].default),
        "5": min(of_5, default=starts["lowest_rate_5_mbps"].default),
    }


def _ports(carrying: Carrying, labels: dict[str, str]) -> tuple[PortSetting, ...]:
    return tuple(
        PortSetting(
            switch=one.switch_label,
            port=one.port,
            name=one.name,
            to=one.to_label,
            role=one.role,
            native=labels.get(one.native_id or "", ""),
            tagged=tuple(labels[key] for key in one.tagged_ids),
            power=one.power,
            priority=one.priority,
            speed_mbps=one.speed_mbps,
            edge_protection=one.edge_protection,
            loop_protection=one.loop_protection,
            storm_percent=one.storm_percent,
        )
        for one in carrying.profiles
    )
