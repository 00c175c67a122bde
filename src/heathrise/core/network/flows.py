"""Who may open connections to whom: a matrix of networks, what of it somebody decided, and the rules in words."""

from collections.abc import Callable

from heathrise.core.edit import EditError, Operation, Put, Remove
from heathrise.core.job import Equipment, Flow, Job, Network
from heathrise.core.network.ruled import By, purpose_of
from heathrise.core.sums import Noun

INTERNET = "internet"


class FlowCell(Noun):
    """Whether hosts of one network may open connections to another, who says so and why."""

    from_id: str
    to_id: str
    allowed: bool
    by: By
    because: str


class FlowRow(Noun):
    """One network's row of the matrix, and what it means in words."""

    network_id: str
    label: str
    words: str
    cells: tuple[FlowCell, ...]


class FlowMatrix(Noun):
    """The whole matrix: rows open connections, columns are reached, the internet last."""

    columns: tuple[tuple[str, str], ...]
    rows: tuple[FlowRow, ...]


def usually(one: Network, other: Network) -> tuple[bool, str]:
    """Return whether one network reaches another where nobody decided it, and why."""
    if one.isolated:
        return False, f"{one.label} is isolated."
    if one.reaches_in:
        return True, f"{one.label} may reach in."
    reaches = other.purpose in purpose_of(one).reaches
    return reaches, purpose_of(one).because["isolated"]


def decided(job: Job) -> dict[tuple[str, str], Flow]:
    """Return what somebody decided, by who reaches whom; the latest where two did."""
    return {(flow.from_id, flow.to_id): flow for flow in job.of(Flow)}


def cell(one: Network, other: Network, flow: Flow | None) -> FlowCell:
    """Return one cell of the matrix."""
    allowed, because = usually(one, other)
    by: By = "default"
    if flow is not None:
        usual = "reached" if allowed else "not reached"
        allowed, by = flow.allowed, "person"
        because = f"Pressed by hand{': ' + flow.note if flow.note else ''}. Otherwise {usual}: {because}"
    return FlowCell(from_id=one.id, to_id=other.id, allowed=allowed, by=by, because=because)


def reached_by(job: Job, one: Network) -> tuple[Network, ...]:
    """Return the other networks that hosts of one may open connections to."""
    known = decided(job)
    return tuple(
        other
        for other in job.of(Network)
        if other.id != one.id and cell(one, other, known.get((one.id, other.id))).allowed
    )


def flow_matrix(job: Job) -> FlowMatrix:
    """Return who may reach whom."""
    networks, known = job.of(Network), decided(job)
    columns = (*((n.id, n.label) for n in networks), (INTERNET, "Internet"))
    rows = []
    for one in networks:
        cells = tuple(cell(one, other, known.get((one.id, other.id))) for other in networks)
        rows.append(
            FlowRow(
                network_id=one.id,
                label=one.label,
                words=words_of(job, one, cells),
                cells=(*cells, _internet(one)),
            )
        )
    return FlowMatrix(columns=columns, rows=tuple(rows))


def _internet(one: Network) -> FlowCell:
    usual = purpose_of(one).internet
    return FlowCell(
        from_id=one.id,
        to_id=INTERNET,
        allowed=one.internet,
        by="default" if one.internet == usual else "person",
        because=purpose_of(one).because["internet"],
    )


def words_of(job: Job, one: Network, cells: tuple[FlowCell, ...]) -> str:
    """Return the rules of one network as a sentence."""
    others = {network.id: network.label for network in job.of(Network)}
    open_to = [others[c.to_id] for c in cells if c.allowed and c.to_id != one.id]
    closed = [others[c.to_id] for c in cells if not c.allowed and c.to_id != one.id]
    said = f"{one.label} may open connections to {_listed([*open_to, *(['the internet'] if one.internet else [])])}"
    shut = [*closed, *([] if one.internet else ["the internet"])]
    said += f"; what it opens to {_listed(shut)} is dropped." if shut else "."
    recorders = [thing.label for thing in job.of(Equipment) if job.equipment[thing.model].channels]
    if one.purpose == "cameras" and recorders:
        said += f" Its recorder ({', '.join(recorders)}) stands in it. Others reach the recorder, not the cameras."
    return said + " Answers to what others opened come back."


def _listed(names: list[str]) -> str:
    if not names:
        return "nothing"
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def press(job: Job, from_id: str, to_id: str, new_id: Callable[[], str]) -> tuple[Operation, ...]:
    """Return what turns one cell over. A cell turned back to what is usual is decided by nobody any more.

    Raises
    ------
    EditError
        If a network is gone, or one is pressed against itself.
    """
    networks = {network.id: network for network in job.of(Network)}
    if from_id not in networks or to_id not in {*networks, INTERNET}:
        raise EditError("one of the two networks is not there any more")
    one = networks[from_id]
    if to_id == INTERNET:
        return (Put(element=one.model_copy(update={"internet": not one.internet})),)
    if from_id == to_id:
        raise EditError("within one network nothing passes the gateway; clients are kept apart on the air")
    other = networks[to_id]
    mine = [flow for flow in job.of(Flow) if (flow.from_id, flow.to_id) == (from_id, to_id)]
    wanted = not cell(one, other, mine[-1] if mine else None).allowed
    gone: list[Operation] = [Remove(id=flow.id) for flow in mine]
    if wanted == usually(one, other)[0]:
        return tuple(gone)
    flow = Flow(
        id=mine[-1].id if mine else new_id(),
        label=f"{one.label} to {other.label}"[:80],
        from_id=from_id,
        to_id=to_id,
        allowed=wanted,
    )
    return (*(op for op in gone if isinstance(op, Remove) and op.id != flow.id), Put(element=flow))
