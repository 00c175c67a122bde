"""The application, made by a factory."""

from pathlib import Path

from flask import Response, make_response, send_from_directory
from flask_compress import Compress
from flask_openapi3 import Info, OpenAPI
from pydantic import ValidationError

from heathrise import __version__, logs
from heathrise.api import (
    air,
    brief,
    controller,
    edits,
    files,
    fit,
    guard,
    handover,
    imports,
    jobs,
    links,
    network,
    order,
    plan,
    ports,
    problems,
    prove,
    runs,
    shelves,
    studies,
)
from heathrise.api.desk import Desk
from heathrise.api.shapes import Problem
from heathrise.settings import Settings
from heathrise.settings import settings as from_environment
from heathrise.store.database import Database
from heathrise.store.sealing import Sealer
from heathrise.work.calculators import Apart, InPlace

BLUEPRINTS = (
    jobs,
    brief,
    plan,
    imports,
    edits,
    air,
    studies,
    links,
    runs,
    ports,
    network,
    order,
    fit,
    prove,
    handover,
    controller,
    files,
    shelves,
)
_MB = 1_000_000


def create_app(settings: Settings | None = None) -> OpenAPI:
    """Return the application for some settings, the environment's by default."""
    logs.configure()
    settings = settings or from_environment()
    app = OpenAPI(
        "heathrise",
        info=Info(title="Heathrise", version=__version__),
        responses={422: Problem},
        validation_error_status=422,
        validation_error_callback=_invalid,
        doc_ui=False,
        static_folder=None,
    )
    # A little over the picture's own limit, which answers in its own words.
    app.config["MAX_CONTENT_LENGTH"] = (
        max(settings.picture_mb, settings.job_file_mb, settings.drawing_mb) * _MB + 2 * _MB
    )
    app.config["MAX_FORM_MEMORY_SIZE"] = 2 * _MB
    app.extensions["settings"] = settings
    database = Database(settings.database_url)
    apart = settings.calculators > 0
    calculators = Apart(settings.database_url, settings.calculators) if apart else InPlace(database)
    app.extensions["desk"] = Desk(database, calculators)
    app.extensions["sealer"] = Sealer(settings.key_file)
    Compress(app)
    guard.register(app)
    problems.register(app)
    for module in BLUEPRINTS:
        app.register_api(module.blueprint)
    app.register_api(jobs.bin_blueprint)
    _serve_pages(app, settings.web_root)
    return app


def _invalid(error: ValidationError) -> Response:
    return problems.invalid(error)


def _serve_pages(app: OpenAPI, root: Path) -> None:
    """Serve the built front end; every other address is one of its pages."""

    @app.route("/assets/<path:name>")
    def _asset(name: str) -> Response:
        response = send_from_directory(root / "assets", name)
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response

    def page(name: str) -> Response:
        found = root / name
        if not found.is_file():
            return problems.problem(503, "Not built", "The pages are not built yet. Run: make build")
        response = make_response(found.read_text("utf-8").replace("__NONCE__", guard.nonce()))
        response.headers["Cache-Control"] = "no-store"
        return response

    @app.route("/")
    @app.route("/jobs/<path:_rest>")
    def _desk(_rest: str = "") -> Response:
        return page("index.html")

    @app.route("/field/")
    @app.route("/field/<path:_rest>")
    def _field(_rest: str = "") -> Response:
        return page("field.html")

    @app.route("/field/worker.js")
    def _worker() -> Response:
        """Return what lets the field page open without a line; it may keep what lies under its own address alone."""
        response = send_from_directory(root, "worker.js", mimetype="text/javascript")
        response.headers["Cache-Control"] = "no-cache"
        return response
