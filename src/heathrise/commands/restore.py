"""`heathrise restore`: a backup in the place of the database."""

from pathlib import Path

import click

from heathrise.settings import settings
from heathrise.store.backup import BackupFailed, put_back


@click.command()
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.confirmation_option(prompt="What is in the database now gives way to the backup. Go on?")
def restore(file: Path) -> None:
    """Put a backup in the place of the database (HEATHRISE_DATABASE_URL).

    What is there now is kept beside it under another name. Windows that are open take the backup's jobs up by
    themselves; what waits in them is merged or asked about.
    """
    try:
        before = put_back(settings().database_url, file)
    except BackupFailed as error:
        raise click.ClickException(f"{error}. The database is as it was.") from error
    click.echo(f"{file.name} is in place. What was there before is kept as the database {before}.")
