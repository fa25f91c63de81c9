"""The structure as docs/architecture.md states it, and documents that keep up with the code."""

import ast
import doctest
import re
from importlib import import_module
from pathlib import Path

import pytest

from mirvel.settings import PROJECT_ROOT, Settings

SOURCE = PROJECT_ROOT / "src/mirvel"
DOCS = PROJECT_ROOT / "docs"
ROOMS = sorted(path.name for path in SOURCE.iterdir() if path.is_dir() and not path.name.startswith("_"))
ALLOWED = {
    "core": set[str](),
    "drawing": {"core"},
    "exchange": {"core"},
    "cli": {"core", "demo", "drawing", "exchange"},
    "store": {"core"},
    "demo": {"core", "store"},
    "devices": {"core"},
    "web": {"core", "devices", "drawing", "exchange", "store"},
}
# The rooms of the core, each with those it may import; docs/architecture.md says what each answers.
CORE = {
    "values": set[str](),
    "space": set[str](),
    "goods": {"values"},
    "buying": {"values", "goods"},
    "house": {"values", "goods"},
    "vessels": {"space", "goods"},
    "forms": {"values", "space", "goods", "house", "vessels"},
    "recipe": {"values", "goods", "house", "forms"},
    "pricing": {"values", "goods", "house", "recipe"},
    "placing": {"values", "space", "goods", "house", "vessels", "forms", "recipe"},
    "making": {"values", "space", "goods", "house", "vessels", "forms", "recipe", "placing"},
    "judging": {"values", "space", "goods", "house", "vessels", "forms", "recipe", "pricing", "placing", "making"},
    "working": {"goods", "house", "recipe", "pricing", "making", "judging"},
    "mending": {"values", "goods", "vessels", "recipe", "pricing", "making", "changing", "judging", "working"},
    "spoiling": {"space", "goods", "house", "forms", "recipe", "pricing", "placing", "making", "judging"},
    "trying": {"recipe", "making", "changing", "judging", "working"},
    "publishing": {"values", "goods", "house", "recipe", "judging", "working"},
    "card": {
        "values",
        "space",
        "goods",
        "house",
        "vessels",
        "forms",
        "recipe",
        "pricing",
        "placing",
        "making",
        "judging",
        "working",
    },
    "changing": {"values", "space", "goods", "house", "forms", "recipe", "placing", "making"},
    "fit": {"values", "goods", "house", "forms", "recipe", "pricing", "placing", "making", "changing"},
}
OUTSIDE_THE_CORE = {
    "fastapi", "starlette", "jinja2", "sqlalchemy", "psycopg", "alembic", "uvicorn", "httpx", "structlog", "os", "io",
    "pathlib", "time", "random", "secrets", "socket", "subprocess", "sys", "tempfile", "urllib", "locale",
}  # fmt: skip


def find_imports(file: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(file.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom):
            assert node.level == 0, f"{file}: relative import"
            found |= {f"{node.module}.{alias.name}" for alias in node.names} | {node.module or ""}
    return found


def test_every_room_imports_only_what_it_may() -> None:
    assert set(ROOMS) == set(ALLOWED)
    for room, allowed in ALLOWED.items():
        for file in (SOURCE / room).rglob("*.py"):
            rooms = {name.split(".")[1] for name in find_imports(file) if name.startswith("mirvel.")}
            own = {"settings", "logs", "__version__"} if room == "web" else set()
            assert rooms <= allowed | own | {room}, f"{file} imports {rooms - allowed - {room}}"


def test_every_room_of_the_core_imports_just_what_it_says() -> None:
    imported: dict[str, set[str]] = {}
    for file in (SOURCE / "core").rglob("*.py"):
        room = file.relative_to(SOURCE / "core").parts[0].removesuffix(".py")
        names = {name.split(".")[2] for name in find_imports(file) if name.startswith("mirvel.core.")}
        imported[room] = imported.get(room, set()) | (names - {room})
    assert not imported.pop("__init__")
    assert imported == CORE


def get_floor(room: str) -> int:
    return 1 + max((get_floor(other) for other in CORE[room]), default=0)


def test_the_architecture_page_shows_every_room_of_the_core_on_its_floor() -> None:
    page = (DOCS / "architecture.md").read_text("utf-8")
    for room, allowed in CORE.items():
        row = re.search(rf"^\| `{room}(?:/|\.py)` \|[^|]*\|([^|]*)\|", page, re.MULTILINE)
        assert row, room
        assert set(re.findall(r"`(\w+)`", row[1])) == allowed, room
    shown = {
        int(floor): set(re.findall(r"[a-z]+", rooms))
        for floor, rooms in re.findall(r"^ *(\d+) │(.*)│$", page, re.MULTILINE)
    }
    assert shown == {floor: {room for room in CORE if get_floor(room) == floor} for floor in shown}
    assert set().union(*shown.values()) == set(CORE)


def test_the_core_and_drawing_know_no_world_outside() -> None:
    for room in ("core", "drawing"):
        for file in (SOURCE / room).rglob("*.py"):
            assert not {name.split(".")[0] for name in find_imports(file)} & OUTSIDE_THE_CORE, file
            assert not re.search(r"\.(today|now|utcnow)\(", file.read_text("utf-8")), f"{file} reads a clock"
            assert not re.search(r"\bopen\(|\bprint\(", file.read_text("utf-8")), file


def test_only_the_core_names_money_places_and_markups() -> None:
    """Routes, templates and scripts never compute a price or a cut: no arithmetic on them there."""
    for file in [*(SOURCE / "web").rglob("*.html"), *(SOURCE / "web").rglob("*.py")]:
        if file.name in {"templates.py"}:
            continue
        text = file.read_text("utf-8")
        assert not re.search(r"(?:money|cost|price|cut|spent|flower_money)\w*\s*[*/]\s*[\d(\w]", text), file


def test_the_architecture_page_names_every_room_and_its_arrows() -> None:
    page = (DOCS / "architecture.md").read_text("utf-8")
    for room, allowed in ALLOWED.items():
        row = re.search(rf"^\| `{room}/` \|[^|]*\|([^|]*)\|", page, re.MULTILINE)
        assert row, room
        assert set(re.findall(r"`(\w+)`", row[1])) == allowed, room


def test_files_named_in_documents_are_there() -> None:
    for page in DOCS.glob("*.md"):
        for name in re.findall(r"`((?:core|drawing|web|store)/[\w/]+\.(?:py|js|html))`", page.read_text("utf-8")):
            assert (SOURCE / name).is_file(), f"{page.name} names {name}"


def test_every_source_that_is_cited_is_listed_and_every_one_listed_is_cited() -> None:
    page = (DOCS / "sources.md").read_text("utf-8")
    listed = set(re.findall(r"^\| `([a-z0-9-]+)` \|", page, re.MULTILINE))
    files = [*SOURCE.rglob("*.py"), *(PROJECT_ROOT / "tests").rglob("*.py")]
    cited = {
        key for file in files for key in re.findall(r"\bsource:\s+(?!str\b)([a-z0-9-]+)\b", file.read_text("utf-8"))
    }
    assert cited == listed


@pytest.mark.parametrize("room", ["core", "drawing", "exchange", "web"])
def test_examples_in_docstrings_are_true(room: str) -> None:
    tried = 0
    for file in sorted((SOURCE / room).rglob("*.py")):
        if ">>> " not in file.read_text("utf-8"):
            continue
        name = ".".join(file.relative_to(SOURCE.parent).with_suffix("").parts)
        found = doctest.testmod(import_module(name.removesuffix(".__init__")))
        assert not found.failed, name
        tried += found.attempted
    assert tried or room == "web"


def test_settings_commands_and_keys_are_documented() -> None:
    settings, readme = (path.read_text("utf-8") for path in (DOCS / "settings.md", PROJECT_ROOT / "README.md"))
    for name, field in Settings.model_fields.items():
        assert f"`MIRVEL_{name.upper()}`" in settings
        assert field.description
        assert field.description in settings
    usage = (PROJECT_ROOT / "run").read_text("utf-8").split("TEXT")[1]
    for command in re.findall(r"^  (\w+) ", usage, re.MULTILINE):
        assert f"./run {command}" in readme
    for shot in (DOCS / "screenshots").iterdir():
        assert f"docs/screenshots/{shot.name}" in readme


@pytest.mark.parametrize(
    "page",
    [
        "README.md",
        "docs/architecture.md",
        "docs/settings.md",
        "docs/recipe-file.md",
        "docs/price-lists.md",
        "docs/price-feed.md",
        "docs/sources.md",
        "CHANGELOG.md",
    ],
)
def test_links_in_documents_lead_somewhere(page: str) -> None:
    file = PROJECT_ROOT / page
    for target in re.findall(r"\]\(([^)#]+)\)", file.read_text("utf-8")):
        assert (file.parent / target).exists(), target


def test_requirements_are_pinned_with_hashes_and_name_no_host() -> None:
    text = (PROJECT_ROOT / "requirements.txt").read_text("utf-8")
    pinned = re.findall(r"^([a-z0-9-]+)==", text, re.MULTILINE)
    wanted = re.findall(r"^([a-z0-9-]+)", (PROJECT_ROOT / "requirements.in").read_text("utf-8"), re.MULTILINE)
    assert set(wanted) <= set(pinned)
    assert text.count("--hash=sha256:") >= len(pinned)
    assert "://" not in text
