"""Simulated rigs through the door of the workshop: they live on with the book, are worked on, and tell at the end."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from tenaz import orders as o
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import BenchKind
from tenaz.demo.sled import sled
from tenaz.workshop.shop.shop import Workshop

MARCH = LoadPlan(LoadKind.MARCH, duration_s=8 * 3600.0, share=0.9)
RETAIN = LoadPlan(LoadKind.RETAIN, duration_s=8 * 3600.0, share=0.9)


@pytest.fixture
def workshop(book: Path) -> Iterator[Workshop]:
    opened = Workshop()
    opened.open(book)
    opened.do(o.KeepRig(sled()))
    opened.do(o.ChooseRig("sled"))
    yield opened
    opened.close()


def run(workshop: Workshop, plan: LoadPlan) -> Outcome | None:
    workshop.do(o.StartTrial(workshop.rig.stock, plan))
    workshop.running.wait()
    return workshop.trials()[-1].outcome


def test_a_simulated_night_is_a_night_in_the_book_and_the_machine_lives_on(workshop: Workshop, book: Path) -> None:
    run(workshop, MARCH)
    run(workshop, RETAIN)
    first, second = workshop.trials()
    ran_s = first.elapsed_s
    assert (second.begun_utc - first.begun_utc).total_seconds() == pytest.approx(ran_s + 20, abs=100)
    state = workshop.store.machines.of("sled")
    assert state is not None
    assert state.load_h == pytest.approx((first.elapsed_s + second.elapsed_s) / 3600)
    workshop.close()
    again = Workshop()
    again.open(book)
    kept = again.store.machines.of("sled")
    assert kept == state
    again.close()


def test_sleds_bad_module_is_found_by_pulling_and_the_answer_is_judged(workshop: Workshop) -> None:
    assert run(workshop, RETAIN) is not Outcome.HELD
    assert workshop.do(o.WorkOnParts("pull B1")) == "module 2262 pulled from B1 (4 min)"
    assert [run(workshop, plan) for plan in (RETAIN, MARCH, RETAIN)] == [Outcome.HELD] * 3
    fitted = [trial.fitted for trial in workshop.trials()]
    assert "2262" in fitted[0]
    assert "2262" not in fitted[-1], "evidence belongs to the parts that were in the rig"
    told = str(workshop.do(o.Reveal("the module that was in B1")))
    assert "fault: weak-region 2262: cells of a module that forget too soon" in told
    assert "the firmware makes multiples of 20 mV of fabric, without a word" in told
    assert "the firmware shows read, other rank as taken, and ignores it" in told
    assert "is right" in told
    assert "is wrong" in str(workshop.do(o.Reveal("the supply")))
    assert any("the answer was told" in line for _, _, line in workshop.store.log.lines("sled"))


def test_faults_on_request_are_for_simulated_rigs_only(workshop: Workshop) -> None:
    told = workshop.do(o.SetFaults(("bad-row A1", "dusty-cooler x2")))
    assert "bad-row 2260: a row of a module" in str(told)
    assert run(workshop, MARCH) is not Outcome.HELD
    assert workshop.do(o.SetFaults(())) == "no part is faulty"
    with pytest.raises(Refused, match="no module sits in Z1"):
        workshop.do(o.SetFaults(("bad-row Z1",)))
    workshop.do(o.ChooseBench(BenchKind.HAND))
    with pytest.raises(Refused, match="sled on bench hand is real: your own hands make parts faulty"):
        workshop.do(o.SetFaults(("bad-row A1",)))


def test_rigs_are_drawn_from_kinds_and_a_name_is_taken_once(workshop: Workshop) -> None:
    assert "drawn-3 added: margins drift over the day" in str(
        workshop.do(o.NewSimulated(kind="drifting", seed=3, name="drawn-3"))
    )
    assert (workshop.rig.name, workshop.rig.seed, workshop.rig.owner) == ("drawn-3", 3, "")
    state = workshop.store.machines.of("drawn-3")
    assert state is not None
    assert state.population.name == "drifting"
    with pytest.raises(Refused, match="has a rig 'sled' already"):
        workshop.do(o.NewSimulated("sled"))
    workshop.do(o.NewSimulated("ridge", seed=9))
    assert workshop.rig.name == "ridge-9"
    told = str(workshop.do(o.Reveal()))
    assert "no part of it is faulty" in told
    assert "what is set now is safe, and nothing was shown at it" in told
    assert "of speed left along the data rate" in told
