"""Networks, names on the air, who may reach whom, fixed addresses."""

from typing import Annotated, Literal

from pydantic import Field, IPvAnyAddress, IPvAnyNetwork, StringConstraints, field_serializer, model_validator

from heathrise.core.job.element import NAME, About, Band, ElementBase, FormField, Id, Words
from heathrise.core.library.items import Filtering, Purpose, Security

# What may stand at the end of a fixed address.
ADDRESSED = ("equipment", "access-point")
Serial = Annotated[
    str, StringConstraints(strip_whitespace=True, to_upper=True, pattern=r"^[A-Za-z0-9-]*$", max_length=32)
]
Mac = Annotated[str, StringConstraints(to_lower=True, pattern=r"^([0-9A-Fa-f]{2}(:[0-9A-Fa-f]{2}){5})?$")]


class Network(ElementBase):
    """A VLAN with its subnet. What is None follows from its purpose and the house practice."""

    ABOUT = About(
        noun="network",
        stem="Network",
        stage="network",
        sign="network",
        placed="none",
        fields=(
            NAME,
            FormField(path="purpose", label="Purpose"),
            FormField(path="vlan", label="VLAN"),
            FormField(path="subnet", label="Subnet"),
            FormField(path="isolated", label="Isolated"),
            FormField(path="reaches_in", label="May reach in"),
            FormField(path="internet", label="Internet"),
            FormField(path="lease_h", label="Lease", unit="h"),
            FormField(path="fixed_addresses", label="Kept for fixed"),
            FormField(path="filtering", label="Filtering"),
            FormField(path="safe_search", label="Safe search"),
            FormField(path="client_mbps", label="Each client", unit="Mb/s"),
        ),
    )
    kind: Literal["network"] = "network"
    purpose: Purpose = "main"
    vlan: int = Field(ge=1, le=4094)
    subnet: IPvAnyNetwork
    isolated: bool = False
    reaches_in: bool = False
    internet: bool = True
    lease_h: float | None = Field(None, gt=0, le=8760)
    fixed_addresses: int | None = Field(None, ge=0, le=60_000)
    filtering: Filtering | None = None
    safe_search: bool | None = None
    client_mbps: int | None = Field(None, ge=1, le=100_000)

    @field_serializer("subnet")
    def _subnet_text(self, subnet: IPvAnyNetwork) -> str:
        return str(subnet)


class Ssid(ElementBase):
    """A wireless name; its label is the name on the air. On the air at every point, or at those of the storeys and the
    points it names; between two hours where they are said. What is None follows from its network and the practice.
    """

    REFS = {"network_id": ("network",), "storey_ids": ("storey",), "point_ids": ("access-point",)}
    LOOSE = frozenset({"storey_ids", "point_ids"})
    ABOUT = About(
        noun="name on the air",
        stem="Name",
        stage="network",
        sign="network",
        placed="none",
        fields=(
            NAME,
            FormField(path="security", label="Security"),
            FormField(path="isolation", label="Clients isolated"),
            FormField(path="fast_roaming", label="Fast roaming"),
            FormField(path="assisted", label="Roaming advice"),
            FormField(path="steering", label="Band steering"),
            FormField(path="lowest_rate_24_mbps", label="Lowest rate 2.4", unit="Mb/s"),
            FormField(path="lowest_rate_5_mbps", label="Lowest rate 5, 6", unit="Mb/s"),
            FormField(path="dtim", label="DTIM"),
            FormField(path="client_mbps", label="Each client", unit="Mb/s"),
            FormField(path="portal", label="Portal"),
            FormField(path="hidden", label="Not announced"),
            FormField(path="from_h", label="On the air from", unit="h"),
            FormField(path="to_h", label="On the air to", unit="h"),
        ),
    )
    kind: Literal["ssid"] = "ssid"
    network_id: Id
    bands: tuple[Band, ...] = ("2.4", "5")
    security: Security = "wpa3"
    isolation: bool = False
    fast_roaming: bool = True
    lowest_rate_24_mbps: float = Field(12, gt=0, le=54)
    lowest_rate_5_mbps: float = Field(6, ge=6, le=54)
    storey_ids: Annotated[tuple[Id, ...], Field(max_length=100)] = ()
    point_ids: Annotated[tuple[Id, ...], Field(max_length=2000)] = ()
    everywhere: bool = True
    dtim: int | None = Field(None, ge=1, le=10)
    client_mbps: int | None = Field(None, ge=1, le=100_000)
    portal: bool | None = None
    steering: bool | None = None
    assisted: bool | None = None
    hidden: bool = False
    from_h: int | None = Field(None, ge=0, le=23)
    to_h: int | None = Field(None, ge=1, le=24)

    @model_validator(mode="after")
    def _hours_are_two(self) -> "Ssid":
        if (self.from_h is None) != (self.to_h is None):
            raise ValueError(f"{self.label}: say both hours, from and to, or neither")
        return self


class Flow(ElementBase):
    """Whether hosts of one network may open connections to another, where somebody decided it."""

    REFS = {"from_id": ("network",), "to_id": ("network",)}
    ABOUT = About(noun="flow", stem="Flow", stage="network", sign="network", listed=False)
    kind: Literal["flow"] = "flow"
    from_id: Id
    to_id: Id
    allowed: bool
    note: Words = ""


class FixedAddress(ElementBase):
    """An address that is always the same thing's: of something on the drawing, or of what its label says."""

    REFS = {"network_id": ("network",), "on_id": ADDRESSED}
    ABOUT = About(
        noun="fixed address",
        stem="Fixed address",
        stage="network",
        sign="network",
        placed="none",
        fields=(
            NAME,
            FormField(path="address", label="Address"),
            FormField(path="mac", label="MAC"),
            FormField(path="set_on_device", label="Set on the device"),
            FormField(path="note", label="Note"),
        ),
    )
    kind: Literal["fixed-address"] = "fixed-address"
    network_id: Id
    address: IPvAnyAddress
    on_id: Id | None = None
    mac: Mac = ""
    set_on_device: bool = False
    note: Words = ""

    @field_serializer("address")
    def _address_text(self, address: IPvAnyAddress) -> str:
        return str(address)
