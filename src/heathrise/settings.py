"""Settings with their defaults, read from the environment once. Engineering limits are not here."""

import os
from pathlib import Path

from pydantic_settings import BaseSettings, SettingsConfigDict

PREFIX = "HEATHRISE_"


class UnknownSetting(ValueError):
    """The environment has a HEATHRISE_ name that is no setting; the message says which there are."""


class Settings(BaseSettings):
    """What may differ between two places the application runs at: HEATHRISE_* in the environment."""

    model_config = SettingsConfigDict(env_prefix=PREFIX, frozen=True, extra="forbid")

    database_url: str = "mysql+pymysql://heathrise@localhost/heathrise?charset=utf8mb4"
    host: str = "127.0.0.1"
    port: int = 8420
    web_root: Path = Path(__file__).resolve().parents[2] / "web" / "dist"
    picture_mb: int = 30
    picture_megapixels: int = 40
    job_file_mb: int = 40
    drawing_mb: int = 60
    # Processes that compute beside the web process; none computes in it.
    calculators: int = 0
    # A file with the key that passphrases are sealed with; without one none can be kept.
    key_file: Path | None = None
    # Address of the simulated controller that ships beside; empty where there is none.
    stand_in: str = ""
    # Address of a Dask scheduler for long work; empty works on this machine.
    cluster: str = ""


def settings() -> Settings:
    """Return the settings: defaults, and HEATHRISE_* from the environment.

    Raises
    ------
    UnknownSetting
        For a name that is none: a slip there would go unseen otherwise.
    """
    named = {key.removeprefix(PREFIX).lower() for key in os.environ if key.startswith(PREFIX)}
    if unknown := named - set(Settings.model_fields):
        known = ", ".join(PREFIX + name.upper() for name in Settings.model_fields)
        raise UnknownSetting(f"{PREFIX}{min(unknown).upper()} is no setting; there are {known}")
    return Settings()
