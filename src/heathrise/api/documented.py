"""Which nouns answers are made of, named by module and class.

The web process hands on what calculators wrote and needs none of these nouns, nor the compiled code their
modules pull in: they are loaded only where the OpenAPI document is written (`tools.drift`).
"""

from importlib import import_module
from typing import Any

from flask_openapi3 import APIBlueprint, Tag

from heathrise.api.shapes import Problem

_documenting = False
# Told by its lines or its own schema, not as bytes.
_NOT_BYTES = (
    "text/event-stream",
    "application/json",
    "application/yaml",
    "application/geo+json",
    "text/calendar",
    "text/csv",
    "text/plain",
)
_JOB_FILE = {"required": True, "content": {"application/json": {"schema": {"type": "object"}}}}
_REFUSALS = {"4XX": "Refused, with the reason", "5XX": "Not just now, or our mistake"}


def document() -> None:
    """From now on load what answers are made of: for writing the OpenAPI document."""
    global _documenting  # noqa: PLW0603
    _documenting = True


def group(name: str, prefix: str, tag: str | None = None) -> APIBlueprint:
    """Return a group of handlers under an address.

    What they take and give is described only where the document is written: that is half of a start's time.
    """
    tags = [Tag(name=tag or name)]
    return APIBlueprint(name, __name__, url_prefix=prefix, abp_tags=tags, doc_ui=_documenting)


def answers_with(name: str, status: int = 200) -> dict[int | str, Any]:
    """Return the responses of a handler that answers with a noun, as "package.module:Class"."""
    if not _documenting:
        return {}
    module, _, noun = name.partition(":")
    return {status: getattr(import_module(f"heathrise.{module}"), noun)}


def gives(*types: str, status: int = 200) -> dict[int | str, Any]:
    """Return the responses of a handler that answers with a file of one of these content types."""
    content: dict[str, Any] = {
        name: {} if name in _NOT_BYTES else {"schema": {"type": "string", "format": "binary"}}
        for name in types
    }
    return {status: {"description": "The file", "content": content}}


def whole(document_: dict[str, Any]) -> dict[str, Any]:
    """Return the OpenAPI document with what is true of every address: refusals are problem documents."""
    schema = Problem.model_json_schema(ref_template="#/components/schemas/{model}")
    schemas = document_["components"]["schemas"]
    schemas |= schema.pop("$defs", {}) | {"Problem": schema}
    schemas.pop("ValidationErrorModel", None)
    # The framework writes down what it was not given.
    document_["components"] = {
        key: value for key, value in document_["components"].items() if value is not None
    }
    document_["paths"]["/api/import"]["post"]["requestBody"] = _JOB_FILE
    content = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
    for operations in document_["paths"].values():
        for operation in operations.values():
            said = operation["responses"]
            said.pop("422", None)
            said |= {key: {"description": words, "content": content} for key, words in _REFUSALS.items()}
    return document_
