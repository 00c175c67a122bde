"""The command line: the same core for scripts."""

import importlib

import click

# Said here, so that the list of commands is shown without loading any of them.
_COMMANDS = {
    "backup": "Write a backup of the database into a folder.",
    "check": "Compute a job and print its findings and totals.",
    "coverage": "Write every access point's signal at cell centres or at given points as CSV.",
    "doctor": "Check every job against its change log and say what is wrong.",
    "restore": "Put a backup back in the place of the database.",
    "schema": "Print the JSON Schema of the job file.",
    "vectors": "Hold worked examples against the core; exit with 1 when one does not hold.",
}


class _Commands(click.Group):
    """Loads a command's module when that command is asked for."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        del ctx
        return list(_COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        del ctx
        if cmd_name not in _COMMANDS:
            return None
        found = getattr(importlib.import_module(f"heathrise.commands.{cmd_name}"), cmd_name)
        assert isinstance(found, click.Command)
        return found

    def format_commands(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        del ctx
        with formatter.section("Commands"):
            formatter.write_dl(list(_COMMANDS.items()))


@click.group(cls=_Commands)
@click.version_option(package_name="heathrise")
def main() -> None:
    """Plan a building's wired and wireless network from one model."""


if __name__ == "__main__":
    main()
