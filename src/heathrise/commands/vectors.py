"""`heathrise vectors`: worked examples held against the core."""

import json
import sys
from pathlib import Path

import click

from heathrise.core.vectors import Outcome, evaluate


@click.command()
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
def vectors(file: Path) -> None:
    """Hold worked examples against the core; exit with 1 when one does not hold."""
    try:
        cases = json.loads(file.read_text("utf-8"))
        outcomes = [evaluate(case) for case in cases]
    except (ValueError, AttributeError) as error:
        raise click.ClickException(f"{file} is not a list of worked examples: {error}") from error
    for outcome in outcomes:
        _print_outcome(outcome)
    held = sum(outcome.holds for outcome in outcomes)
    click.echo(f"{held} of {len(outcomes)} hold")
    if held < len(outcomes):
        sys.exit(1)


def _print_outcome(outcome: Outcome) -> None:
    word = "holds" if outcome.holds else "DOES NOT HOLD"
    expected, got = json.dumps(outcome.expected), json.dumps(outcome.got)
    why = f" ({outcome.why})" if outcome.why else ""
    click.echo(f"{outcome.topic}: {outcome.name}\n  expected {expected}\n  got      {got}\n  {word}{why}")
