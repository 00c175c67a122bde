"""Every rule of every package. A new rule is a function in a package's rules.py and a table in
rules.toml; a new package's rules module is one line here.
"""

from functools import cache
from types import ModuleType

from heathrise.core.cabling import rules as cabling_rules
from heathrise.core.joining import rules as joining_rules
from heathrise.core.library import library
from heathrise.core.links import rules as links_rules
from heathrise.core.network import rules as network_rules
from heathrise.core.ordering import rules as ordering_rules
from heathrise.core.power import rules as power_rules
from heathrise.core.proving import rules as proving_rules
from heathrise.core.racks import rules as racks_rules
from heathrise.core.radio import rules as radio_rules
from heathrise.core.rule import Rule
from heathrise.core.site import rules as site_rules
from heathrise.core.switching import rules as switching_rules

MODULES: tuple[ModuleType, ...] = (
    site_rules,
    radio_rules,
    links_rules,
    cabling_rules,
    joining_rules,
    power_rules,
    switching_rules,
    racks_rules,
    network_rules,
    ordering_rules,
    proving_rules,
)
# Said of what could not be worked out; it has data and no code.
COULD_NOT_RUN = "findings.could-not-run"
ORDER = {"fault": 0, "warning": 1, "advice": 2}


@cache
def rules() -> tuple[Rule, ...]:
    """Return every rule, in the order of its module. Raises LookupError when data is missing."""
    found = [
        value.rule
        for module in MODULES
        for value in vars(module).values()
        if hasattr(value, "rule") and isinstance(value.rule, Rule)
    ]
    ids = {rule.id for rule in found} | {COULD_NOT_RUN}
    if unknown := ids ^ set(library().rules):
        raise LookupError(f"rules without data, or data without a rule: {sorted(unknown)}")
    return tuple(found)
