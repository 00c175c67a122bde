"""Each kind of element as the screens read it: its description with type, bounds, choices and starting values.

What a person may enter stands once, in the noun; here it is read off the noun's schema and joined to the
words of its description.
"""

from functools import cache
from typing import Any, Literal

from pydantic_core import to_jsonable_python

from heathrise.core.job.element import ElementBase, FormField, Placing, Tool
from heathrise.core.job.job import BY_KIND
from heathrise.core.sums import Noun

FieldType = Literal["text", "number", "choice", "yes", "date"]
_NOT_STARTED = {"id", "label", "order", "kind"}


class Option(Noun):
    """One choice: as it is kept, and as it is written."""

    value: str | int | float
    label: str


class FieldShown(Noun):
    """One field a person edits. Choices are `options`, the items of a `shelf` that have `only`, or the elements of the
    job of the kind it `refers` to.
    """

    path: str
    label: str
    type: FieldType
    unit: str
    empty: bool
    options: tuple[Option, ...]
    shelf: str | None
    only: str | None
    refers: str | None
    least: float | None
    most: float | None


class KindShown(Noun):
    """A kind of element: words, stage, sign, how it is placed, its fields, its tools, how a new one starts."""

    noun: str
    stem: str
    gap: str
    digits: int
    stage: str
    sign: str
    placed: Placing
    single: bool
    listed: bool
    fields: tuple[FieldShown, ...]
    tools: tuple[Tool, ...]
    starts: dict[str, Any]


@cache
def kinds_shown() -> dict[str, KindShown]:
    """Return every kind by its name, in the order of the job's elements."""
    return {kind: _shown(cls) for kind, cls in BY_KIND.items()}


def _shown(cls: type[ElementBase]) -> KindShown:
    schema = cls.model_json_schema()
    about = cls.ABOUT
    return KindShown(
        noun=about.noun,
        stem=about.stem,
        gap=about.gap,
        digits=about.digits,
        stage=about.stage,
        sign=about.sign,
        placed=about.placed,
        single=about.single,
        listed=about.listed,
        fields=tuple(_field(schema, asked) for asked in about.fields),
        tools=about.tools,
        starts=_starts(cls),
    )


def _starts(cls: type[ElementBase]) -> dict[str, Any]:
    """Return what a new element starts with where nothing else is said."""
    fields = {name: info for name, info in cls.model_fields.items() if name not in _NOT_STARTED}
    return {
        name: to_jsonable_python(info.get_default(call_default_factory=True))
        for name, info in fields.items()
        if not info.is_required()
    }


def _field(schema: dict[str, Any], asked: FormField) -> FieldShown:
    found, empty = _at(schema, schema, asked.path.split("."))
    choices = found.get("enum", [found["const"]] if "const" in found else [])
    kind = found.get("type")
    type_: FieldType = "text"
    if asked.shelf is not None or asked.refers is not None or choices:
        type_ = "choice"
    elif kind == "boolean":
        type_ = "yes"
    elif kind in ("number", "integer"):
        type_ = "number"
    elif found.get("format") == "date":
        type_ = "date"
    return FieldShown(
        path=asked.path,
        label=asked.label,
        type=type_,
        unit=asked.unit,
        empty=empty,
        options=tuple(Option(value=c, label=asked.words.get(str(c), str(c))) for c in choices),
        shelf=asked.shelf,
        only=asked.only,
        refers=asked.refers,
        least=found.get("minimum", found.get("exclusiveMinimum")),
        most=found.get("maximum", found.get("exclusiveMaximum")),
    )


def _at(root: dict[str, Any], here: dict[str, Any], path: list[str]) -> tuple[dict[str, Any], bool]:
    """Return the schema at a path of fields, and whether nothing may stand there. Raises KeyError."""
    here, empty = _resolved(root, here)
    if not path:
        return here, empty
    for branch in here.get("oneOf", [here]):
        one, _ = _resolved(root, branch)
        if path[0] in one.get("properties", {}):
            found, maybe = _at(root, one["properties"][path[0]], path[1:])
            return found, maybe or empty
    raise KeyError(path[0])


def _resolved(root: dict[str, Any], here: dict[str, Any]) -> tuple[dict[str, Any], bool]:
    if "$ref" in here:
        return _resolved(root, root["$defs"][here["$ref"].rpartition("/")[2]])
    if "anyOf" in here:
        some = [one for one in here["anyOf"] if one.get("type") != "null"]
        found, _ = _resolved(root, some[0])
        return found, len(some) < len(here["anyOf"])
    return here, False
