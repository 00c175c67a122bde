"""What a person settled about the job: accepted findings; and pictures that travel with a job file."""

from typing import Annotated, Literal

from pydantic import Base64Bytes, StringConstraints

from heathrise.core.job.element import About, ElementBase, Id
from heathrise.core.sums import Noun


class Acceptance(ElementBase):
    """A finding a person lives with, and why. Its label names the finding."""

    ABOUT = About(noun="accepted finding", stem="Accepted", stage="prove", sign="account", listed=False)
    kind: Literal["acceptance"] = "acceptance"
    finding_key: Annotated[str, StringConstraints(min_length=3, max_length=200)]
    reason: Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=500)]


class Attachment(Noun):
    """A picture that travels inside a job file; the database keeps it beside the job."""

    id: Id
    name: Annotated[str, StringConstraints(max_length=200)]
    png: Base64Bytes
