"""A rig without a system: it answers from the stick over a serial line, is reset in mid-load, and its story is told."""

import os
import select
import threading
import time
from contextlib import suppress
from dataclasses import replace
from pathlib import Path

import pytest

from tenaz.benches.wire.bench import wire_bench
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import BenchKind
from tenaz.demo.ridge import ridge
from tenaz.engine.clock import RealClock
from tenaz.engine.runner import TrialRunner
from tenaz.journal.opening.opening import open_book
from tenaz.wire.ways import Serial
from tests.stick.machine import Emulated, connected
from tests.stick.parts import with_words

pytestmark = [pytest.mark.stick, pytest.mark.timeout(3600)]


def cable(machine: Emulated) -> str:
    """The machine's second serial line as a device of this one."""
    end, (ours, theirs) = connected(machine.line), os.openpty()

    def carry() -> None:
        with suppress(OSError):
            while True:
                ready, _, _ = select.select([end, ours], [], [])
                if end in ready:
                    os.write(ours, end.recv(4096))
                if ours in ready:
                    end.sendall(os.read(ours, 4096))

    threading.Thread(target=carry, daemon=True).start()
    return os.ttyname(theirs)


def test_it_answers_over_a_serial_line_and_its_reset_is_told_from_here(stick: Path, tmp_path: Path) -> None:
    machine = Emulated(with_words(stick, "tenaz.agent=ttyS1", tmp_path), tmp_path / "machine")
    opened = open_book(tmp_path / "book.db")
    try:
        rig = replace(ridge(), processor="", cores=None, memory_bytes=None, machine=None, benches=(BenchKind.WIRE,))
        opened.store.rigs.put(rig)
        bench = wire_bench(rig, None, RealClock(), "the tests", way=Serial(cable(machine)))
        deadline = time.monotonic() + 600
        while True:
            try:
                bench.loading.check(LoadPlan(LoadKind.MARCH, duration_s=5.0, size_bytes=64 * 2**20))
                break
            except Refused:
                assert time.monotonic() < deadline
                time.sleep(2)
        runner = TrialRunner(rig, bench, opened.store, RealClock(), lambda _: None)
        plan = LoadPlan(LoadKind.MARCH, duration_s=20.0, size_bytes=64 * 2**20)
        held = runner.run(runner.begin(rig.stock, plan))
        assert (held.outcome, held.elapsed_s >= 20) == (Outcome.HELD, True)
        began = runner.begin(rig.stock, replace(plan, duration_s=3600.0))

        def reset() -> None:
            while opened.store.trials.one(began.id).heartbeat is None:
                time.sleep(0.5)
            time.sleep(15)
            machine.told("system_reset")

        threading.Thread(target=reset, daemon=True).start()
        ended = runner.run(began)
        assert ended.outcome is Outcome.RESTARTED
        assert 5 < ended.elapsed_s < 120
        said = [text for _, source, text in opened.store.log.lines(rig.name) if source == "wire"]
        assert any("it began anew" in text for text in said), said
        last = opened.store.load.last_seconds_of(ended.id)
        assert last is not None
        assert {core.core for core in last.moments[-1].cores} == {0, 1}
        again = runner.run(runner.begin(rig.stock, plan))
        assert again.outcome is Outcome.HELD, "it is heard again after its start, by itself"
    finally:
        opened.close()
        machine.process.kill()
