"""Networks, names and settings, derived."""

from heathrise.core.deriving import Look, derived
from heathrise.core.job.view import job_of
from heathrise.core.network.subnets import Nets, plan_networks
from heathrise.core.radio.air import radio_rows


@derived
def nets(look: Look) -> Nets:
    """Scopes, names and beacon airtime."""
    return plan_networks(job_of(look), radio_rows(look))
