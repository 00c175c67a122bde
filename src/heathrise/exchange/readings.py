"""What is asked of a drawing that comes in, and what was understood of it.

Apart from the readers: the web server shows readings and has no need of the formats, which take much memory.
"""

from typing import Annotated, Literal

from pydantic import Field

from heathrise.core.site.proposal import Evidence, LayerRead, Proposal, Role
from heathrise.core.sums import Noun

FileKind = Literal["dxf", "ifc", "pdf", "svg", "geojson", "picture"]
Share = Annotated[float, Field(ge=0, le=1)]
# The four corners of a sheet in its picture, as shares of its width and height: upper left first, with the clock.
Corners = tuple[tuple[Share, Share], tuple[Share, Share], tuple[Share, Share], tuple[Share, Share]]


class ReadingChoices(Noun):
    """What a person said of a file: all of it may be left to the reader's guess.

    `page` 0 is every page that holds a plan; `corners` are those of the sheet in a photograph, None as they are found.
    """

    roles: dict[str, Role] = {}
    metres_per_unit: float | None = None
    page: int = 0
    megapixels: int = 40
    corners: Corners | None = None
    password: str = ""


class Reading(Noun):
    """What was understood of a file; `corners` are those a picture was straightened by.

    `sheet_px` is the size of a picture's sheet before it was turned: turning makes the canvas larger, not the paper.
    """

    kind: FileKind
    unit: str
    metres_per_unit: float | None
    scale_known: bool
    layers: tuple[LayerRead, ...]
    proposal: Proposal
    evidence: tuple[Evidence, ...] = ()
    pages: int = 1
    page: int = 0
    turn_deg: float = 0.0
    picture_px: tuple[int, int] | None = None
    sheet_px: tuple[int, int] | None = None
    corners: Corners | None = None
