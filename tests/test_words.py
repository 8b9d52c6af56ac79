"""What is shown and printed is said as the US trade says it: no banned word in any string of the product, its help, its catalogue, its
README and its command line, nor on any sheet of the shipped jobs."""

from __future__ import annotations

import ast
import re
import tomllib
from collections.abc import Iterator
from pathlib import Path

import pytest
from golden_text import DEMOS, demo, paper_lines, plan_lines

from robust_ledger.plan import plan

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src" / "robust_ledger"
WORDS = tomllib.loads((Path(__file__).parent / "banned_words.toml").read_text("utf-8"))["word"]


def strings(path: Path) -> Iterator[str]:
    """Every string of a module that somebody may read: no docstrings, no keys and ids."""
    tree = ast.parse(path.read_text("utf-8"))
    documented = (ast.Module, ast.ClassDef, ast.FunctionDef)
    docs = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, documented) and node.body and isinstance(node.body[0], ast.Expr)
    }
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            yield "".join(part.value if isinstance(part, ast.Constant) else "{}" for part in node.values)
        elif (
            isinstance(node, ast.Constant)
            and isinstance(node.value, str)
            and id(node) not in docs
            and not is_key(node.value)
        ):
            yield node.value


def is_key(text: str) -> bool:
    """Whether it is a name for the program and not for people: one word in small letters with signs between, or a pattern."""
    return bool(re.fullmatch(r"[a-z0-9_.:/-]+", text)) or ("|" in text and "(?" in text)


def found(text: str) -> list[str]:
    return [
        f'"{match[0]}" in "{text[:90]}": say {word["say"]}'
        for word in WORDS
        if (match := re.search(word["pattern"], text, re.I))
        and not ("except" in word and re.search(word["except"], text, re.I))
    ]


def test_no_module_says_a_banned_word():
    # What upgrades an old job has to know how it was written; what reads a line understands every spelling.
    spared = {"upgrades.py", "words.py", "vocabulary.py"}
    said = [
        f"{path.name}: {one}"
        for path in SOURCE.rglob("*.py")
        if path.name not in spared
        for text in strings(path)
        for one in found(text)
    ]
    assert not said, "\n".join(said)


@pytest.mark.parametrize("pattern", ["assets/help/*.md", "survey/*.toml", "panel/*.toml"])
def test_no_help_page_and_no_catalogue_says_a_banned_word(pattern):
    said = [
        f"{path.name}: {one}"
        for path in SOURCE.glob(pattern)
        for line in path.read_text("utf-8").splitlines()
        for one in found(line)
    ]
    assert not said, "\n".join(said)


def test_the_readme_and_the_documents_say_no_banned_word():
    for path in (ROOT / "README.md", *(ROOT / "docs").glob("*.md")):
        said = [one for line in path.read_text("utf-8").splitlines() for one in found(line)]
        assert not said, f"{path.name}: " + "\n".join(said)


@pytest.mark.parametrize("name", DEMOS)
def test_nothing_worked_out_or_printed_for_a_shipped_job_says_a_banned_word(qapp, name):
    made = plan(demo(name))
    lines = [line for line in (*plan_lines(made), *paper_lines(made)) if not line.startswith("<")]
    said = [
        one
        for line in lines
        for one in found(re.sub(r"\[[^\]]*\]|@\S+|\"(?:id|field|place|kind)\": \"[^\"]*\"", "", line))
    ]
    assert not said, "\n".join(said[:20])


def test_the_list_finds_what_it_is_for():
    """Each pattern fires on the word it bans and lets the trade's own pass."""
    assert all(
        found(text)
        for text in ("Aluminium", "20 %", "to earth 4 Cu", "not told", "electrode conductor", "the other school")
    )
    assert not any(
        found(text)
        for text in ("aluminum", "20%", "in contact with the earth", "main bonding jumper", "Breaker handles add up")
    )
