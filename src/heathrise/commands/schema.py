"""`heathrise schema`: the JSON Schema of the job file."""

import json

import click

from heathrise.exchange.jobfile import job_schema


@click.command()
def schema() -> None:
    """Print the JSON Schema of the job file."""
    click.echo(json.dumps(job_schema(), indent=1))
