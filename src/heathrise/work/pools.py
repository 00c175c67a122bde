"""Where the parts of a study are worked on: processes of this machine, or a cluster that is named.

Both are `concurrent.futures` executors, so a study knows nothing of which it has.
"""

import multiprocessing
import os
from collections.abc import Iterator
from concurrent.futures import Executor, ProcessPoolExecutor
from contextlib import contextmanager


class ClusterGone(ConnectionError):
    """The cluster that the settings name does not answer; the message says what to do."""

    def __init__(self, address: str):
        super().__init__(
            f"the cluster at {address} does not answer. The job is as it was. Start its scheduler, or leave "
            "the setting cluster empty to work on this machine."
        )


@contextmanager
def pool(cluster: str, most: int) -> Iterator[Executor]:
    """Yield an executor: of the cluster at an address, or of up to `most` processes here.

    Raises
    ------
    ClusterGone
        If a cluster is named and does not answer.
    """
    if cluster:
        with _cluster(cluster) as executor:
            yield executor
        return
    workers = max(1, min(most, os.cpu_count() or 1))
    context = multiprocessing.get_context("forkserver")
    with ProcessPoolExecutor(workers, mp_context=context) as executor:
        yield executor


@contextmanager
def _cluster(address: str) -> Iterator[Executor]:
    # Loaded here: who works on one machine does not pay for it.
    from distributed import Client  # noqa: PLC0415

    try:
        client = Client(address, timeout=5)  # type: ignore[no-untyped-call]
    except (OSError, TimeoutError) as error:
        raise ClusterGone(address) from error
    try:
        # A part whose worker dies is given to another.
        yield client.get_executor(retries=3, pure=False)  # type: ignore[no-untyped-call]
    finally:
        client.close(timeout=2)  # type: ignore[no-untyped-call]
