"""The top floor: every stage computed in order, every rule run, the ledger summed."""

from heathrise.core.findings.assess import Assessment, assess

__all__ = ["Assessment", "assess"]
