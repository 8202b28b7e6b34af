"""Run every benchmark and print one line each. Targets are those of the design; a miss is said and changes no exit status."""

from __future__ import annotations

from tightseam.deform.backend import load_compiled
from tightseam.document.arrays import MemoryStore

from benchmarks import brush, contact, correctives, dragging, editing, first_picture, frame, intake, jaw, jobs, lids, mix, serving, weights
from benchmarks.heads import clean_maren, heavy_head


def main() -> None:
    load_compiled()
    store = MemoryStore()
    maren = clean_maren(store)
    middle, large = heavy_head(maren, store, 1), heavy_head(maren, store, 2)
    rows = [*frame.run("12k head", middle, store, 5.0), *frame.run("48k head", large, store, 4.5)]
    rows += serving.run("12k head", middle, store)
    rows += [*intake.run("Maren", maren, store, 1.0, 1.0), *intake.run("48k head", large, store, 4.0, 3.0)]
    rows += [*editing.opening("Maren", maren, store), *editing.opening("48k head", large, store)]
    rows += [*editing.strokes("12k head", middle, store), *editing.strokes("48k head", large, store)]
    rows += [*jobs.run("Maren", maren, store), *dragging.run(), *first_picture.run()]
    rows += [*brush.run("12k head", middle, store), *brush.run("48k head", large, store), *brush.edits("12k head", middle, store)]
    rows += [*mix.run("Maren", mix.with_starter_set(maren, store), store, 0.25), *mix.run("12k head", lids.lidded_head(store), store, 0.33)]
    rows += [*mix.processes(maren, store), *correctives.run()]
    rows += [*weights.run("12k head", middle, store), *weights.run("48k head", large, store)]
    rows += [
        *lids.run(store),
        *jaw.run(store),
        *contact.run("Maren", maren, store),
        *contact.gazes("Maren", maren, store),
        *contact.run("12k head", lids.lidded_head(store), store),
        *contact.run("48k head", lids.lidded_head(store, 2), store, larger=5.4),
    ]
    for row in rows:
        print(row)
    print("\n".join(weights.compare(maren, store)))
    growth = rows[2].ours / rows[0].ours
    print(f"{'ok  ' if growth <= 4.6 else 'MISS'} growth of the frame from 12k to 48k: {growth:.2f}x   reach <= 4.6x")


if __name__ == "__main__":
    main()
