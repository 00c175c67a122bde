"""`heathrise doctor`: every job held against its change log."""

import sys

import click

from heathrise.settings import settings
from heathrise.store.database import Database, DatabaseGone
from heathrise.store.doctor import examine, job_ids


@click.command()
def doctor() -> None:
    """Check every job (HEATHRISE_DATABASE_URL) against its change log; exit with 1 when one is not sound."""
    database = Database(settings().database_url)
    wrong = 0
    try:
        with database.transaction() as session:
            listed = job_ids(session)
        for job_id, name in listed:
            with database.transaction() as session:
                found = examine(session, job_id)
            click.echo(f"{name} ({job_id}): {'sound' if not found else 'NOT SOUND'}")
            for complaint in found:
                click.echo(f"  {complaint}")
            wrong += bool(found)
    except DatabaseGone as error:
        raise click.ClickException(f"the database does not answer: {error}") from error
    click.echo(f"{len(listed) - wrong} of {len(listed)} jobs are sound.")
    if wrong:
        sys.exit(1)
