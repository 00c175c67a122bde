"""Fixtures: the demo job, and a real MariaDB of each worker's own."""

import itertools
import os
from collections.abc import Iterator

import pytest
from demo.tern_lane import tern_lane
from hypothesis import settings
from tools.localdb import LocalDatabase

from heathrise import logs
from heathrise.core.findings import Assessment, assess
from heathrise.core.job import Job
from heathrise.store.database import Database, migrate

_numbers = itertools.count(1)
logs.configure()
# The same examples at every run; `make explore` looks for new ones.
settings.register_profile("same", derandomize=True, print_blob=True)
settings.register_profile("explore", max_examples=1000)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "same"))


@pytest.fixture(scope="session")
def school() -> Job:
    return tern_lane()


@pytest.fixture(scope="session")
def assessed(school: Job) -> Assessment:
    return assess(school)


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[LocalDatabase]:
    with LocalDatabase(tmp_path_factory.mktemp("mariadb")) as local:
        yield local


@pytest.fixture
def url(server: LocalDatabase) -> str:
    """An empty database of this test's own, with its tables."""
    fresh = server.create(f"test_{next(_numbers)}")
    migrate(fresh)
    return fresh


@pytest.fixture
def database(url: str) -> Iterator[Database]:
    made = Database(url)
    yield made
    made.engine.dispose()
