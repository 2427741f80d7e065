"""Set, restart, confirm, load, judge with no hand on it: a controller owns the machine, an agent answers from it."""

import os
import select
import threading
import time
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import replace
from pathlib import Path

import pytest

from tenaz.benches.wire.bench import wire_bench
from tenaz.benches.wire.stations import AcrossTheWire
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.door_map import Mapped
from tenaz.core.rigs.offers import Kind, Offer, Raw
from tenaz.core.rigs.rig import BenchKind
from tenaz.demo.ridge import ridge
from tenaz.doors.redfish.door import RedfishDoor
from tenaz.doors.redfish.service import Service
from tenaz.doors.redfish.stand_in.server import StandIn
from tenaz.engine.clock import RealClock
from tenaz.engine.runner import TrialRunner
from tenaz.journal.opening.opening import open_book
from tenaz.wire.ways import Serial
from tenaz.workshop.bench.through_doors import through
from tests.stick.machine import Emulated, connected
from tests.stick.parts import with_words

pytestmark = [pytest.mark.stick, pytest.mark.timeout(3600)]

NO_START_FROM = 6400


class Owned:
    """A machine that its controller starts: the firmware tells the data rate that was set; from some rate on it does
    not come up.
    """

    def __init__(self, stick: Path, folder: Path) -> None:
        self._stick, self._folder = stick, folder
        self.rate, self._number = 0, 0
        self._machine: Emulated | None = None
        self._ours, self._theirs = os.openpty()
        self.device = os.ttyname(self._theirs)

    def offers(self) -> tuple[Offer, ...]:
        choices = ("4800", "5600", "6000", "6400")
        return (Offer("MemSpeed", "Memory speed", Kind.CHOICE, str(self.rate), choices=choices),)

    def defaults(self) -> Mapping[str, Raw]:
        return {"MemSpeed": "4800"}

    def start(self, values: Mapping[str, Raw]) -> bool:
        self.off()
        rate = int(values["MemSpeed"])
        if rate >= NO_START_FROM:
            return False
        self.rate, self._number = rate, self._number + 1
        folder = self._folder / str(self._number)
        machine = self._machine = Emulated(self._stick, folder, more=("-smbios", f"type=17,speed={rate}"))
        threading.Thread(target=self._cable, args=(machine,), daemon=True).start()
        return True

    def _cable(self, machine: Emulated) -> None:
        end = connected(machine.line)
        with suppress(OSError):
            while machine is self._machine:
                ready, _, _ = select.select([end, self._ours], [], [], 0.5)
                if end in ready:
                    data = end.recv(4096)
                    if not data:
                        return
                    os.write(self._ours, data)
                if self._ours in ready and machine is self._machine:
                    end.sendall(os.read(self._ours, 4096))

    def off(self) -> None:
        if self._machine is not None:
            self._machine.process.kill()
            self._machine.process.wait()
            self._machine = None


def test_stock_a_changed_value_and_one_that_does_not_come_up(stick: Path, tmp_path: Path) -> None:
    owned = Owned(with_words(stick, "tenaz.agent=ttyS1", tmp_path), tmp_path)
    owned.start(owned.defaults())
    opened = open_book(tmp_path / "book.db")
    words = tuple((rate, str(rate)) for rate in (4800, 5600, 6000, 6400))
    rig = replace(
        ridge(), processor="", cores=None, memory_bytes=None, machine=None, benches=(BenchKind.WIRE,), door="redfish x",
        door_map=(Mapped("data_rate_mts", "MemSpeed", words=words),),
    )  # fmt: skip
    opened.store.rigs.put(rig)
    plan = LoadPlan(LoadKind.MARCH, laps=2, size_bytes=32 * 2**20)
    with StandIn(owned) as service:
        door = RedfishDoor(Service(service.address, service.user, service.password))
        bench = wire_bench(rig, None, RealClock(), "the tests", way=Serial(owned.device))
        stations = bench.setting
        assert isinstance(stations, AcrossTheWire)
        bench = through(bench, rig, door, stations.boot, stations.expect_restart)
        assert stations.boot().detail.startswith("it answers after")
        runner = TrialRunner(rig, bench, opened.store, RealClock(), lambda _: None)
        began = time.monotonic()
        told = []
        for rate in (4800, 6000, 6400, 5600):
            trial = runner.run(runner.begin(rig.stock.replacing("data_rate_mts", rate), plan))
            told.append((rate, trial.outcome, trial.setpoint["data_rate_mts"], trial.source_of("data_rate_mts").value))
        print(f"\n{time.monotonic() - began:.0f} s: {told}")
        held = Outcome.HELD
        assert [one[:3] for one in told] == [
            (4800, held, 4800), (6000, held, 6000), (6400, Outcome.NO_BOOT, 6400), (5600, held, 5600),
        ]  # fmt: skip
        bench.leave()
    owned.off()
    opened.close()
