"""What is otherwise now than when it was handed over: element by element, field by field."""

from typing import Any, Literal

from heathrise.core.job import Element, Job
from heathrise.core.sums import Noun

# Of no account to who reads a hand-over.
_QUIET = frozenset({"id", "kind", "order"})


class DriftField(Noun):
    """One field: as handed over and as it is."""

    field: str
    before: str
    after: str


class DriftLine(Noun):
    """One thing that is new, gone or otherwise."""

    element_id: str
    label: str
    noun: str
    stage: str
    change: Literal["new", "gone", "changed"]
    fields: tuple[DriftField, ...]


class Drift(Noun):
    """Everything that is otherwise; `same` counts what is as it was."""

    lines: tuple[DriftLine, ...]
    same: int


def drift(handed: Job, now: Job) -> Drift:
    """Return what of a job is otherwise than when it was handed over."""
    before, after = handed.by_id, now.by_id
    lines = [_line(after[key], "new", ()) for key in after if key not in before]
    lines += [_line(before[key], "gone", ()) for key in before if key not in after]
    same = 0
    for key, element in after.items():
        if key in before and before[key] != element:
            fields = _fields(before[key], element)
            if fields:
                lines.append(_line(element, "changed", fields))
                continue
        same += key in before
    return Drift(lines=tuple(lines), same=same)


def _line(
    element: Element, change: Literal["new", "gone", "changed"], fields: tuple[DriftField, ...]
) -> DriftLine:
    return DriftLine(
        element_id=element.id,
        label=element.label,
        noun=element.ABOUT.noun,
        stage=element.ABOUT.stage,
        change=change,
        fields=fields,
    )


def _fields(before: Element, after: Element) -> tuple[DriftField, ...]:
    was, now = _flat(before.model_dump(mode="json")), _flat(after.model_dump(mode="json"))
    names = {form.path: form.label for form in after.ABOUT.fields}
    return tuple(
        DriftField(
            field=names.get(path, path.replace("_", " ")), before=was.get(path, ""), after=now.get(path, "")
        )
        for path in dict.fromkeys((*was, *now))
        if path not in _QUIET and was.get(path, "") != now.get(path, "")
    )


def _flat(body: dict[str, Any], at: str = "") -> dict[str, str]:
    """Return fields by path, in words; what holds many is one field."""
    found: dict[str, str] = {}
    for name, value in body.items():
        path = f"{at}{name}"
        if isinstance(value, dict):
            found |= _flat(value, f"{path}.")
        elif isinstance(value, list):
            found[path] = f"{len(value)}: {str(value)[:120]}" if value else ""
        else:
            found[path] = "" if value is None else str(value)
    return found
