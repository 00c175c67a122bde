"""Networks and names on the air."""

from typing import Literal

from pydantic import Field, IPvAnyNetwork, field_serializer

from heathrise.core.job.element import NAME, About, Band, ElementBase, FormField, Id


class Network(ElementBase):
    """A VLAN with its subnet."""

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
        ),
    )
    kind: Literal["network"] = "network"
    purpose: Literal["main", "guest", "things", "cameras", "voice", "management"] = "main"
    vlan: int = Field(ge=1, le=4094)
    subnet: IPvAnyNetwork
    isolated: bool = False
    reaches_in: bool = False
    internet: bool = True

    @field_serializer("subnet")
    def _subnet_text(self, subnet: IPvAnyNetwork) -> str:
        return str(subnet)


class Ssid(ElementBase):
    """A wireless name; its label is the name on the air."""

    REFS = {"network_id": ("network",)}
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
            FormField(path="lowest_rate_24_mbps", label="Lowest rate 2.4", unit="Mb/s"),
        ),
    )
    kind: Literal["ssid"] = "ssid"
    network_id: Id
    bands: tuple[Band, ...] = ("2.4", "5")
    security: Literal["wpa3", "transition", "wpa2", "open"] = "wpa3"
    isolation: bool = False
    fast_roaming: bool = True
    lowest_rate_24_mbps: float = Field(12, gt=0, le=54)
