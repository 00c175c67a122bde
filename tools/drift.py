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
from heathrise.exchange.jobfile import job_schema
from heathrise.exchange.topology import TopologyDocument
from heathrise.settings import Settings

ROOT = Path(__file__).resolve().parents[1]
TYPES = ROOT / "web" / "src" / "api" / "schema.d.ts"


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
    if "--write" in sys.argv[1:]:
        for path, text in documents().items():
            path.write_text(text, "utf-8")
        TYPES.parent.mkdir(parents=True, exist_ok=True)
        TYPES.write_text(types(), "utf-8")
        return
    stale = [path for path, text in documents().items() if not _same(path, text)]
    if not stale and not _same(TYPES, types()):
        stale.append(TYPES)
    if stale:
        names = ", ".join(str(path.relative_to(ROOT)) for path in stale)
        sys.exit(f"{names} drifted from the code. Run: make types")


def _same(path: Path, text: str) -> bool:
    return path.is_file() and path.read_text("utf-8") == text


if __name__ == "__main__":
    main()
