"""Lists every string a person can see, with where it stands: python scripts/visible_strings.py [core|server|web] ...

Python: string constants and the fixed parts of f-strings that read as words (not docstrings, not keys). TypeScript: the text between
tags, and string literals that read as words. To be read through from time to time, as a whole, by somebody who knows the trade.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
WHERE = {"core": "core/tightseam", "server": "server", "web": "web/src"}
SKIP = ("migrations", "schema.d.ts", "demo/")
READS_AS_WORDS = re.compile(r"[A-Za-z]{2,} [A-Za-z…]|^[A-Z][a-z]+$|^[A-Z][a-z]+[^A-Za-z_./]")
LITERAL = re.compile(r"'((?:[^'\\\n]|\\.)*)'|\"((?:[^\"\\\n]|\\.)*)\"|`((?:[^`\\]|\\.)*)`")
BETWEEN_TAGS = re.compile(r">([^<>{}=;]*[A-Za-z]{2}[^<>{}=;]*)[<{]|\}([^<>{}=;()]*[A-Za-z]{2}[^<>{}=;()]*)<")
NOT_SEEN = re.compile(r"^\s*(//|\*|/\*|import |export \* )|className=$")


def of_python(path: Path) -> Iterator[tuple[int, str]]:
    tree = ast.parse(path.read_text())
    docstrings = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef) and node.body and isinstance(node.body[0], ast.Expr)
    }
    in_f_strings = {id(v) for node in ast.walk(tree) if isinstance(node, ast.JoinedStr) for v in ast.walk(node) if v is not node}
    not_by_themselves = docstrings | in_f_strings
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            text = "".join(str(v.value) if isinstance(v, ast.Constant) else f"{{{ast.unparse(v.value)}}}" for v in node.values)  # type: ignore[attr-defined]
        elif isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in not_by_themselves:
            text = node.value
        else:
            continue
        if READS_AS_WORDS.search(text):
            yield node.lineno, text


def of_typescript(path: Path) -> Iterator[tuple[int, str]]:
    for number, line in enumerate(path.read_text().splitlines(), 1):
        if NOT_SEEN.match(line):
            continue
        bare = re.sub(r"className=(\"[^\"]*\"|\{`[^`]*`\})", "", line)
        found = ["".join(m) for m in LITERAL.findall(bare)] + ["".join(m).strip() for m in BETWEEN_TAGS.findall(bare)]
        if not LITERAL.search(bare) and not found and re.match(r"^\s+[A-Z“‘][^=;(){}]*[a-z][^=;{}]*$", line):
            found = [line.strip()]  # a line of text of its own
        for text in found:
            if READS_AS_WORDS.search(text):
                yield number, text


def main() -> None:
    for key in sys.argv[1:] or WHERE:
        for path in sorted((ROOT / WHERE[key]).rglob("*")):
            name = str(path.relative_to(ROOT))
            if any(skip in name for skip in SKIP) or path.suffix not in (".py", ".ts", ".tsx"):
                continue
            for number, text in sorted((of_python if path.suffix == ".py" else of_typescript)(path)):
                print(f"{name}:{number}: {' '.join(text.split())}")


if __name__ == "__main__":
    main()
