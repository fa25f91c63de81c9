"""Structured logs: one event a line, for reading or as JSON, each line of a request carrying its id."""

import logging
import sys
from typing import TextIO

import structlog

from mirvel.settings import Settings


def set_up_logs(settings: Settings, stream: TextIO | None = None) -> None:
    """Set the process up to log as the settings say, to its standard error unless told.

    The stream is held: a thread that prints to whatever ``sys.stdout`` is at that moment is handed memory that is freed
    under it where another thread changes ``sys.stdout`` meanwhile, and Python 3.11 ends with a segmentation fault.
    """
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
        logger_factory=structlog.PrintLoggerFactory(stream or sys.stderr),
        cache_logger_on_first_use=True,
    )
