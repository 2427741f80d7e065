"""The question path through the door of the workshop: on real rigs and simulated ones, in the book, taken back."""

import json
from collections.abc import Iterator
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

import pytest

from tenaz import orders as o
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.machine.slots import parse_slots, show_slots
from tenaz.core.parts.fitting import name_of
from tenaz.core.parts.works import PartState
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.trials.past_trials import PastTrial
from tenaz.core.trials.record_text import SeenRecord
from tenaz.demo.sled import sled
from tenaz.finding.causes import Part, Suspect
from tenaz.finding.enough import Enough
from tenaz.orders.found import order_for
from tenaz.papers.claims import claim_paper
from tenaz.papers.find_files import find_as_data
from tenaz.pictures.find.cells import draw_find
from tenaz.pictures.find.model import FindPicture
from tenaz.workshop.shop.shop import Workshop


@pytest.fixture
def workshop(book: Path) -> Iterator[Workshop]:
    opened = Workshop()
    opened.open(book)
    opened.do(o.KeepRig(sled()))
    opened.do(o.ChooseRig("sled"))
    opened.do(o.ChooseBench(BenchKind.HAND))
    yield opened
    opened.close()


def picture(workshop: Workshop) -> FindPicture:
    found = workshop.do(o.BringFinding())
    assert isinstance(found, FindPicture)
    return found


def past(workshop: Workshop, load: LoadKind, outcome: Outcome, hours: float) -> None:
    """A trial that hands made."""

    plan = LoadPlan(load, hours * 3600, share=0.9)
    at = datetime.now(UTC)
    workshop.do(o.EnterPast((PastTrial(workshop.rig.stock, plan, SeenRecord(outcome, hours * 3600), at),)))


def test_work_on_a_real_rig_is_written_down_and_later_trials_ran_on_it(workshop: Workshop) -> None:
    before = picture(workshop)
    assert "14 of 64" not in before.capacity
    told = workshop.do(o.WorkOnParts("pull A1; pull A2; pull B2"))
    assert "2260 pulled from A1" in str(told)
    assert [one.slot for one in workshop.rig.machine.modules if one.fitted] == ["B1"]  # type: ignore[union-attr]
    assert workshop.rig.memory_bytes == 16 * 2**30
    after = picture(workshop)
    assert [name_of(one) for one in after.fitting.aside] == ["2260", "2261", "2263"]
    assert [one.text for one in after.works] == ["as it came", "pull A1; pull A2; pull B2"]
    assert "full capacity not looked at" in after.capacity
    workshop.do(o.Undo())
    assert len(picture(workshop).fitting.fitted) == 4
    assert workshop.rig.memory_bytes == 64 * 2**30
    assert picture(workshop).works[-1].text == "as it came"


def test_no_module_left_and_nonsense_are_refused_and_nothing_is_changed(workshop: Workshop) -> None:
    with pytest.raises(Refused, match="a rig without memory does not start"):
        workshop.do(o.WorkOnParts("alone A1; pull A1"))
    with pytest.raises(Refused, match="no slot Z1"):
        workshop.do(o.WorkOnParts("pull Z1"))
    assert len(picture(workshop).fitting.fitted) == 4
    assert picture(workshop).works == ()


def test_modules_pulled_in_the_rigs_form_are_work_on_the_parts_too(workshop: Workshop) -> None:
    rig = workshop.rig
    assert rig.machine is not None
    typed = show_slots(rig.machine.modules).replace(
        "A2 16 GiB DDR4 LQ-16-3200, rated 3200, runs 3200, 2 ranks", "A2 empty"
    )
    modules = parse_slots(typed, rig.machine.modules)
    workshop.do(o.KeepRig(replace(rig, machine=replace(rig.machine, modules=modules))))
    found = picture(workshop)
    assert [one.slot for one in found.fitting.fitted] == ["A1", "B1", "B2"]
    assert found.works[-1].text == "typed in the rig's form"
    workshop.do(o.Undo())
    assert len(picture(workshop).fitting.fitted) == 4


def test_labels_are_kept_the_newest_counts_and_each_can_be_taken_off(workshop: Workshop) -> None:
    workshop.do(o.LabelPart("module 2262 suspect: sat crooked"))
    workshop.do(o.LabelPart("module 2262 good"))
    assert picture(workshop).label_of("module", "2262") is PartState.GOOD
    workshop.do(o.Undo())
    assert picture(workshop).label_of("module", "2262") is PartState.SUSPECT
    assert picture(workshop).label_of("module", "2260") is PartState.UNKNOWN
    workshop.do(o.LabelPart("supply VP-450 bad: hums"))
    found = picture(workshop)
    assert found.label_of("supply") is PartState.BAD
    assert found.suspects[0].suspect == Suspect(Part.SUPPLY)
    assert dict(claim_paper(found, Suspect(Part.SUPPLY), datetime.now(UTC)).identity())["which"] == "VP-450"


def test_symptoms_come_from_the_complaint_until_they_are_ticked(workshop: Workshop) -> None:
    assert [one.value for one in picture(workshop).symptoms] == ["crash"]
    workshop.do(o.TickSymptom("when-hot"))
    workshop.do(o.TickSymptom("crash"))
    assert [one.value for one in picture(workshop).symptoms] == ["when-hot"]
    workshop.do(o.TickSymptom())
    assert [one.value for one in picture(workshop).symptoms] == ["crash"]
    with pytest.raises(Refused, match="is no symptom; there are crash"):
        workshop.do(o.TickSymptom("gremlins"))


def test_trials_by_hand_move_the_suspicion_and_those_at_harder_values_do_not(workshop: Workshop) -> None:
    suspect = Suspect(Part.SUPPLY)
    before = picture(workshop).sure_of(suspect)
    past(workshop, LoadKind.PULSE, Outcome.RESTARTED, 0.1)
    past(workshop, LoadKind.PULSE, Outcome.RESTARTED, 0.1)
    after = picture(workshop)
    assert after.sure_of(suspect) + after.sure_of(Suspect(Part.BOARD)) > before
    assert after.trials == 2
    assert after.minutes >= 12
    harder = workshop.rig.stock.replacing("t_cl_nck", 14)

    plan = LoadPlan(LoadKind.MARCH, 3600.0, share=0.9)
    workshop.do(o.EnterPast((PastTrial(harder, plan, SeenRecord(Outcome.ERRED, 60.0), datetime.now(UTC)),)))
    later = picture(workshop)
    assert later.passed_over == 1
    assert later.suspects == after.suspects


def test_sleds_story_is_found_on_the_simulated_rig_and_the_sheet_names_the_module(
    workshop: Workshop, tmp_path: Path
) -> None:
    workshop.do(o.ChooseBench(BenchKind.SIM))
    workshop.do(o.SetPace(None))
    for _ in range(40):
        found = picture(workshop)
        if found.verdict.enough is not Enough.GO_ON:
            break
        workshop.do(order_for(found.acts[0]))
        workshop.running.wait()
    assert found.verdict.suspect == Suspect(Part.MODULE, "2262")
    assert found.verdict.enough in (Enough.REPLACE, Enough.CLAIM)
    assert found.minutes < 12 * 60
    drawn = draw_find(found, 110, 60).text()
    assert "what is wrong with sled?" in drawn
    assert "module 2262" in drawn
    data = find_as_data(found)
    assert json.loads(json.dumps(data))["verdict"]["which"] == "2262"

    paper = claim_paper(found, found.verdict.suspect, datetime(2026, 11, 26, tzinfo=UTC))
    for ending in ("txt", "pdf", "json"):
        paper.write(tmp_path / f"claim.{ending}")
        assert (tmp_path / f"claim.{ending}").stat().st_size > 500
    text = (tmp_path / "claim.txt").read_text()
    for words in ("LQ-16-3200", "2262", "16 GiB", "3200 MT/s", "22-22-22-52-74", "sits beside", "trial "):
        assert words in text
    told = json.loads((tmp_path / "claim.json").read_text())
    assert told["enough"].startswith("enough to ")
    assert told["to_order"]["type"] == "DDR4"
    assert told["to_order"]["ranks"] == "2"
    with pytest.raises(Refused, match="there is no part to order"):
        claim_paper(found, Suspect(Part.NOTHING), datetime.now(UTC))
    # The module is replaced, and what was shown before is of other parts.
    workshop.do(o.WorkOnParts("replace B1" if found.fitting.sitting("2262") == "B1" else "clean"))
    assert workshop.view().index.before


def test_the_book_keeps_parts_of_the_rig_apart_from_those_of_its_stand_in(workshop: Workshop, book: Path) -> None:
    workshop.do(o.WorkOnParts("pull A1"))
    workshop.close()
    again = Workshop()
    again.open(book)
    again.do(o.ChooseRig("sled"))
    again.do(o.ChooseBench(BenchKind.HAND))
    assert [one.text for one in picture(again).works] == ["as it came", "pull A1"]
    again.do(o.ChooseBench(BenchKind.SIM))
    assert picture(again).works == ()
    again.close()
