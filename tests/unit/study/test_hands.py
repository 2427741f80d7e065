"""Whoever does the work of a study, the same comes back; what would not be the same is refused."""

import os
import signal
import time
from functools import partial
from typing import Any

import pytest

from tenaz.core.base.errors import Refused
from tenaz.study import hands as module
from tenaz.study.hands import LOCAL, hands, working_on
from tenaz.study.many.groups import Kind, unpicked

distributed: Any = pytest.importorskip("distributed")


def slowly(seed: int) -> float:
    time.sleep(0.05)
    return 1.0 / (3 + seed)


def on(address: str, work: Any, count: int, chunk: int) -> list[Any]:
    with working_on(address), hands() as many:
        return list(many.map(work, range(count), chunk=chunk))


def test_the_same_comes_back_to_the_bit_also_when_a_worker_is_killed() -> None:
    work = partial(unpicked, next(iter(Kind)), 12, 0.1)
    mine = on("", work, 24, 4)
    with distributed.LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None) as cluster:
        assert on(cluster.scheduler_address, work, 24, 4) == mine
        with working_on(cluster.scheduler_address), hands() as many:
            going = many.map(slowly, range(60), chunk=2)
            found = [next(going)]
            os.kill(next(iter(cluster.workers.values())).pid, signal.SIGKILL)
            found += going
        assert found == [slowly(seed) for seed in range(60)]


def test_a_cluster_that_is_none_or_holds_something_else_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    with pytest.raises(Refused, match="does not answer"):
        on("tcp://127.0.0.1:1", slowly, 1, 1)
    empty = distributed.LocalCluster(n_workers=0, dashboard_address=None)
    with empty as cluster, pytest.raises(Refused, match="has no workers yet"):
        on(cluster.scheduler_address, slowly, 1, 1)
    real = module.what_works

    def another() -> dict[str, str]:
        return {**real(), "Tenaz": "0.1"}

    class Client:
        def run(self, _: Any) -> dict[str, dict[str, str]]:
            return {"tcp://attic:1": another()}

    with pytest.raises(Refused, match=r"The worker tcp://attic:1 would play another study: Tenaz is 0\.1 there"):
        module._see_that_they_are_alike(Client(), LOCAL)
