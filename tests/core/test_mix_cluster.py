"""A sweep on a cluster of this machine: what one process finds, also where a worker is lost in the middle; and who is not listened to."""

from __future__ import annotations

import os
import signal

import pytest
from tightseam.document.errors import BadRequest
from tightseam.mix import executors
from tightseam.mix.cluster import Cluster
from tightseam.mix.sweep import sweep

from tests.head import Head

FEW = ("smile", "blink_L", "jaw_open", "pucker", "brows_up")


@pytest.fixture(scope="module")
def few(rigged) -> Head:
    return rigged["hob"].with_controls(FEW)


def test_a_worker_that_is_lost_in_the_middle_costs_nothing_but_time(few, monkeypatch):
    from distributed import LocalCluster

    monkeypatch.setattr(executors, "AT_ONCE", 4)  # many chunks
    alone = sweep(few.character, few.store)
    with LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None) as cluster:
        pids = [worker.process.process.pid for worker in cluster.workers.values()]
        kept = []

        def keep(results) -> None:
            kept.extend(results)
            if len(pids) == 2 and len(kept) > len(alone.cells) / 2:
                os.kill(pids.pop(), signal.SIGKILL)

        assert sweep(few.character, few.store, cluster=cluster.scheduler_address, keep=keep) == alone
    assert len(pids) == 1


@pytest.mark.parametrize("address", ["tcp://10.1.2.3:8786", "studio.local:8786", "8.8.8.8:8786"])
def test_nothing_goes_over_the_net_in_clear_text(address):
    with pytest.raises(BadRequest, match="tls://"):
        Cluster(address, b"")


def test_where_no_cluster_answers_it_is_said(monkeypatch):
    monkeypatch.setattr("tightseam.mix.cluster.PATIENCE", 1)
    with pytest.raises(BadRequest, match="No cluster answers"):
        Cluster("tcp://127.0.0.1:9", b"")
