"""Keys of the question path: shown, pointed at, worked on, labelled, ticked, followed, claimed."""

from dataclasses import replace
from types import SimpleNamespace

import pytest

from tenaz import orders as o
from tenaz.advice.finding import next_found
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.rig import BenchKind
from tenaz.demo.ridge import ridge
from tenaz.demo.sled import sled
from tenaz.finding.causes import Part, Suspect
from tenaz.finding.enough import Diagnosis, Enough
from tenaz.finding.next_acts import next_acts
from tenaz.finding.reasons import reasons
from tenaz.finding.rescue import Rescue
from tenaz.finding.verdicts import verdict
from tenaz.orders.found import order_for
from tenaz.pictures.find.cells import draw_find
from tenaz.pictures.find.model import FindPicture, Suspicion
from tenaz.tui.pages.find import FindPage
from tenaz.tui.prompts.find import label_prompt, parts_prompt, symptom_prompt
from tenaz.tui.session.session import Session
from tenaz.tui.session.workspace import Workspace
from tests.make import Recorded, changed
from tests.unit.finding.known import FOUR_SLOTS, LANES, after, belief, failed
from tests.unit.finding.test_path import ALONE_41
from tests.unit.tui.test_controllers import hands, session, view, work

__all__ = ["hands", "session", "view", "work"]


def found(name: str = "ridge", simulated: bool = True) -> FindPicture:
    rig = replace(ridge(), name=name)
    pulled = after(FOUR_SLOTS, "pull B2")
    judged = belief(failed(FOUR_SLOTS, LoadKind.MARCH, 0.3, LANES, number=1))
    suspects = tuple(Suspicion(one, sure, reasons(judged, one)) for one, sure in judged.suspects[:8])
    acts = next_acts(judged, pulled)[:5]
    seen = judged.known.sightings
    return FindPicture(rig, pulled, (), suspects, verdict(judged), acts, trials=1, sightings=seen, simulated=simulated)


def shown(session: Session, hands: Recorded, picture: FindPicture | None = None) -> None:
    """The path came, and is in sight."""
    session.order("show_page", "find")
    hands.came(o.BringFinding, picture or found())
    assert hands.work.pages.of(FindPage).path.picture is not None


def test_the_path_is_fetched_once_and_stands_beside_the_facts(
    session: Session, hands: Recorded, work: Workspace
) -> None:
    shown(session, hands)
    assert [one for one in hands.orders if isinstance(one, o.BringFinding)] == [o.BringFinding()]
    drawn = work.pages.shown.drawing(work)(100, 40).text()
    assert "what is wrong with ridge?" in drawn
    session.order("show_page", "rig")
    assert "processor" in work.pages.shown.drawing(work)(100, 40).text()
    session.order("show_page", "find")
    assert hands.orders.count(o.BringFinding()) == 1
    session.take_view(changed(work.view, change=work.view.marks.change + 1))
    assert hands.orders.count(o.BringFinding()) == 2


def test_what_comes_of_another_rig_or_bench_comes_too_late(session: Session, hands: Recorded, work: Workspace) -> None:
    session.order("show_page", "find")
    hands.came(o.BringFinding, found("other"))
    hands.came(o.BringFinding, found(simulated=False))
    assert work.pages.of(FindPage).path.picture is None


def test_parts_are_pointed_at_worked_on_and_labelled(session: Session, hands: Recorded, work: Workspace) -> None:
    shown(session, hands)
    session.order("point_at", 1)
    session.order("point_at", 1)
    assert work.pages.of(FindPage).path.pointed == Suspect(Part.SLOT, "A2")
    drawn = work.pages.shown.drawing(work)(100, 40).text()
    assert "╔ A2" in drawn
    assert "module 41: A2 in trial 1 (1 failed)" in drawn
    assert work.pages.of(FindPage).path.act_for_pointed() == "pull A2"
    hands.answers = ["pull A2", "module 41 bad"]
    session.order("work_on_parts")
    session.order("label_part")
    assert hands.orders[-2:] == [o.WorkOnParts("pull A2"), o.LabelPart("module 41 bad")]
    session.order("point_at", -1)
    assert work.pages.of(FindPage).path.act_for_pointed() == "fit 42 A1"
    things = work.pages.of(FindPage).path.picture.things if work.pages.of(FindPage).path.picture else ()
    core, cooler, supply = Suspect(Part.CORE, "3"), Suspect(Part.COOLER), Suspect(Part.SUPPLY)
    for place, typed in ((core, "off 3"), (cooler, "clean"), (supply, "supply")):
        session.pick("page", "part", things.index(place))
        assert work.pages.of(FindPage).path.act_for_pointed() == typed


def test_a_click_on_a_module_and_then_on_a_slot_moves_it(session: Session, hands: Recorded, work: Workspace) -> None:
    shown(session, hands)
    session.pick("page", "part", 1)
    hands.answers = ["move A2 B1"]
    session.pick("page", "part", 2)
    assert hands.orders[-1] == o.WorkOnParts("move A2 B1")
    cells = draw_find(found(), 100, 40)
    assert cells.target_at(14, 5) == ("part", 0)


def test_symptoms_are_ticked_and_read_anew(session: Session, hands: Recorded, work: Workspace) -> None:
    hands.answers = ["crash", "anew"]
    session.order("tick_symptom")
    session.order("tick_symptom")
    assert hands.orders[-2:] == [o.TickSymptom("crash"), o.TickSymptom("")]


def test_enter_follows_the_path_and_a_real_rig_is_worked_on_first(
    session: Session, hands: Recorded, work: Workspace
) -> None:
    picture = found()
    shown(session, hands, picture)
    work.coming = next_found(picture, True)
    assert isinstance(work.coming.order, o.FollowFound)
    session.order("follow_next")
    assert order_for(picture.acts[0]) in hands.orders
    assert work.busy
    work.busy = False
    work.view = changed(work.view, bench=BenchKind.HAND)
    worked = next(act for act in picture.acts if act.work)
    hands.answers = [None, worked.work]
    for _ in range(2):
        work.coming = replace(work.coming, order=order_for(worked))
        session.order("follow_next")
    assert order_for(worked) in hands.orders


def test_the_sheet_to_order_by_is_of_the_part_pointed_at(session: Session, hands: Recorded, work: Workspace) -> None:
    session.order("write_claim")
    assert "Nothing was worked out yet" in hands.trouble
    shown(session, hands)
    session.pick("page", "part", 1)
    hands.answers = ["claim.pdf"]
    session.order("write_claim")
    written = hands.orders[-1]
    assert isinstance(written, o.WritePaper)
    assert written.paper.suspect == Suspect(Part.MODULE, "41")  # type: ignore[attr-defined]


@pytest.mark.parametrize(
    ("enough", "suspect", "headline"),
    [
        (Enough.CLAIM, Suspect(Part.MODULE, "41"), "claim: module 41"),
        (Enough.WORK_AROUND, Suspect(Part.CORE, "2"), "work around: core 2"),
        (Enough.HAND_BACK, Suspect(Part.NOTHING), "hand back: nothing that is looked at"),
    ],
)
def test_a_verdict_is_what_comes_next(enough: Enough, suspect: Suspect, headline: str) -> None:
    said = next_found(replace(found(), verdict=Diagnosis(enough, suspect, 0.995, "")), True)
    assert said.headline == headline
    assert said.order is None
    assert next_found(found(), False).headline == "being worked out …"


def test_a_rig_that_is_set_too_hard_is_rescued_by_a_retreat(session: Session, hands: Recorded, work: Workspace) -> None:
    hard = Diagnosis(Enough.WORK_AROUND, Suspect(Part.SETTING), 0.99, "")
    rescue = Rescue("data_rate_mts", work.view.rig.stock, LoadKind.MARCH)
    work.coming = next_found(replace(found(), verdict=hard, rescue=rescue), True)
    assert isinstance(work.coming.order, o.BeginSearch)
    session.order("follow_next")
    begun = hands.orders[-1]
    assert isinstance(begun, o.BeginSearch)
    assert (begun.knobs, begun.strategy) == (("data_rate_mts",), "retreat")


@pytest.mark.parametrize("size", [(30, 8), (78, 14), (100, 40), (158, 20)])
def test_the_path_is_drawn_in_any_room_and_something_tells_of_what_is_beneath(size: tuple[int, int]) -> None:
    cells = draw_find(found(), *size)
    assert len(cells.rows()) == size[1]
    if size[1] > 20:
        assert "what tells most a minute" in cells.text()


def test_what_is_asked_is_checked_before_it_is_taken(view: object) -> None:
    del view
    rig = sled()
    for prompt, wrong in ((label_prompt("module 41 "), "module 41"), (symptom_prompt(rig), "gremlins")):
        assert prompt._trouble(wrong)
    seen = SimpleNamespace(rig=rig, bench=BenchKind.HAND)
    prompt = parts_prompt(seen, ALONE_41)  # type: ignore[arg-type]
    assert "there is no slot Z1" in prompt._trouble("pull Z1")
    assert prompt._trouble("fit 42 B2") == ""
