"""Every handler gets its job by the one seam, so that who may do what can be said in one place."""

import inspect

import pytest

from heathrise.api import edits
from heathrise.api.app import create_app
from heathrise.settings import Settings


def handlers():
    """The handlers of all routes that name a job."""
    app = create_app(Settings())
    for rule in app.url_map.iter_rules():
        if "job_id" in rule.arguments:
            yield pytest.param(
                inspect.unwrap(app.view_functions[rule.endpoint]), rule.methods, id=f"{rule.endpoint} {rule}"
            )


@pytest.mark.parametrize(("handler", "methods"), list(handlers()))
def test_a_handler_asks_for_its_job_and_says_what_it_means_to_do(handler, methods):
    source = inspect.getsource(handler)
    if "_step(" in source:  # undo and redo share one body
        source += inspect.getsource(edits._step)
    assert "opened(" in source
    assert "may=" in source
    if methods & {"PUT", "DELETE", "PATCH"}:
        assert 'may="see"' not in source
