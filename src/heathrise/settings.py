"""Settings with their defaults, read from the environment once. Engineering limits are not here."""

import os
from pathlib import Path

from pydantic import BaseModel, ConfigDict

PREFIX = "HEATHRISE_"


class Settings(BaseModel):
    """What may differ between two places the application runs at."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    database_url: str = "mysql+pymysql://root@127.0.0.1:8421/heathrise?charset=utf8mb4"
    host: str = "127.0.0.1"
    port: int = 8420
    web_root: Path = Path(__file__).resolve().parents[2] / "web" / "dist"
    picture_mb: int = 30
    picture_megapixels: int = 40
    job_file_mb: int = 30
    drawing_mb: int = 60
    # Address of a Dask scheduler for long work; empty works on this machine.
    cluster: str = ""


def settings() -> Settings:
    """Return the settings: defaults, and HEATHRISE_* from the environment. Unknown names raise."""
    given = {
        key.removeprefix(PREFIX).lower(): value for key, value in os.environ.items() if key.startswith(PREFIX)
    }
    return Settings.model_validate(given)
