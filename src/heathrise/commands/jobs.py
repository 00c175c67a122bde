"""What commands on a job file have in common."""

from pathlib import Path

import click

from heathrise.core.job import Job
from heathrise.exchange.jobfile import NotAJobFile, read_job

JOB_FILE_HELP = (
    "JOB is a job file: a JSON document whose schema `heathrise schema` prints and "
    "docs/job.schema.json keeps; docs/job-file.md explains it with an example."
)
job_file = click.argument("job", type=click.Path(exists=True, dir_okay=False, path_type=Path))


def job_in(path: Path) -> Job:
    """Return the job in a file. Raises ClickException in words."""
    try:
        return read_job(path.read_bytes())
    except NotAJobFile as error:
        raise click.ClickException(f"{path}: {error}") from error
