"""Machines that nobody here has seen, from made firmware tables: taken in, loaded, climbed by hand, reported."""

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from tenaz import orders as o
from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.ports.bench import HowLong, Ran
from tenaz.core.ports.events import Asked
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.searches.search import Advice
from tenaz.intake.new_rigs import rig_from
from tenaz.papers.reports.report import Edition, Report
from tenaz.papers.trial_files import Reading, TrialsPaper, read_trials
from tenaz.press.leaf_text import as_text
from tenaz.probe.here import read_machine
from tenaz.workshop.reports.reporting import ReportPaper
from tenaz.workshop.shop.shop import Workshop
from tests.unit.probe.builders import fastest_desktop, laptop, old_desktop

HALF_HOUR = LoadPlan(LoadKind.MARCH, duration_s=1800.0)
SOLO = LoadPlan(LoadKind.SOLO, duration_s=1800.0)

MACHINES: dict[str, tuple[Callable[[Path], Path], str, dict[str, int], str, int, int]] = {
    "an old DDR3 desktop": (
        old_desktop, "DDR3", {"data_rate_mts": 1866, "memory_vdd_mv": 1650}, "data_rate_mts", 2000, 2133,
    ),
    "the fastest DDR5 desktop": (
        fastest_desktop, "DDR5", {"data_rate_mts": 8200, "memory_vdd_mv": 1550}, "data_rate_mts", 8400, 8600,
    ),
    "a laptop with soldered memory": (
        laptop, "LPDDR5", {"data_rate_mts": 7466}, "all_cores_offset_steps", -12, -13,
    ),
}  # fmt: skip
"""Each with its memory, what it came with, the knob that is climbed, and its last value that holds and first that does
not."""


@pytest.fixture(params=MACHINES)
def strange(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[tuple[Workshop, str]]:
    workshop = Workshop()
    workshop.open(tmp_path / "book.db")
    rig = rig_from(read_machine(MACHINES[request.param][0](tmp_path / "root")), "strange", (BenchKind.HAND,))
    workshop.do(o.KeepRig(rig))
    yield workshop, request.param
    workshop.close()


def by_hand(workshop: Workshop, fails: Callable[[Setpoint], bool]) -> list[Station]:
    """A technician who enters, looks, and sees it fail where it does; gives what was asked."""
    asked = list[Station]()

    def hear(event: object) -> None:
        if not isinstance(event, Asked) or event.question is None:
            return
        if isinstance(event.question, HowLong):
            workshop.do(o.GiveAnswer(Ran(1800.0, hottest_c=71.0)))
            return
        asked.append(event.question.station)
        newest = workshop.store.trials.of("strange")[-1]
        failed = fails(newest.asked)
        answer: Move | Outcome = {
            Station.SET: Move.ENTERED,
            Station.BOOT: Move.CAME_UP,
            Station.CONFIRM: Move.CONFIRMED,
            Station.LOAD: Outcome.STOP_CODE if failed else Outcome.HELD,
        }[event.question.station]
        workshop.do(o.GiveAnswer(answer))

    workshop.publish_to(hear)
    return asked


def test_from_intake_to_report(strange: tuple[Workshop, str], tmp_path: Path) -> None:
    workshop, which = strange
    _, family, stock, climbed, holds, fails_at = MACHINES[which]
    rig = workshop.rig
    assert rig.family == family
    assert {name: rig.stock[name] for name in stock} == stock
    rig.check(rig.stock)
    assert {"core_ratio", "core_voltage_mv", "load_line_step", "graphics_core_offset_mhz"} <= {
        k.name for k in rig.knobs
    }
    assert f"ratio_{rig.cores}_busy" in {knob.name for knob in rig.knobs}

    knob = rig.knob(climbed)
    asked = by_hand(workshop, lambda at: knob.strain(at.number(climbed)) >= knob.strain(fails_at))
    load = HALF_HOUR if knob.domain == "memory" else SOLO
    workshop.do(o.StartTrial(rig.stock, load))
    workshop.running.wait()
    assert workshop.trials()[-1].verdict is Verdict.PASS
    assert asked == [Station.BOOT, Station.CONFIRM, Station.LOAD], "nothing was to be entered"
    asked.clear()
    workshop.do(o.BeginSearch((climbed,), rig.stock, load, "as far as it goes", "stride", steps=o.Steps()))
    workshop.running.wait()
    view = workshop.view()
    assert isinstance(view.searches.pictures[climbed].advice, Advice)
    assert (view.searches.pictures[climbed].bracket.held, view.searches.pictures[climbed].bracket.failed) == (
        holds, fails_at,
    )  # fmt: skip
    failed = next(one for one in workshop.trials() if one.outcome is Outcome.STOP_CODE)
    assert failed.facts.hottest is not None
    assert failed.facts.hottest.peak == 71.0
    per_trial = len(asked) / len(workshop.trials()[1:])
    assert per_trial <= 4

    trials = tuple((one, workshop.rig) for one in workshop.trials())
    TrialsPaper(trials).write(tmp_path / "all.csv")
    reading = Reading({}, workshop.rig, workshop.rig.stock, load)
    again = read_trials(tmp_path / "all.csv", reading).trials
    assert [one.setpoint for one in again] == [one.setpoint for one, _ in trials]
    made = workshop.do(o.MakeReport(None))
    assert isinstance(made, Report)
    told = as_text(ReportPaper(made, Edition.SHELF).leaf)
    assert "code" not in as_text(ReportPaper(made, Edition.CLIENT).leaf)
    assert all(words in told for words in (rig.processor, "71"))
    client = " ".join(as_text(ReportPaper(made, Edition.CLIENT).leaf).split())
    assert "as it was told to us; its results were not checked by our own programs" in client
    assert "result checked" not in client
