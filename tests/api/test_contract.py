"""The OpenAPI document is valid and true: whatever it lets be sent, no answer breaks and none is undocumented."""

import json
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from openapi_spec_validator import OpenAPIV31SpecValidator
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
    unsupported_method,
)

from heathrise.api.app import create_app
from heathrise.settings import Settings
from heathrise.store.database import Database, migrate
from heathrise.store.jobs import create_job, new_id
from tests.house import House

CHECKS = [
    not_a_server_error,
    status_code_conformance,
    content_type_conformance,
    response_schema_conformance,
    unsupported_method,
]
EXAMPLES = 25
# As it is published; that it is what the code says is checked with the types.
DOCUMENT = json.loads((Path(__file__).parents[2] / "web" / "openapi.json").read_text("utf-8"))
API = schemathesis.openapi.from_dict(DOCUMENT)
OPERATIONS = [found.ok() for found in API.get_all_operations()]


@pytest.fixture(scope="module")
def application(server, tmp_path_factory):
    """The application over a job of its own; long work is asked for and not begun."""
    url = server.create("contract")
    migrate(url)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("heathrise.work.reading.start", lambda *_: None)
        patch.setattr("heathrise.work.studies.start", lambda *_: None)
        app = create_app(Settings(database_url=url, web_root=tmp_path_factory.mktemp("web")))
        yield app
    app.extensions["desk"].database.engine.dispose()


@pytest.fixture(scope="module")
def job_id(application):
    house = House()
    house.point()
    database: Database = application.extensions["desk"].database
    with database.transaction() as session:
        return create_job(session, house.job).id


@pytest.mark.parametrize("operation", OPERATIONS, ids=lambda operation: operation.label)
def test_every_answer_is_one_the_document_tells_of(operation, application, job_id):
    API.app = application

    @settings(
        max_examples=EXAMPLES,
        deadline=None,
        derandomize=True,
        database=None,
        phases=[Phase.explicit, Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(case=operation.as_strategy())
    def ask(case):
        if "job_id" in case.path_parameters:
            # The job stays for the others.
            case.path_parameters["job_id"] = new_id() if case.method == "DELETE" else job_id
        case.call_and_validate(
            app=application, checks=CHECKS, headers={"Host": "localhost", "Accept-Encoding": "identity"}
        )

    ask()


def test_the_document_is_valid():
    OpenAPIV31SpecValidator(DOCUMENT).validate()
