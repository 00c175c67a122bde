"""Room for kept answers, counted in bytes: a large school takes no more memory than it may."""

from dataclasses import fields, is_dataclass
from typing import Any

import numpy as np
from cachetools import LRUCache

_MEGABYTE = 2**20


def room(megabytes: float) -> LRUCache[Any, Any]:
    """Return room for arrays, or frozen nouns of arrays; the longest unused go first."""
    return LRUCache(int(megabytes * _MEGABYTE), getsizeof=size_of)


def size_of(value: Any) -> int:
    """Return what an array, or a noun with its arrays, takes. [bytes]"""
    if isinstance(value, np.ndarray):
        # One value seen as many takes the room of one.
        return value.nbytes if all(value.strides) else value.itemsize
    return sum(size_of(part) for part in (getattr(value, f.name) for f in fields(value)))


def is_kept(function: Any, *args: Any) -> bool:
    """Say whether a function that keeps its answers has the one for these."""
    return function.cache_key(*args) in function.cache


def size_of_any(value: Any) -> int:
    """Return what an array, or whatever holds arrays, takes; what holds none takes nothing. [bytes]"""
    if isinstance(value, np.ndarray):
        return size_of(value)
    held = vars(value).values() if hasattr(value, "__dict__") else ()
    return sum(size_of_any(part) for part in held if isinstance(part, np.ndarray) or is_dataclass(part))
