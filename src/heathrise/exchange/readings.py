"""What is asked of a drawing that comes in, and what was understood of it.

Apart from the readers: the web server shows readings and has no need of the formats, which take much memory.
"""

from typing import Literal

from heathrise.core.site.proposal import LayerRead, Proposal, Role
from heathrise.core.sums import Noun

FileKind = Literal["dxf", "ifc", "pdf", "svg", "geojson", "picture"]


class ReadingChoices(Noun):
    """What a person said of a file: all of it may be left to the reader's guess."""

    roles: dict[str, Role] = {}
    metres_per_unit: float | None = None
    page: int = 1
    megapixels: int = 40


class Reading(Noun):
    """What was understood of a file."""

    kind: FileKind
    unit: str
    metres_per_unit: float | None
    scale_known: bool
    layers: tuple[LayerRead, ...]
    proposal: Proposal
    pages: int = 1
    turn_deg: float = 0.0
    picture_px: tuple[int, int] | None = None
