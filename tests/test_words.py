"""What the program says: each sentence is written once, and none is of those that had to be read
twice.
"""

from __future__ import annotations

import ast
import re
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

import gale_nook

ROOT = Path(gale_nook.__file__).parent
LEAST_WORDS = 4
# seen once, and hard to read
RIDDLES = (
    "Take it in",
    "On it",
    "take off",
    "one of them",
    "left to taste",
    "gave back",
    "called tight within",
    "nearest limit",
    "a night, typed",
    "is wanted here",
    "all its",
)


def _sentences() -> Iterator[tuple[str, str]]:
    """Each sentence with its place: of the code's texts, and of the templates'."""
    for path in sorted(ROOT.rglob("*.py")):
        for text, line in _texts(ast.parse(path.read_text())):
            yield text, f"{path.relative_to(ROOT)}:{line}"
    for path in sorted(ROOT.rglob("*.html")):
        source = re.sub(r"\{#.*?#\}|<script.*?</script>", "", path.read_text(), flags=re.DOTALL)
        for found in re.finditer(r">([^<>]+)<", source):
            line = source.count("\n", 0, found.start()) + 1
            for part in re.split(r"\{%.*?%\}", found[1], flags=re.DOTALL):
                text = re.sub(r"\{\{.*?\}\}", "{}", part, flags=re.DOTALL)
                yield " ".join(text.split()), f"{path.relative_to(ROOT)}:{line}"


def _texts(tree: ast.Module) -> Iterator[tuple[str, int]]:
    """Each text of a module that a user may see: no docstring, and nothing that only a programmer's
    mistake brings up.
    """
    passed: set[int] = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
            passed.add(id(node.value))
        elif isinstance(node, ast.JoinedStr):
            passed |= {id(value) for value in node.values}
        elif isinstance(node, ast.Raise) and isinstance(node.exc, ast.Call):
            name = node.exc.func
            if isinstance(name, ast.Name) and name.id in {"ValueError", "TypeError"}:
                passed |= {id(each) for each in ast.walk(node)}
    for node in ast.walk(tree):
        if id(node) in passed:
            continue
        if isinstance(node, ast.Constant) and isinstance(node.value, str):
            yield " ".join(node.value.split()), node.lineno
        elif isinstance(node, ast.JoinedStr):
            parts = (v.value if isinstance(v, ast.Constant) else "{}" for v in node.values)
            yield " ".join("".join(map(str, parts)).split()), node.lineno


def test_no_sentence_is_written_twice() -> None:
    places: dict[str, list[str]] = defaultdict(list)
    for text, place in _sentences():
        if text.endswith(".") and len(re.findall(r"[A-Za-z]{2,}", text)) >= LEAST_WORDS:
            places[text].append(place)
    assert len(places) > 500
    assert {text: at for text, at in places.items() if len(at) > 1} == {}


def test_no_sentence_riddles() -> None:
    found = [
        (riddle, place)
        for text, place in _sentences()
        for riddle in RIDDLES
        if re.search(rf"(?<![\w-]){re.escape(riddle)}(?![\w-])", text)
    ]
    assert found == []
