"""The pages of docs/ quote what stands on screen: a label in italics that begins with a capital is a label of the application."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
PAGES = ["binding", "checkin", "controls", "jaw", "landmarks", "lids", "shapes", "weights"]
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
