"""Files made from the code: the job schema, the OpenAPI document, the TypeScript types.

Without an option it fails when one of them is not what the code says; `--write` writes them.
"""

import json
import subprocess
import sys
from pathlib import Path

from heathrise.api import documented
from heathrise.core.job import JOB_FORMAT, SCHEMA_VERSION
from heathrise.core.job.describing import kinds_shown
from heathrise.core.network.settings import Settings as NetworkSettings
from heathrise.core.sums import Noun
from heathrise.exchange.jobfile import job_schema
from heathrise.exchange.topology import TopologyDocument
from heathrise.settings import Settings

ROOT = Path(__file__).resolve().parents[1]
TYPES = ROOT / "web" / "src" / "api" / "schema.d.ts"


def twins() -> list[str]:
    """Return nouns that share a name: in the API's document one would silently stand for the other."""
    seen: dict[str, set[str]] = {}
    pending: list[type] = [Noun]
    while pending:
        cls = pending.pop()
        pending += cls.__subclasses__()
        seen.setdefault(cls.__name__, set()).add(cls.__module__)
    shown = json.loads((ROOT / "web" / "openapi.json").read_text("utf-8"))["components"]["schemas"]
    twice = {name: where for name, where in seen.items() if len(where) > 1 and name in shown}
    return [f"{name} in {', '.join(sorted(where))}" for name, where in twice.items()]


def documents() -> dict[Path, str]:
    """Return each file with the text the code gives."""
    documented.document()
    # Loaded now: its handlers name what they answer with as they are made.
    from heathrise.api.app import create_app  # noqa: PLC0415

    api = documented.whole(create_app(Settings()).api_doc)
    return {
        ROOT / "docs" / "job.schema.json": json.dumps(job_schema(), indent=1) + "\n",
        ROOT / "docs" / "settings.schema.json": json.dumps(NetworkSettings.model_json_schema(), indent=1)
        + "\n",
        ROOT / "docs" / "topology.schema.json": json.dumps(TopologyDocument.model_json_schema(), indent=1)
        + "\n",
        ROOT / "web" / "openapi.json": json.dumps(api, indent=1, sort_keys=True) + "\n",
        ROOT / "web" / "src" / "api" / "kinds.json": json.dumps(_kinds(), indent=1) + "\n",
        ROOT / "web" / "src" / "api" / "jobfile.json": json.dumps(_envelope()) + "\n",
    }


def _kinds() -> dict[str, object]:
    """Return the description of every kind, for tests of the pages."""
    return {kind: shown.model_dump(mode="json") for kind, shown in kinds_shown().items()}


def _envelope() -> dict[str, object]:
    """Return what a job file says of itself: the pages write one when a job is gone under their hands."""
    return {"format": JOB_FORMAT, "schema_version": SCHEMA_VERSION}


def types() -> str:
    """Return the TypeScript types of web/openapi.json."""
    command = ["npx", "--no-install", "openapi-typescript", "openapi.json", "--root-types"]
    command += ["--root-types-no-schema-prefix"]
    made = subprocess.run(command, cwd=ROOT / "web", check=True, capture_output=True, text=True)
    return made.stdout


def main() -> None:
    """Compare, or write."""
    found = documents()
    if "--write" in sys.argv[1:]:
        for path, text in found.items():
            path.write_text(text, "utf-8")
        TYPES.parent.mkdir(parents=True, exist_ok=True)
        TYPES.write_text(types(), "utf-8")
        _check_names()
        return
    _check_names()
    stale = [path for path, text in found.items() if not _same(path, text)]
    if not stale and not _same(TYPES, types()):
        stale.append(TYPES)
    if stale:
        names = ", ".join(str(path.relative_to(ROOT)) for path in stale)
        sys.exit(f"{names} drifted from the code. Run: make types")


def _check_names() -> None:
    if twice := twins():
        sys.exit(f"two nouns have one name, of which the document shows one: {'; '.join(twice)}")


def _same(path: Path, text: str) -> bool:
    return path.is_file() and path.read_text("utf-8") == text


if __name__ == "__main__":
    main()
