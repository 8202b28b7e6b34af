"""Repairs of random faults: what makes anything worse says so before it is done. Judged by gauges of this test's own."""

from __future__ import annotations

import os

import numpy as np
import pytest
from tightseam.document.lookup import polygons
from tightseam.geometry.adjacency import edges
from tightseam.tryout.stations import FINDINGS
from tightseam.tryout.tried import tried

from tests import cast
from tests.core.rig_faults import planted
from tests.head import Head, grown, repaired, step_of

FAULTS = int(os.environ.get("TIGHT_SEAM_FAULTS", "3"))  # on each head
MOST = 0.02  # mm that a seam may get worse unsaid
MOST_STRETCH = 0.05  # of its length that the worst edge of a part may become longer unsaid
EACH = 2  # findings of a fault whose repairs are looked at


@pytest.mark.parametrize("number", range(FAULTS))
@pytest.mark.parametrize("who", cast.NAMES)
def test_a_repair_of_a_random_fault_leaves_nothing_worse_or_says_so(who, number):
    rng = np.random.default_rng([cast.NAMES.index(who), number])
    said, head = planted(cast.clean(who), rng)
    stretched = stretch_of(head)
    for finding in [f for find in FINDINGS.values() for f in find(head.character, head.store) if f.repairs][:EACH]:
        out = tried(head.character, head.store, step_of(finding))
        now = repaired(head, finding)
        worse = [*worse_seams(head, now), *(p for p, s in stretch_of(now).items() if s - stretched.get(p, s) > MOST_STRETCH)]
        assert not worse or out.harms, (said, finding.title, finding.repairs[0].edit, worse)


def worse_seams(before: Head, after: Head) -> list[tuple[str, str, float]]:
    """Seams over their limits that got worse, with pose and mm."""
    was = {(pose, r.seam): r for pose, row in before.readings().items() for r in row}
    found = []
    for pose, row in after.readings().items():
        for now in row:
            then = was.get((pose, now.seam))
            if then is not None and now.excess > max(1.0, then.excess) and grown(then, now) > MOST:
                found.append((pose, now.seam, round(grown(then, now), 3)))
    return found


def stretch_of(head: Head) -> dict[str, float]:
    """By how much of its length the worst edge of each part is longer than at rest, over the poses of the strip."""
    rest = head.evaluator.meshes.rest
    ends = {p.name: edges(polygons(head.store, p), p.vertex_count).ends for p in head.character.parts}
    found = dict.fromkeys(ends, 0.0)
    for pose in head.character.poses:
        points = head.evaluator.points(head.values(pose.values))
        for name, (a, b) in ((n, e.T) for n, e in ends.items()):
            rows = head.evaluator.meshes.rows(name)
            lengths = [np.linalg.norm(x[rows][a] - x[rows][b], axis=1) for x in (points, rest)]
            found[name] = max(found[name], float((lengths[0] / np.maximum(lengths[1], 0.02)).max()) - 1)
    return found
