"""The pages of docs/ quote what stands on screen: a label in italics that begins with a capital is a label of the application."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
PAGES = ["binding", "checkin", "controls", "handoff", "jaw", "landmarks", "lids", "mix", "shapes", "weights"]
QUOTED = re.compile(r"(?<![*\w])\*([A-Z][^*\n]{2,60})\*(?!\*)")


def sources() -> str:
    """What can put words on the screen: the core and the web, whitespace evened out."""
    files = [
        *(ROOT / "web" / "src").rglob("*.ts*"),
        *(ROOT / "core" / "tightseam").rglob("*.py"),
        *(ROOT / "core" / "tightseam").rglob("*.json"),
    ]
    return " ".join(" ".join(f.read_text().split()) for f in files if f.name != "schema.d.ts")


@pytest.mark.parametrize("page", PAGES)
def test_every_label_that_a_page_quotes_is_one_of_the_application(page):
    text, words = (ROOT / "docs" / f"{page}.md").read_text(), sources()
    quoted = set(QUOTED.findall(text))
    assert len(quoted) > 3
    assert [q for q in sorted(quoted) if not all(stands_in(words, piece) for piece in pieces(q))] == []


def pieces(label: str) -> list[str]:
    """A label without what is filled in: a number or a name, and the side."""
    return [p.strip() for p in re.sub(r" [LR]$", "", label).split("…") if p.strip()]


def stands_in(words: str, piece: str) -> bool:
    return re.search(rf"(?<!\w){re.escape(piece)}(?!\w)", words) is not None


def test_the_files_that_the_page_on_how_it_is_built_names_are_there():
    page = (ROOT / "docs" / "architecture.md").read_text()
    named = set(re.findall(r"`((?:core|server|web|docs|tests)/[\w./-]+)`", page))
    assert len(named) > 30
    assert [name for name in named if not (ROOT / name).exists()] == []
    drawn = set(re.findall(r"\b((?:stage|stations)/[\w/]+\.tsx?)\b", page.split("```")[1]))
    assert [name for name in drawn if not (ROOT / "web" / "src" / name).exists()] == []
    assert page.count("\n| ") - 1 == 20  # twenty questions and the head of the table
