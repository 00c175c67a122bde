"""`heathrise backup`: the whole database as one packed file."""

from pathlib import Path

import click

from heathrise.settings import settings
from heathrise.store.backup import BackupFailed, write_backup


@click.command()
@click.argument("folder", type=click.Path(exists=True, file_okay=False, writable=True, path_type=Path))
@click.option("--keep", type=click.IntRange(1), help="Of older backups in the folder keep so many.")
def backup(folder: Path, keep: int | None) -> None:
    """Write a backup of the database (HEATHRISE_DATABASE_URL) into FOLDER. The application may go on meanwhile."""
    try:
        path = write_backup(settings().database_url, folder, keep)
    except BackupFailed as error:
        raise click.ClickException(str(error)) from error
    click.echo(f"{path.name}: {path.stat().st_size / 1e6:.2f} MB")
