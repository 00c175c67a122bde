"""Every slice of a job that something derived reads. A new one is a line here."""

from heathrise.core.cabling.routes import WAYS
from heathrise.core.radio.air import PLANNING, SENDING
from heathrise.core.site.building import GEOMETRY

SLICES = (GEOMETRY, WAYS, SENDING, PLANNING)
