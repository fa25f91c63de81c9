"""Settings: one typed table, read once at start from the environment (names begin with MIRVEL_).

Documented in docs/settings.md; a test keeps that page complete.
"""

from datetime import time
from pathlib import Path

from pydantic import Field, SecretStr
from pydantic_settings import BaseSettings, SettingsConfigDict

PROJECT_ROOT = Path(__file__).resolve().parents[2]


class Settings(BaseSettings):
    """What an installation may change without touching code."""

    model_config = SettingsConfigDict(env_prefix="MIRVEL_", extra="ignore")

    host: str = Field(default="127.0.0.1", description="address the app listens on; loopback unless changed")
    port: int = Field(
        default=8765,
        ge=0,
        le=65535,
        description="port of the app; the next free one is taken when it is in use",
    )
    hosts: str = Field(
        default="localhost,127.0.0.1",
        description="names the app answers to, with commas between; requests by any other name are refused",
    )
    address: str | None = Field(
        default=None,
        pattern=r"^https?://[^\s/?#]+(/[^\s?#]*)?$",
        description="address of the app as other devices reach it, for the codes on cards; else that it is asked by",
    )
    data_dir: Path | None = Field(default=None, description="folder of the database; .data in the project by default")
    postgres_bin: Path | None = Field(
        default=None, description="folder with initdb and pg_ctl; the newest of Debian's by default"
    )
    database_url: SecretStr | None = Field(
        default=None, description="use this PostgreSQL database instead of a private one"
    )
    stand_ins: bool = Field(
        default=True, description="have ./run demo begin stand-ins for the price feed and the label printer"
    )
    feed_url: str | None = Field(
        default=None, description="address of the wholesaler's daily price feed; none, and the app never asks"
    )
    feed_at: time = Field(default=time(5, 30), description="time of day at which the price feed is asked by itself")
    feed_patience_s: float = Field(default=8.0, gt=0, le=120, description="seconds to wait for the price feed")
    label_printer_url: str | None = Field(
        default=None, description="address of the label printer; none, and labels are only given as PDF"
    )
    log_level: str = Field(default="INFO", description="DEBUG, INFO, WARNING or ERROR")
    log_json: bool = Field(default=False, description="write log lines as JSON rather than for reading")

    @property
    def known_hosts(self) -> frozenset[str]:
        """The names the app answers to, the address it listens on among them."""
        named = {name.strip().lower() for name in self.hosts.split(",")}
        return frozenset({*named, self.host.lower()} - {""})

    def get_wanted_data_dir(self) -> Path:
        """The data folder asked for, whether or not it exists."""
        return (self.data_dir or PROJECT_ROOT / ".data").resolve()
