"""Structured logs: one event a line, for reading or as JSON, each line of a request carrying its id."""

import logging
import sys

import structlog

from mirvel.settings import Settings


def set_up_logs(settings: Settings) -> None:
    """Set the process up to log as the settings say."""
    rendering = (
        structlog.processors.JSONRenderer() if settings.log_json else structlog.dev.ConsoleRenderer(colors=False)
    )
    structlog.configure(
        processors=[
            structlog.contextvars.merge_contextvars,
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            structlog.processors.format_exc_info,
            rendering,
        ],
        wrapper_class=structlog.make_filtering_bound_logger(logging.getLevelNamesMapping()[settings.log_level.upper()]),
        logger_factory=structlog.PrintLoggerFactory(sys.stderr),
        cache_logger_on_first_use=True,
    )
