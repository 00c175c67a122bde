"""Two ends trade ports where that hangs points apart that cover for each other: quick where a solver runs out of time.

A trade is taken when fewer pairs hang on one switch after it and nothing else is worse: no end short of its class or
slower than before, no switch further over what it may give. Ends are looked at in their own order, so the same ports
come out each time.
"""

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence

from heathrise.core.library import limit
from heathrise.core.switching.slots import NEVER, Ask, Loads, Slot, cost, lost_octaves


class Trades:
    """Ports as they are given out, and what a trade of two would change."""

    def __init__(
        self,
        asks: Sequence[Ask],
        slots: Sequence[Slot],
        loads: Loads,
        pairs: Collection[tuple[int, int]],
        placed: Mapping[int, int],
    ):
        self.asks, self.slots, self.loads, self.placed = asks, slots, loads, dict(placed)
        self.others: dict[int, set[int]] = defaultdict(set)
        for one, other in pairs:
            self.others[one].add(other)
            self.others[other].add(one)
        self.drawn: dict[str, float] = defaultdict(float)
        for i in self.placed:
            self.drawn[self.on(i)] += self._watts(i, self.placed[i])

    def on(self, i: int) -> str:
        """Return the switch an end is on."""
        return self.slots[self.placed[i]].switch.id

    def _watts(self, i: int, slot: int) -> float:
        given = self.slots[slot]
        return self.loads.watts.get((i, given.switch.id), 0.0) if given.poe_class else 0.0

    def together(self, i: int, switch_id: str, but: int = -1) -> int:
        """Return how many that cover for an end are on a switch."""
        return sum(self.on(k) == switch_id for k in self.others[i] if k in self.placed and k != but)

    def gain(self, i: int, j: int) -> int:
        """Return how many pairs fewer hang on one switch when two ends trade ports; those two stay apart or together."""
        here, there = self.on(i), self.on(j)
        now = self.together(i, here, j) + self.together(j, there, i)
        return now - self.together(i, there, j) - self.together(j, here, i)

    def allowed(self, i: int, j: int) -> bool:
        """Say whether two ends may trade: nothing else is worse for it."""
        at_i, at_j = self.placed[i], self.placed[j]
        for end, new, old in ((i, at_j, at_i), (j, at_i, at_j)):
            ask, slot = self.asks[end], self.slots[new]
            slower = lost_octaves(ask, slot) > lost_octaves(ask, self.slots[old]) + 1e-9
            if slower or cost(ask, slot) >= NEVER or slot.poe_class < ask.poe_class:
                return False
        return self._within(i, j)

    def _within(self, i: int, j: int) -> bool:
        """Say whether both switches give no more than a fifth short of all after a trade, or than they do now."""
        at_i, at_j = self.placed[i], self.placed[j]
        for leaves, comes, slot in ((i, j, at_i), (j, i, at_j)):
            switch_id = self.slots[slot].switch.id
            then = self.drawn[switch_id] - self._watts(leaves, slot) + self._watts(comes, slot)
            room = self.loads.budgets.get(switch_id, 0.0) * (1 - limit("power.free_share"))
            if then > max(room, self.drawn[switch_id]) + 1e-9:
                return False
        return True

    def take(self, i: int, j: int) -> None:
        """Let two ends trade ports."""
        for end in (i, j):
            self.drawn[self.on(end)] -= self._watts(end, self.placed[end])
        self.placed[i], self.placed[j] = self.placed[j], self.placed[i]
        for end in (i, j):
            self.drawn[self.on(end)] += self._watts(end, self.placed[end])


def traded_apart(
    asks: Sequence[Ask],
    slots: Sequence[Slot],
    loads: Loads,
    pairs: Collection[tuple[int, int]],
    placed: Mapping[int, int],
    held: Mapping[int, int],
) -> dict[int, int]:
    """Return ports with fewer pairs on one switch, by trades of ends that are not held; each pass has one pair less."""
    found = Trades(asks, slots, loads, pairs, placed)
    free = [i for i in sorted(found.placed) if i not in held]
    better = True
    while better:
        better = False
        for i in free:
            if not found.together(i, found.on(i)):
                continue
            for j in free:
                if found.on(j) != found.on(i) and found.gain(i, j) > 0 and found.allowed(i, j):
                    found.take(i, j)
                    better = True
                    break
    return found.placed
