"""The job file: one job as one JSON document. Files of schema 1 are turned as they are read.

Its schema is published by `heathrise schema`.
"""

import json
from typing import Any

from pydantic import ValidationError

from heathrise.core.job import ELEMENT, JOB_FORMAT, SCHEMA_VERSION, Job
from heathrise.core.job.turning import turn_job

# So many elements may be wrong before the rest is no longer looked at, and so many complaints are told.
_MOST_WRONG = 20
_TOLD = 4


class NotAJobFile(ValueError):
    """A file that is no job file, or one this release cannot read; the message says which."""


def write_job(job: Job) -> str:
    """Return a job as its file's text."""
    return json.dumps(job.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


def read_job(text: str | bytes) -> Job:
    """Return the job in a file.

    Raises
    ------
    NotAJobFile
        If it is not JSON, not a job file, of a newer schema, or breaks the schema; the message
        names the first few places.
    """
    try:
        body = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise NotAJobFile(f"the file is not readable JSON: {error}") from error
    if not isinstance(body, dict) or body.get("format") != JOB_FORMAT:
        raise NotAJobFile(f'the file is JSON but no job file: "format" is not "{JOB_FORMAT}"')
    version = body.get("schema_version")
    if isinstance(version, int) and version > SCHEMA_VERSION:
        raise NotAJobFile(
            f"the file has schema version {version}; this release reads up to {SCHEMA_VERSION}. "
            "Open it with a newer release."
        )
    try:
        _check_build(body)
        whole = turn_job(body) if version == 1 else body
        _check_elements(whole)
        return Job.model_validate(whole)
    except ValidationError as error:
        raise NotAJobFile(f"the job file breaks its schema: {in_words(error)}") from error
    except (TypeError, KeyError, AttributeError, RecursionError) as error:
        raise NotAJobFile("the job file breaks its schema: it is not built as a job is") from error


def _check_build(body: dict[str, Any]) -> None:
    """Raise NotAJobFile unless the elements are a list of objects."""
    elements = body.get("elements", [])
    if not isinstance(elements, list) or not all(isinstance(element, dict) for element in elements):
        raise NotAJobFile("the job file breaks its schema: elements: they are no list of objects")


def _check_elements(body: dict[str, Any]) -> None:
    """Look at the elements one by one and stop at the twentieth that is wrong.

    Checked all together, a file of a million wrong ones would tell of each.

    Raises
    ------
    NotAJobFile
        With the first few complaints and how many there were until then.
    """
    complaints: list[str] = []
    for number, element in enumerate(body.get("elements", [])):
        try:
            ELEMENT.validate_python(element)
        except ValidationError as error:
            complaints.append(in_words(error, f"elements.{number}.", 1))
            if len(complaints) == _MOST_WRONG:
                break
    if complaints:
        more = len(complaints) - _TOLD
        stop = " or more" if len(complaints) == _MOST_WRONG else ""
        also = f"; and {more}{stop} others" if more > 0 else ""
        raise NotAJobFile(f"the job file breaks its schema: {'; '.join(complaints[:_TOLD])}{also}")


def in_words(error: ValidationError, at: str = "", most: int = _TOLD) -> str:
    """Return the first few complaints of a validation, each with its place."""
    words = []
    for complaint in error.errors(include_url=False, include_input=False)[:most]:
        place = at + ".".join(str(part) for part in complaint["loc"])
        message = complaint["msg"].removeprefix("Value error, ")
        words.append(f"{place}: {message}" if place else message)
    more = error.error_count() - len(words)
    return "; ".join(words) + (f"; and {more} more" if more > 0 else "")


def job_schema() -> dict[str, Any]:
    """Return the JSON Schema of the job file."""
    schema = Job.model_json_schema()
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Heathrise job file",
        **{key: value for key, value in schema.items() if key != "title"},
    }
