"""How logs are written: one line an event, tracebacks plain. Never the values of variables: they hold people's work."""

import traceback

import structlog

_FRAMES = 8


def configure() -> None:
    """Set logging up for this process."""
    structlog.configure(
        processors=[
            structlog.contextvars.merge_contextvars,
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            structlog.dev.ConsoleRenderer(colors=False, exception_formatter=structlog.dev.plain_traceback),
        ],
        logger_factory=structlog.PrintLoggerFactory(),
    )


def where(error: BaseException) -> dict[str, str]:
    """Return what a log says of an error: its kind and where it rose. Its own words may quote somebody's work."""
    frames = traceback.extract_tb(error.__traceback__)[-_FRAMES:]
    return {
        "kind": type(error).__name__,
        "where": " > ".join(
            f"{frame.name} ({frame.filename.rsplit('/', 1)[-1]}:{frame.lineno})" for frame in frames
        ),
    }
