"""Networks, names and settings, derived."""

from heathrise.core.cabling.derived import runs
from heathrise.core.deriving import Look, derived
from heathrise.core.job.view import job_of
from heathrise.core.links.carried import carried
from heathrise.core.network.asbuilt import as_built
from heathrise.core.network.built import AsBuilt
from heathrise.core.network.profiles import Carrying, carrying
from heathrise.core.network.subnets import Nets, plan_networks
from heathrise.core.radio.air import radio_rows
from heathrise.core.switching.chains import wired_graph
from heathrise.core.switching.derived import ports


@derived
def nets(look: Look) -> Nets:
    """Scopes, names and beacon airtime."""
    return plan_networks(job_of(look), radio_rows(look))


@derived
def port_profiles(look: Look) -> Carrying:
    """What every port carries, and what chains are squeezed through."""
    job, found = job_of(look), ports(look)
    return carrying(job, found.ports, wired_graph(job, runs(look), found, carried(look)))


@derived
def built_as_planned(look: Look) -> AsBuilt:
    """The job as it would stand there."""
    job, found = job_of(look), ports(look)
    return as_built(job, found.ports, port_profiles(look), wired_graph(job, runs(look), found, carried(look)))
