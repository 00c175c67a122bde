"""Every slice of a job that something derived reads. A new one is a line here."""

from heathrise.core.radio.air import PLANNING, SENDING
from heathrise.core.site.building import GEOMETRY

SLICES = (GEOMETRY, SENDING, PLANNING)
