"""`heathrise check`: findings and totals of a job."""

import json
import sys
from pathlib import Path

import click

from heathrise.commands.jobs import JOB_FILE_HELP, job_file, job_in
from heathrise.core.findings import assess
from heathrise.core.rule import Finding
from heathrise.core.units import plain


def _finding(finding: Finding) -> dict[str, object]:
    body = finding.model_dump(mode="json", exclude={"fixes", "sum"})
    return body | {
        "text": plain(finding.text),
        "advice": plain(finding.advice),
        "fixes": [fix.label for fix in finding.fixes],
    }


@click.command(epilog=JOB_FILE_HELP)
@job_file
@click.option("--json", "as_json", is_flag=True, help="Print findings and totals as JSON.")
@click.option("--strict", is_flag=True, help="Exit with 1 when a fault is open.")
def check(job: Path, as_json: bool, strict: bool) -> None:
    """Compute a job and print its findings and totals."""
    loaded = job_in(job)
    found = assess(loaded)
    if as_json:
        totals = {
            entry.key: entry.sum.model_dump(include={"label", "value", "unit", "limit", "holds"})
            for entry in found.ledger
        }
        body = {
            "job": loaded.name,
            "findings": [_finding(finding) for finding in found.findings],
            "totals": totals,
        }
        click.echo(json.dumps(body, indent=1, ensure_ascii=False))
    else:
        for finding in found.findings:
            words = f"{plain(finding.text)} {plain(finding.advice)}"
            click.echo(f"{finding.severity:8} {finding.subject}: {words}")
        for entry in found.ledger:
            limit = "" if entry.sum.limit is None else f" / {entry.sum.limit:g}"
            click.echo(f"{entry.sum.label}: {entry.sum.value:g}{limit} {entry.sum.unit}".rstrip())
    if strict and any(f.severity == "fault" and not f.accepted for f in found.findings):
        sys.exit(1)
