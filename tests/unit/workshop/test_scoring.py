"""Measured at the workshop: as it runs, in turn, typed in; and what became of it in the book."""

import xml.etree.ElementTree as Xml
from collections.abc import Iterator
from pathlib import Path

import pytest

from tenaz import orders as o
from tenaz.core.base.errors import Refused
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.scores.gains import Worth
from tenaz.core.scores.measure import MeasurePlan
from tenaz.core.scores.own_figures import parse_own
from tenaz.demo.ridge import ridge
from tenaz.journal.kept.measures import NEVER_ENDED
from tenaz.pictures.scores.cells import draw_scores
from tenaz.pictures.scores.model import ScoresPicture
from tenaz.workshop.shop.shop import Workshop

MINUTE = LoadPlan(LoadKind.MARCH, duration_s=60.0)


@pytest.fixture
def workshop(book: Path) -> Iterator[Workshop]:
    opened = Workshop()
    opened.open(book)
    opened.store.rigs.put(ridge(7))
    opened.do(o.ChooseRig("ridge"))
    yield opened
    opened.close()


def set_to(workshop: Workshop, knob: str, value: int) -> None:
    workshop.do(o.StartTrial(workshop.in_force().replacing(knob, value), MINUTE, "a reason"))
    workshop.running.wait()


def scores(workshop: Workshop, before: str = "stock") -> ScoresPicture:
    came = workshop.do(o.BringScores(before))
    assert isinstance(came, ScoresPicture)
    return came


def test_in_turn_it_is_told_what_pays_and_what_does_not(workshop: Workshop) -> None:
    set_to(workshop, "data_rate_mts", 5400)
    faster = workshop.in_force()
    workshop.do(o.MeasureInTurn("stock"))
    workshop.running.wait()
    assert workshop.in_force() == faster, "it ends where it stood"
    trials = workshop.trials()[-4:]
    assert [trial.setpoint == faster for trial in trials] == [True, False, False, True]
    measures = workshop.store.measures.of("ridge", BenchKind.SIM)
    assert [one.after_trial for one in measures] == [trial.number for trial in trials]
    found = scores(workshop)
    assert found.comparison is not None
    assert found.comparison.worth is Worth.PAYS
    read = next(one for one in found.comparison.gains if one.figure.name == "read, 256 MiB, all cores")
    assert read.in_turn
    assert 0.04 < read.low < read.high < 0.2
    assert "a watt" in found.per_watt[1]
    assert "against stock" in found.per_watt[1]
    assert any("memory: its bus" in line for line in found.limits)
    told = draw_scores(found, 100, 60).text()
    assert "PAYS" in told
    assert "├" in told
    assert "latency, ns" in told
    # A value that moves nothing that is measured holds, and is told to be dropped.
    set_to(workshop, "memory_vpp_mv", 1820)
    workshop.do(o.MeasureInTurn("1"))
    workshop.running.wait()
    for _ in range(4):
        workshop.do(o.MeasureInTurn("1", rounds=2))
        workshop.running.wait()
        if scores(workshop, "trial 1").comparison.worth is not Worth.TOO_NOISY:  # type: ignore[union-attr]
            break
    assert scores(workshop, "trial 1").comparison.worth is Worth.DOES_NOT  # type: ignore[union-attr]


def test_a_measure_is_in_the_book_before_it_begins_and_undo_takes_it_out(workshop: Workshop) -> None:
    begun = workshop.store.measures.begin("ridge", BenchKind.SIM, workshop.in_force(), workshop.at.clock)
    assert workshop.store.measures.of("ridge", BenchKind.SIM)[-1].why == NEVER_ENDED
    assert scores(workshop).unfinished == (f"measure {begun.number}: {NEVER_ENDED}",)
    workshop.do(o.Measure(MeasurePlan(only=("latency",)), watts=123.0))
    workshop.running.wait()
    found = scores(workshop)
    assert {one.figure.what.split(" ")[0] for one in found.newest} == {"latency"}
    assert workshop.store.measures.of("ridge", BenchKind.SIM)[-1].circumstances.by_meter
    assert workshop.next_back() == "measure 2"
    workshop.do(o.Undo())
    assert not scores(workshop).newest
    for order in (o.Measure(watts=-1.0), o.MeasureInTurn("stock"), o.MeasureInTurn("nowhere")):
        with pytest.raises(Refused):
            workshop.do(order)
    workshop.do(o.Measure(MeasurePlan(only=("sorting",))))
    workshop.running.wait()
    assert len(workshop.store.measures.of("ridge", BenchKind.SIM)) == 1, "what measured nothing leaves nothing"


def test_figures_of_ones_own_on_a_rig_that_stands_beside(workshop: Workshop, tmp_path: Path) -> None:
    workshop.do(o.ChooseBench(BenchKind.HAND))
    with pytest.raises(Refused, match="type your own"):
        workshop.do(o.Measure())
    hostile = "=render\x1b[2J <b>&"
    workshop.do(o.KeepOwn(parse_own(f"{hostile} 41.2 41.0 s")))
    told = draw_scores(scores(workshop), 100, 40)
    assert "\x1b" not in told.text()
    from tenaz.pictures.drawing.cells_svg import cells_to_svg  # noqa: PLC0415

    Xml.fromstring(cells_to_svg(told, "scores"))
