"""Whole days at the workshop, without a screen."""

from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path
from xml.etree import ElementTree as Xml

import pytest

from tenaz import orders as o
from tenaz.core.base.errors import Refused
from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.evidence.bracket import Bracket
from tenaz.core.loads.plan import CacheLevel, LoadKind, LoadPlan
from tenaz.core.ports.bench import HowLong, Ran
from tenaz.core.ports.events import Asked, RunEnded
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.searches.search import Advice, Proposal
from tenaz.core.sensors.guard import Alarm
from tenaz.core.sensors.telemetry import SensorKind
from tenaz.core.trials.record_text import parse_record
from tenaz.demo.ridge import ridge
from tenaz.pictures.drawing.marks import mark_of
from tenaz.workshop.errands.demo_book import make_demo_book
from tenaz.workshop.shop.shop import Workshop
from tests.doors.truth import truth_of

HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600.0)
SHORT = LoadPlan(LoadKind.TRANSFORM, duration_s=1.5, level=CacheLevel.L1)


@pytest.fixture
def workshop(book: Path) -> Iterator[Workshop]:
    opened = Workshop()
    opened.open(book)
    opened.do(o.ChooseRig("ridge"))
    yield opened
    opened.close()


def answering(workshop: Workshop, *answers: Move | Outcome) -> list[RunEnded]:
    """Answer the run's questions in turn; gives where its end will be told."""
    left, ended = list(answers), []

    def hear(event: object) -> None:
        if isinstance(event, Asked) and isinstance(event.question, HowLong):
            workshop.do(o.GiveAnswer(Ran(event.question.suggested_s)))
        elif isinstance(event, Asked) and event.question is not None:
            workshop.do(o.GiveAnswer(left.pop(0)))
        elif isinstance(event, RunEnded):
            ended.append(event)

    workshop.publish_to(hear)
    return ended


def climb(workshop: Workshop, seed: int) -> None:
    workshop.store.rigs.put(ridge(seed))
    workshop.do(o.ChooseRig("ridge"))
    workshop.do(o.BeginSearch(("data-rate",), workshop.rig.stock, HOUR, steps=o.Steps(), strategy="stride"))
    workshop.running.wait()


def test_the_edge_on_the_page_is_what_the_rig_hides(tmp_path: Path) -> None:
    agreed = 0
    for seed in range(5):
        workshop = Workshop()
        workshop.open(tmp_path / f"{seed}.db")
        workshop.do(o.ChooseRig("ridge"))
        climb(workshop, seed)
        view = workshop.view()
        workshop.close()
        picture = view.searches.pictures["data_rate_mts"]
        assert isinstance(picture.advice, Advice)
        assert picture.edge is not None
        knob = picture.knob
        hidden = truth_of(view.rig).edge(view.rig.stock, knob, view.rig.purpose.tolerance.rate_per_h)
        agreed += picture.edge.low <= hidden <= picture.edge.high
        assert picture.stand is not None
        assert knob.strain(picture.stand) <= hidden, "what is advised is truly tolerated"
        assert picture.edge.high - picture.edge.low < 8, "an interval that covers everything covers nothing"
    assert agreed >= 4, "of five; make study plays hundreds"


def test_a_climb_goes_on_where_the_book_left_it_and_a_correction_takes_a_step_back(
    workshop: Workshop, book: Path
) -> None:
    plan = workshop.do(o.BeginSearch(("data_rate_mts",), workshop.rig.stock, HOUR, strategy="stride"))
    for _ in range(3):
        workshop.do(o.GoOn(o.Steps(one=True)))
        workshop.running.wait()
    standing = workshop.view().searches.standing
    assert isinstance(standing, Proposal)
    assert (standing.setpoint["data_rate_mts"], standing.reason) == (5400, "5200 MT/s held: one step further")
    with pytest.raises(Refused, match="what its own load verified"):
        workshop.do(o.Undo())
    assert workshop.view().now.unfinished is None
    workshop.do(o.Correct(workshop.trials()[-1].id, parse_record("froze 20m"), {}))
    workshop.close()
    reopened = Workshop()
    reopened.open(book)
    stands = reopened.view().searches.standing
    assert isinstance(stands, Proposal)
    assert stands.setpoint["data_rate_mts"] == 5000
    assert stands.reason == "5200 MT/s failed: step back, and show that this holds more than once"
    assert reopened.view().searches.going == plan
    reopened.do(o.EndSearch())
    assert reopened.view().searches.going is None
    reopened.close()


def test_a_trial_on_the_climbs_line_counts_for_it(workshop: Workshop) -> None:
    plan = workshop.do(o.BeginSearch(("data_rate_mts",), workshop.rig.stock, HOUR, strategy="stride"))
    workshop.do(o.StartTrial(workshop.rig.stock.replacing("data_rate_mts", 7600), HOUR))
    workshop.running.wait()
    workshop.do(o.StartTrial(workshop.rig.stock.replacing("t_cl_nck", 38), HOUR))
    workshop.running.wait()
    first, second = workshop.trials()
    assert (first.search_id, second.search_id) == (plan.id, None)
    assert workshop.view().searches.pictures["data_rate_mts"].bracket.failed == 7600


def test_by_hand_the_rig_itself_has_its_own_history(workshop: Workshop) -> None:
    climb(workshop, 1)
    simulated = len(workshop.trials())
    workshop.do(o.ChooseBench())
    assert (workshop.bench, workshop.trials(), workshop.in_force()) == (BenchKind.HAND, (), workshop.rig.stock)
    ended = answering(workshop, Move.ENTERED, Move.CAME_UP_RETRAINED, Move.CONFIRMED, Outcome.RESTARTED)
    workshop.do(o.StartTrial(workshop.rig.stock.replacing("data_rate_mts", 6000), HOUR))
    workshop.running.wait()
    assert ended == [RunEnded()]
    (trial,) = workshop.trials()
    assert trial.number == simulated + 1
    assert trial.outcome is Outcome.RESTARTED
    workshop.do(o.NoteTrial(trial.id, "  the fan header again  "))
    assert workshop.trials()[0].note == "the fan header again"
    with pytest.raises(Refused, match="cannot be reached on bench here; it has: sim, hand"):
        workshop.do(o.ChooseBench(BenchKind.HERE))


@pytest.mark.xdist_group("loading")
def test_a_trial_on_this_machine_goes_on_after_the_restart_that_its_sheet_asked_for(
    workshop: Workshop, monkeypatch: pytest.MonkeyPatch
) -> None:
    workshop.do(o.ChooseRig("this machine"))
    ended = answering(workshop, Move.CONFIRMED)
    sheet = workshop.rig.stock.replacing("data_rate_mts", 5600)
    begun = workshop.store.trials.begin(workshop.rig, BenchKind.HERE, sheet, SHORT, _OtherBoot())
    assert workshop.view().now.unfinished == begun
    workshop.do(o.TakeUp(begun.id))
    workshop.running.wait()
    assert ended == [RunEnded()]
    (trial,) = workshop.trials()
    assert (trial.station, trial.outcome) == (Station.CLOSED, Outcome.HELD)
    assert any("restarted since" in text for _, _, text in workshop.store.log.lines("this machine"))


class _OtherBoot:
    """The clock before the restart."""

    def __init__(self) -> None:
        from tenaz.engine.clock import RealClock  # noqa: PLC0415

        self._clock = RealClock()
        self.monotonic_s, self.utc = self._clock.monotonic_s, self._clock.utc

    def boot_id(self) -> str:
        return "the boot before"


def begin(knob: str, **values: int) -> Callable[[Workshop], object]:
    def order(workshop: Workshop) -> object:
        base = workshop.rig.stock
        for name, value in values.items():
            base = base.replacing(name, value)
        return workshop.do(o.BeginSearch((knob,), base, HOUR, strategy="stride"))

    return order


def try_at(load: LoadPlan = HOUR, **values: int) -> Callable[[Workshop], object]:
    def order(workshop: Workshop) -> object:
        setpoint = workshop.rig.stock
        for name, value in values.items():
            setpoint = setpoint.replacing(name, value)
        return workshop.do(o.StartTrial(setpoint, load))

    return order


REFUSALS: tuple[tuple[Callable[[Workshop], object], str], ...] = (
    (begin("data_rate_mts", data_rate_mts=7600), "no step left"),
    (begin("fan"), "has no knob 'fan'"),
    (lambda w: w.do(o.BeginSearch(("data_rate_mts",), w.rig.stock, HOUR, strategy="luck")), "no strategy here"),
    (try_at(data_rate_mts=4900), "not on its grid"),
    (try_at(memory_vdd_mv=1400), "type a reason"),
    (try_at(replace(HOUR, duration_s=0.0)), "above zero"),
    (lambda w: w.do(o.Undo()), "no record on ridge to undo"),
    (lambda w: w.do(o.GoOn()), "No climb is under way on ridge"),
    (lambda w: w.do(o.ChooseRig("hut")), "no rig 'hut'; it has: this machine, ridge"),
    (lambda w: w.do(o.CorrectGrid("fabric_mv", (900,))), "its stock value must stay"),
)


@pytest.mark.parametrize(("order", "words"), REFUSALS, ids=[words for _, words in REFUSALS])
def test_what_cannot_be_done_is_refused_and_leaves_no_trace(
    workshop: Workshop, order: Callable[[Workshop], object], words: str
) -> None:
    with pytest.raises(Refused, match=words):
        order(workshop)
    assert workshop.trials() == ()
    assert not workshop.at.runs


def test_a_reason_lets_a_climb_pass_the_advised_ceiling(workshop: Workshop) -> None:
    base = workshop.rig.stock.replacing("data_rate_mts", 7600)
    workshop.do(
        o.BeginSearch(("data_rate_mts",), base, HOUR, reason="short, with a fan on the modules", strategy="stride")
    )
    assert workshop.view().searches.pictures["data_rate_mts"].limit == 8000


def test_every_trial_keeps_what_there_was_to_see_of_it_screen_or_not(workshop: Workshop) -> None:
    climb(workshop, ridge().seed)
    trials = workshop.trials()
    assert len(trials) > 5
    for trial in trials:
        kept = workshop.store.load.snapshot(trial.id)
        assert kept is not None
        text, svg = kept
        assert f"trial {trial.number}: {mark_of(trial.outcome).sign} {trial.outcome}" in text
        assert ("core 11" in text) == (trial.outcome is not Outcome.NO_BOOT)
        assert "chance of the edge" in text, "the climb as it stood then"
        assert Xml.fromstring(svg).tag.endswith("svg")


def test_a_past_load_comes_back_with_its_workers_curves_and_events(workshop: Workshop) -> None:
    climb(workshop, ridge().seed)
    erred = next(trial for trial in workshop.trials() if trial.outcome is Outcome.ERRED)
    known = workshop.do(o.BringLoad(erred.id))
    assert sum(lane.errors for lane in known.lanes) == erred.errors > 0
    assert [said.alarm for said in known.said] == [Alarm.WRONG_VALUE] * erred.errors
    assert known.said[0].at_s == pytest.approx(erred.failed_after_s)
    assert {sensor.kind for sensor in known.series} >= {SensorKind.TEMPERATURE, SensorKind.CLOCK}


def test_the_demo_is_a_climb_half_done(book: Path) -> None:
    make_demo_book(book)
    workshop = Workshop()
    workshop.open(book)
    view = workshop.view()
    workshop.close()
    assert (view.rig.name, view.bench, view.now.unfinished) == ("ridge", BenchKind.SIM, None)
    assert isinstance(view.searches.standing, Proposal)
    assert [trial.outcome for trial in view.trials].count(Outcome.HELD) >= 5
    assert view.searches.pictures["data_rate_mts"].bracket.failed == 7000
    assert any(trial.note for trial in view.trials)


def test_a_firmware_that_rounds_silently_is_caught_and_its_grid_corrected(workshop: Workshop) -> None:
    asked = workshop.rig.stock.replacing("fabric_mv", 890)
    workshop.do(o.BeginSearch(("fabric_mv",), workshop.rig.stock, HOUR, steps=o.Steps(), strategy="stride"))
    workshop.running.wait()
    view, last = workshop.view(), workshop.trials()[-1]
    assert (last.verdict, last.asked, last.setpoint["fabric_mv"]) == (Verdict.VOID, asked, 880)
    assert view.index.at(asked) == (), "nothing counts for a setpoint that it did not run at"
    assert view.in_force["fabric_mv"] == 880
    assert [one.differs_in_words for one in view.now.differing] == ["fabric was to be 890 mV, reads 880 mV"]
    assert workshop.do(o.CorrectGrid("fabric_mv", (890,))) == "890 mV taken off the grid of fabric"
    assert workshop.view().now.differing == ()
    workshop.do(o.GoOn(o.Steps(one=True)))
    workshop.running.wait()
    assert workshop.trials()[-1].asked["fabric_mv"] == 880


def test_trials_made_before_a_search_count_for_it_whoever_made_them(workshop: Workshop) -> None:
    for rate in (4800, 5000, 7600):
        workshop.do(o.StartTrial(workshop.rig.stock.replacing("data_rate_mts", rate), HOUR))
        workshop.running.wait()
    workshop.do(o.BeginSearch(("data_rate_mts",), workshop.rig.stock, HOUR, strategy="stride"))
    view = workshop.view()
    assert isinstance(view.searches.standing, Proposal)
    assert view.searches.standing.setpoint["data_rate_mts"] == 5200
    assert view.searches.pictures["data_rate_mts"].bracket == Bracket(5000, 7600)
