"""What is wrong with a cable, named from its symptoms: a wire map, readings past their limit, a link that is too slow."""

from collections.abc import Callable, Sequence
from typing import Any

from heathrise.core.job import CableTest
from heathrise.core.library import library, limit
from heathrise.core.sums import Noun

PAIRS = ((1, 2), (3, 6), (4, 5), (7, 8))
_OTHER_SCHEME = {1: 3, 2: 6, 3: 1, 6: 2}
# With one pair dead two pairs still carry this. [Mb/s]
TWO_PAIR_MBPS = 100


class NamedFault(Noun):
    """A fault of a cable by its name: what is wrong, and what to do."""

    code: str
    name: str
    text: str
    advice: str


class _Seen:
    """A test as its symptoms: which wires come out where, and which quantities are past their limit."""

    def __init__(self, test: CableTest, failed: Sequence[Any]):
        self.map = test.wire_map
        self.is_split = test.split
        self.failed = {one.quantity: one for one in failed}

    @property
    def strays(self) -> dict[int, int]:
        """Wires that come out elsewhere: from which pin to which."""
        return {n: int(c) for n, c in enumerate(self.map, start=1) if c.isdigit() and int(c) != n}

    def pins(self, mark: str) -> list[int]:
        """Return the pins a wire map marks."""
        return [n for n, c in enumerate(self.map, start=1) if c == mark]


def _short(seen: _Seen) -> list[int]:
    return seen.pins("s")


def _open(seen: _Seen) -> list[int]:
    return seen.pins("x")


def _crossed_ab(seen: _Seen) -> list[int]:
    return list(seen.strays) if seen.strays == _OTHER_SCHEME else []


def _reversed(seen: _Seen) -> list[int]:
    pairs = [
        pair for pair in PAIRS if seen.strays.get(pair[0]) == pair[1] and seen.strays.get(pair[1]) == pair[0]
    ]
    wires = [pin for pair in pairs for pin in pair]
    return wires if wires and set(wires) == set(seen.strays) else []


def _crossed(seen: _Seen) -> list[int]:
    """Return the wires of pairs that come out whole, in the place of another pair."""
    whole = {tuple(sorted(seen.strays.get(pin, pin) for pin in pair)) for pair in PAIRS}
    return list(seen.strays) if seen.strays and whole == set(PAIRS) else []


def _wrong_order(seen: _Seen) -> list[int]:
    return list(seen.strays)


def _split(seen: _Seen) -> list[int]:
    worst = seen.failed.get("next")
    deep = worst is not None and -(worst.margin or 0) > limit("proving.split_under_db")
    return [1] if seen.is_split or (deep and not seen.strays) else []


def _past(*quantities: str) -> Callable[[_Seen], list[int]]:
    return lambda seen: [1] if any(quantity in seen.failed for quantity in quantities) else []


WHEN: dict[str, Callable[[_Seen], list[int]]] = {
    "short": _short,
    "open": _open,
    "crossed-ab": _crossed_ab,
    "reversed": _reversed,
    "crossed": _crossed,
    "wrong-order": _wrong_order,
    "split": _split,
    "long": _past("delay", "insertion-loss"),
    "crosstalk": _past("next"),
    "echo": _past("return-loss", "skew"),
    "resistance": _past("loop", "unbalance", "unbalance-ohm"),
    "light": _past("light-loss"),
}


def named_fault(test: CableTest, failed: Sequence[Any], scheme: str) -> NamedFault | None:
    """Return what is wrong with a cable by its name, None where its symptoms tell nothing; `failed` are readings past their
    limit. The first row of wire_faults.toml that holds.
    """
    seen = _Seen(test, failed)
    for code, row in library().wire_faults.items():
        if wires := WHEN[row.when](seen):
            pairs = [f"{a}-{b}" for a, b in PAIRS if a in wires or b in wires]
            words = {
                "pins": f"wire{'s' * (len(wires) > 1)} {', '.join(map(str, sorted(wires)))}",
                "pairs": f"pair{'s' * (len(pairs) > 1)} {' and '.join(pairs)}",
                "scheme": f"T568{scheme}",
            }
            text = row.text.format_map(words)
            return NamedFault(
                code=code, name=row.name, text=text[0].upper() + text[1:], advice=row.advice.format_map(words)
            )
    return None
