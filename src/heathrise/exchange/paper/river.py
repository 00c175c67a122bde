"""The network as a river on paper: columns of what joins ports, streams by medium, words along them."""

from heathrise.core.switching.topology import River, Topology
from heathrise.exchange.paper.drawn import XY, Drawn, Sign, Stroke, Words

# Of the drawing, in its own metres: at 1:100 a column is 62 mm of paper and a row 6 mm.
COLUMN_M, ROW_M = 6.2, 0.6
_NAME_M = 2.6
# Streams bend in the first part of the way to the next column; their words stand on the rest.
_BENDS_M = (2.7, 2.3)
_LAYERS = {"cord": "HR-DEVICE", "service": "HR-WALL", "bridge": "HR-BRIDGE", "mesh": "HR-BRIDGE"}
# A stroke more of ink for each time a stream is that much faster than a gigabit.
_GIGABIT_MBPS = 1000


def river_drawn(topology: Topology) -> Drawn:
    """Return the network as a drawing: every thing a sign with its name, every link a stream with its words."""
    at = {thing.id: _at(thing) for thing in topology.things}
    strokes, words = [], []
    for stream in topology.streams:
        a, b = at[stream.a], at[stream.b]
        layer = (
            "HR-RUN-OUTSIDE"
            if stream.medium in ("fibre", "hybrid")
            else _LAYERS.get(stream.medium, "HR-PATHWAY")
        )
        strokes.append(Stroke(layer, bent(a, b), many=1 + stream.mbps // _GIGABIT_MBPS))
        if stream.link_id:
            words.append(Words("HR-NAME", (b[0] - _BENDS_M[1], b[1] - 0.12), stream.says, small=True))
    for thing in topology.things:
        words.append(Words("HR-POINT", at[thing.id], thing.label))
    signs = [Sign("HR-DEVICE", at[thing.id], _SIGNS.get(thing.sign, "device")) for thing in topology.things]
    dry = [
        Words("HR-HOLE", (0.0, (topology.rows + n) * ROW_M), f"{label}: nothing leads to it")
        for n, label in enumerate(topology.dry, start=1)
    ]
    return Drawn(tuple(strokes), tuple(signs), (*words, *dry), right_m=_NAME_M, below_m=len(dry) * ROW_M)


_SIGNS = {"point": "point", "switch": "rack", "entry": "riser"}


def _at(thing: River) -> XY:
    return thing.column * COLUMN_M, thing.row * ROW_M


def bent(a: XY, b: XY) -> tuple[XY, ...]:
    """Return a stream: out of one, down or up beside the next column, and into it level."""
    if a[0] == b[0]:
        # Two of one column: round by the left of both.
        return (a, (a[0] - 0.5, a[1]), (a[0] - 0.5, b[1]), b)
    out, into = (b[0] - bend for bend in _BENDS_M)
    return (a, (out, a[1]), (into, b[1]), b)
