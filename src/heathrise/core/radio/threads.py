"""One access point a thread: two threads on two access points are quicker than both on one."""

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import Any, TypeVar

from numba import config, get_num_threads, set_num_threads

T = TypeVar("T")
R = TypeVar("R")
# Without a choice of the person's, only a layer that threads may share: the last Numba falls back to ends the process.
_settings: Any = config
if _settings.THREADING_LAYER == "default":
    _settings.THREADING_LAYER = "threadsafe"


def each(work: Callable[[T], R], over: Sequence[T]) -> list[R]:
    """Return the work done on each, in order; the compiled loops inside keep to their own thread.

    Threads are started anew each time: a process that was forked has none of its parent's.
    """
    threads = min(get_num_threads(), len(over))
    if threads < 2:
        return [work(one) for one in over]
    with ThreadPoolExecutor(threads, initializer=set_num_threads, initargs=(1,)) as pool:
        return list(pool.map(work, over))
