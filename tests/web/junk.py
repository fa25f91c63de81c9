"""Junk of every kind, and every field and route it can be sent to, found in the app itself: none is forgotten."""

import random
import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from html.parser import HTMLParser
from urllib.parse import quote

from fastapi import FastAPI

from mirvel.settings import PROJECT_ROOT

WEB = PROJECT_ROOT / "src/mirvel/web"
JUNK = (
    "", " ", "0", "-1", "abc", "1e1000003", "-1e-1000003", "9" * 5000, "1" + "0" * 60, "NaN", "Infinity", "-0", "0x10",
    "½", "٣", "1_000", "1,5", "42.505", "\x00", "a\x00b", "A!", "../../etc", "'; --", "%s%n", "{{7*7}}", "<script>",
    "=1+1", "\ud7ff", "\u202e", "😀" * 40, "x" * 5000, "0001-01-01", "9999-12-31", "2026-02-30", "2026-12-04T11:00",
    "2026-12-04T11:00+02:00", "0001-01-01T00:00", "9999-12-31T23:59", "e1", "e1.1", "e1.99999", "true", "null", "[]",
    "2147483647", "2147483648", "99999999999999999999", "1/0", "5 loops", "0 loops", "materials/", "#ffffff", "#fff",
)  # fmt: skip


@dataclass(frozen=True)
class Target:
    """One route and what may be put in its path."""

    method: str
    path: str
    names: tuple[str, ...]

    def fill(self, values: dict[str, str]) -> str:
        path = self.path
        for name in self.names:
            path = path.replace(f"{{{name}}}", quote(values[name], safe="") or "-")
        return path


def find_targets(app: FastAPI) -> list[Target]:
    """Every route of the app, each of its methods, from the schema only tests can have."""
    return [
        Target(method.upper(), path, tuple(re.findall(r"\{(\w+)", path)))
        for path, methods in app.openapi()["paths"].items()
        for method in methods
    ]


@dataclass
class Form:
    """A form as a page shows it."""

    method: str
    action: str
    values: dict[str, str] = field(default_factory=dict)


class _FormReader(HTMLParser):
    """Collects the forms of a page with what they hold."""

    def __init__(self) -> None:
        super().__init__()
        self.forms: list[Form] = []
        self._select = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        facts = {name: value or "" for name, value in attrs}
        if tag == "form":
            self.forms.append(Form(facts.get("method", "get").upper(), facts.get("action", "")))
        elif self.forms and tag in {"input", "textarea", "button"} and "name" in facts:
            self.forms[-1].values.setdefault(facts["name"], facts.get("value", ""))
        elif self.forms and tag == "select":
            self._select = facts.get("name", "")
            self.forms[-1].values[self._select] = ""
        elif self.forms and tag == "option" and self._select and "selected" in facts:
            self.forms[-1].values[self._select] = facts.get("value", "")


def find_forms(page: str) -> list[Form]:
    reader = _FormReader()
    reader.feed(page)
    return reader.forms


def find_fields() -> list[str]:
    """Every name a form has or a route reads."""
    found: set[str] = set()
    for file in WEB.rglob("*.html"):
        found |= set(re.findall(r"name=\"([\w-]+)\"", file.read_text("utf-8")))
    for file in WEB.rglob("*.py"):
        text = file.read_text("utf-8")
        found |= set(re.findall(r"typed(?:\.get\(|\[)\"([\w-]+)\"", text))
        found |= {f"{stem}{number}" for stem in re.findall(r"typed(?:\.get\(|\[)f\"(\w+)\{", text) for number in (0, 1)}
    return sorted(found)


def find_words() -> list[str]:
    """Words a form may carry that mean something: kinds of change, fields of a recipe or a good."""
    found: set[str] = set()
    for file in (*WEB.rglob("*.py"), *WEB.rglob("*.html")):
        found |= set(re.findall(r"[\"']([a-z][a-z_ -]{2,24})[\"']", file.read_text("utf-8")))
    return sorted(found)


def make_forms(chance: random.Random, fields: list[str], words: list[str]) -> Iterator[dict[str, str]]:
    """Forms without end: some fields, each with junk or with a word that means something."""
    while True:
        chosen = chance.sample(fields, chance.randint(0, 7))
        yield {name: chance.choice(JUNK if chance.random() < 0.7 else words) for name in chosen}
