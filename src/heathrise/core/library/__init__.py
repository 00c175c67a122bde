"""The library: equipment, cables, build-ups, domains, limits. Data in files, read once.

A new model of anything is a new row or table in `data/`; nothing here changes for it.
"""

from heathrise.core.library.items import (
    AccessPointModel,
    BandRadio,
    Bore,
    BuildUp,
    CableType,
    Client,
    DeviceModel,
    Domain,
    Injector,
    Labour,
    Limit,
    Need,
    Part,
    PoeClass,
    PortGroup,
    RackModel,
    RuleInfo,
    SlabMaterial,
    Speed,
    SubBand,
    SwitchModel,
    TestClass,
)
from heathrise.core.library.loader import Library, UnknownItem, library, limit

__all__ = [
    "AccessPointModel",
    "BandRadio",
    "Bore",
    "BuildUp",
    "CableType",
    "Client",
    "DeviceModel",
    "Domain",
    "Injector",
    "Labour",
    "Library",
    "Limit",
    "Need",
    "Part",
    "PoeClass",
    "PortGroup",
    "RackModel",
    "RuleInfo",
    "SlabMaterial",
    "Speed",
    "SubBand",
    "SwitchModel",
    "TestClass",
    "UnknownItem",
    "library",
    "limit",
]
