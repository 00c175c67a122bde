"""The application on a database of its own, and a client that speaks as our own pages do."""

from collections.abc import Iterator

import pytest
from flask.testing import FlaskClient

from heathrise.api.app import create_app
from heathrise.api.desk import Desk
from heathrise.settings import Settings
from heathrise.store.database import Database
from heathrise.store.jobs import create_job


@pytest.fixture
def app(url: str, tmp_path) -> Iterator:
    (tmp_path / "index.html").write_text("<meta content='__NONCE__'>", "utf-8")
    made = create_app(Settings(database_url=url, web_root=tmp_path))
    yield made
    desk: Desk = made.extensions["desk"]
    desk.database.engine.dispose()


@pytest.fixture
def client(app) -> FlaskClient:
    return app.test_client()


@pytest.fixture
def kept(app, school):
    database: Database = app.extensions["desk"].database
    with database.transaction() as session:
        return create_job(session, school)


@pytest.fixture
def at(kept) -> str:
    return f"/api/jobs/{kept.id}"


def rows(answer: dict, table: str) -> list[dict]:
    """The rows of a table in an answer that has all of them, in their order."""
    found = answer["tables"][table]
    return [found["rows"][key] for key in found["order"]]
