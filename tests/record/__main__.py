"""Takes the record anew, in as many processes as there are processors."""

from __future__ import annotations

from concurrent.futures import ProcessPoolExecutor

from tightseam.deform.backend import load_compiled

from tests.record import store
from tests.record.script import SCRIPTS, outcomes
from tests.record.taken import HEADS, driven, findings, head_of, points, readings


def record_head(name: str) -> None:
    load_compiled()
    head = head_of(name)
    store.write(name, "findings", findings(name))
    if head.character.poses:
        by_driver = dict(driven(head))
        store.write_points(name, {driver: points(changed) for driver, changed in by_driver.items()})
        store.write(name, "readings", {driver: readings(changed, driver) for driver, changed in by_driver.items()})


def record_script(name: str) -> None:
    load_compiled()
    store.write(name, "edits", outcomes(name))


if __name__ == "__main__":
    store.DATA.mkdir(exist_ok=True)
    with ProcessPoolExecutor() as pool:
        list(pool.map(record_head, HEADS))
        list(pool.map(record_script, SCRIPTS))
