"""Print every text that a person reads, with its place: to be read as one list.

Templates (pages, papers, mails), sentences of Python (forms, errors, messages) and of the scripts of the page.
Words that only join others are left out; docstrings and comments are not read by those who use the product.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from html.parser import HTMLParser
from pathlib import Path
from typing import Final, NamedTuple

SOURCE: Final = Path(__file__).resolve().parents[1]
TEMPLATES: Final = SOURCE / "web" / "templates"
SCRIPTS: Final = SOURCE / "web" / "static" / "js"
NOT_READ: Final = (
    "ops",
    "migrations",
    "settings.py",
    "wsgi.py",
    "simulated",
)  # operators and machines read these
READ_ATTRIBUTES: Final = ("title", "aria-label", "placeholder", "alt", "label")
_TAG: Final = re.compile(r"\{%.*?%\}|\{#.*?#\}", re.DOTALL)
_VALUE: Final = re.compile(r"\{\{\s*(.*?)\s*\}\}", re.DOTALL)
_WORD: Final = re.compile(r"[A-Za-z]{2,}")
_STRING: Final = re.compile(r'"((?:[^"\\\n]|\\.)*)"|`((?:[^`\\]|\\.)*)`')


class Text(NamedTuple):
    """A text and where it stands."""

    place: str
    text: str


def texts() -> Iterator[Text]:
    """All of them, file by file."""
    for file in sorted(TEMPLATES.rglob("*.*")):
        yield from _of_template(file)
    for file in sorted(SOURCE.rglob("*.py")):
        if not any(part in file.parts for part in NOT_READ):
            yield from _of_python(file)
    for file in sorted(SCRIPTS.glob("*.js")):
        yield from _of_script(file)


class _Reader(HTMLParser):
    """Collects what is shown or read aloud of a template."""

    def __init__(self) -> None:
        super().__init__()
        self.found: list[tuple[int, str]] = []
        self._is_shown = True

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self._is_shown = tag not in ("script", "style")
        line = self.getpos()[0]
        self.found += [(line, value) for name, value in attrs if name in READ_ATTRIBUTES and value]

    def handle_endtag(self, tag: str) -> None:
        self._is_shown = True

    def handle_data(self, data: str) -> None:
        if self._is_shown:
            self.found.append((self.getpos()[0], data))


def _of_template(file: Path) -> Iterator[Text]:
    reader = _Reader()
    kept = _TAG.sub(lambda tag: "\n" * tag[0].count("\n"), file.read_text())
    reader.feed(_VALUE.sub(lambda value: f"⟨{value[1].partition('|')[0]}⟩".replace('"', "'"), kept))
    for line, text in reader.found:
        yield from _told(file, line, text)


def _of_python(file: Path) -> Iterator[Text]:
    tree = ast.parse(file.read_text())
    silent = {id(part) for node in ast.walk(tree) for part in _docstring(node)}
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            silent |= {id(part) for part in ast.walk(node) if part is not node}
            yield from _sentence(file, node.lineno, _joined(node))
        elif isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in silent:
            yield from _sentence(file, node.lineno, node.value)


def _docstring(node: ast.AST) -> Iterator[ast.AST]:
    body = getattr(node, "body", None)
    if isinstance(body, list):
        yield from (each.value for each in body if isinstance(each, ast.Expr))


def _joined(node: ast.JoinedStr) -> str:
    return "".join(
        str(part.value) if isinstance(part, ast.Constant) else f"⟨{ast.unparse(part).strip('{}f')}⟩"
        for part in node.values
    )


def _of_script(file: Path) -> Iterator[Text]:
    for number, line in enumerate(file.read_text().splitlines(), 1):
        if not line.lstrip().startswith(("//", "*", "/*", "import")):
            for found in _STRING.finditer(line):
                yield from _sentence(file, number, found[1] or found[2] or "")


def _sentence(file: Path, line: int, text: str) -> Iterator[Text]:
    """Of a program's strings those that are sentences: keys, names and addresses have no space."""
    if " " in text.strip() and not re.search(r"[<>{}=_]|\bSELECT\b|%s", text):
        yield from _told(file, line, text)


def _told(file: Path, line: int, text: str) -> Iterator[Text]:
    plain = " ".join(text.split())
    if _WORD.search(re.sub(r"⟨.*?⟩", "", plain)):
        yield Text(f"{file.relative_to(SOURCE)}:{line}", plain)


def main() -> None:
    """Print them; with words given, those that hold one."""
    wanted = [word.lower() for word in sys.argv[1:]]
    for each in texts():
        if not wanted or any(word in each.text.lower() for word in wanted):
            print(f"{each.place}: {each.text}")


if __name__ == "__main__":
    main()
