"""How logs are written: one line an event, tracebacks plain. Never the values of variables: they hold people's work."""

import structlog


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
