"""The real interface, played by keys."""

import re
import time
from pathlib import Path

import psutil
import pytest

from tenaz.core.base.outcomes import Outcome
from tenaz.core.trials.trial import Trial
from tenaz.demo.ridge import ridge
from tenaz.journal.opening.opening import open_book
from tenaz.pictures.drawing.marks import mark_of
from tenaz.tui.base.menus import MENUS, PAGE, path_of
from tenaz.tui.base.typed_ahead import BURST_S
from tenaz.tui.pages.strip import PAGES
from tests.doors.truth import truth_of
from tests.patience import PATIENCE_S
from tests.terminal.screen import Screen, tenaz

pytestmark = pytest.mark.terminal


def test_set_start_fail_record_undo_quit_reopen(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("r›b").until("ridge on hand")
        screen.press("6").until("data rate, now 4800 MT/s")
        screen.type("000")
        screen.until("4800 → 6000 MT/s")
        screen.press("d›f").until("which knob")
        screen.type("tcl").until_gone("which knob")
        screen.press("Left", "Left").until("40 → 36 nCK")
        screen.press("t").until("This moves 2 knobs at once")
        screen.press("Enter").until("move one thing at a time")
        screen.type("known from the other one").until(r"about 1h.* of ridge: 1h under load")
        screen.agree().until("Enter these values in the firmware of ridge")
        assert "▸ data rate     6000 MT/s   was 4800" in screen.text
        screen.until("0 of 2 typed in")
        screen.press("Space").until("1 of 2 typed in")
        screen.press("Space", "BSpace", "Space").until("2 of 2 typed in")
        screen.press("y").until("Did ridge come up")
        screen.press("a").until("read back as asked")
        screen.press("y").until("What did you see")
        screen.press("f").until("froze: how long did march run")
        screen.press("Enter").until(r"trial 1: froze \(fail\)")
        screen.until("FAILED HERE")
        screen.press("u").until("Trial 1 on ridge has no record")
        screen.press("r").until("restarted: how long did march run")
        screen.type("").until(r"trial 1: restarted \(fail\), as explained afterwards")
        screen.press("b›n").until("note on trial 1")
        screen.type("fan header loose")
        screen.until("trial 1: fan header loose")
        screen.press("q").until("LEFT WITH 0")
    with tenaz(book) as screen:
        screen.until("ridge on hand")
        screen.until("trial 1: fan header loose")
        screen.press("?").until("the page day")
    opened = open_book(book, read_only=True)
    (trial,) = opened.store.trials.of("ridge")
    opened.close()
    assert (trial.outcome, trial.note) == (Outcome.RESTARTED, "fan header loose")
    moved = {change.knob: change.after for change in trial.setpoint.changes_from(ridge().stock)}
    assert (moved, trial.reason) == ({"data_rate_mts": 6000, "t_cl_nck": 36}, "known from the other one")


def test_a_whole_climb_by_keys_alone_and_its_export(book: Path, tmp_path: Path) -> None:
    with tenaz(book) as screen:
        screen.press("e›p", "e›p", "e›p").until("pace: in a moment")
        screen.press("p›t", "c").until("climb of data rate done")
        assert re.fullmatch(r"Tenaz: ridge, trial \d+: held", screen.title)
        shown = screen.until(r"edge (\d+) to (\d+) MT/s \(95%\)")
        stand = screen.until(r"back off to (\d+) MT/s: [\d.]+% sure of at most 1 failure in 2,000 h")
        screen.until(r"data rate \d+ MT/s is tested: march \d+ of 8 h, transform 4 of 4 h")
        low, high = map(int, shown.groups())
        screen.press("Tab").until("hours between errors: tested ≥ .* model")
        screen.press("BTab").until("chance of the edge")
        screen.press("b›h").until("look at which climb")
        screen.type("77").until("'77' is none of its climbs; there are: 1")
        screen.press("C-u")
        screen.type("1").until_gone("look at which climb")
        screen.press("o›x").until("export the climb")
        screen.press("C-u").until_gone("ridge-data_rate_mts.svg")
        screen.type(str(tmp_path / "climb.gif")).until("'climb.gif' cannot be exported")
        screen.press("C-u").until_gone("/climb.gif")
        screen.type(str(tmp_path / "climb.pdf")).until("written")
    assert (tmp_path / "climb.pdf").read_bytes().startswith(b"%PDF")
    opened = open_book(book, read_only=True)
    rig = opened.store.rigs.one("ridge")
    opened.close()
    knob = rig.knobs[0]
    edge = truth_of(rig).edge(rig.stock, knob, rig.purpose.tolerance.rate_per_h)
    hidden = knob.grid.first + edge * knob.grid.step
    assert int(stand[1]) <= hidden, "what is advised is truly tolerated"
    assert low <= hidden <= high


def test_pages_of_a_load_live_and_past_and_of_the_rig(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("t").until(r"trial 1: march for 1h")
        screen.until(r"core 11 .* 43\d\d MHz +ok")
        screen.until(r"processor\b.*[▁▂▃▄▅▆▇█]")
        screen.press("s").until(r"nothing runs(.*\n)+.*trial 1: stopped")
        screen.press("e›p", "e›p", "e›p", "t").until(r"trial 2: held")
        screen.press("p›r").until("off stock: A2 and B2 run at 4800 MT/s, rated 6400 MT/s")
        screen.press("p›t").until("held 4800")
        screen.press("p›l").until(r"trial 2: march for 1h")
        screen.press("Left", "Left", "Left", "Left").until(r"at 00:5[0-9]:")
        screen.press("Down").until("trial 1: march for 1h")
        screen.press("p›h").until("show only what holds")
        screen.type("power").until_gone("show only what holds")
        screen.until(r"package power\b")
        screen.until_gone("spd5118")
        screen.press("q").until("LEFT WITH 0")
    opened = open_book(book, read_only=True)
    for trial in opened.store.trials.of("ridge"):
        kept = opened.store.load.snapshot(trial.id)
        assert kept is not None
        assert f"bench sim (simulated), trial {trial.number}: {mark_of(trial.outcome).sign} {trial.outcome}" in kept[0]
        assert "spd5118 temp1" in kept[0]
        assert kept[1].startswith("<svg")
    opened.close()


def test_a_rig_is_taken_in_by_key_and_by_hand(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("r›i").until("ridge is not this machine: read it there with tenaz probe --save")
        screen.press("r›e").until("ridge: what is known of it")
        screen.press(*["Down"] * 19, "C-u").until("guarantee, months: how long")
        screen.type("soon").until("'soon' is no number of months")
        screen.press("C-u")
        screen.type("24").until("ridge kept")
        screen.press("p›r").until("guarantee +24 months")
        screen.press("r›n").until("a new rig: its name")
        screen.type("ridge").until("The book has a rig ridge already")
        screen.press("C-u")
        screen.type("hut DDR4").until("hut: what is known of it")
        screen.press(*["Down"] * 16).until("owner: who it belongs to")
        screen.type("the shepherd").until("hut on hand")
        screen.until(r"owner +the shepherd")
        screen.press("r›l").until("work on which rig")
        screen.type("ri").until("ridge on sim")
        screen.press("r›l", "Down").until("work on which rig")
        screen.press("Enter").until("this machine on here")
        screen.press("r›i").until("this machine taken in")
    opened = open_book(book, read_only=True)
    assert opened.store.rigs.one("ridge").guarantee_months == 24
    assert opened.store.rigs.one("hut").owner == "the shepherd"
    opened.close()


def test_a_climb_can_be_stopped_and_goes_on(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("a›s", "C-u").until(r"adapt +the value and duration that teach most")
        screen.type("luck").until("no strategy here")
        screen.press("C-u")
        screen.type("stride").until("climbs by stride")
        screen.press("p›t", "c").until(r"\[ +LOAD +\].*trial 1")
        screen.press("Right").until("4800 → 5000 MT/s")
        screen.press("q").until("A trial is under way")
        screen.press("n").press_now("s")
        screen.until(r"trial 1: stopped \(does not count\)")
        screen.press("d›k").until(r"next +c +data rate \d+ MT/s")
        screen.press("c").until(r"\[ +LOAD +\].*trial 2")
        screen.press("q", "y").until("LEFT WITH 0")


def test_a_kill_in_the_middle_of_a_load_is_told_right_at_the_next_start(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("r›l").until("work on which rig")
        screen.type("this").until("this machine on here")
        screen.press("a›l").until("load, now")
        screen.type("transform 10m L1")
        screen.until("transform for 10m, in L1")
        screen.press("t").until("about 10m of this machine")
        screen.agree().until("Do the values that cannot be read here stand as asked")
        assert re.search(r"data rate +auto +cannot be read here", screen.text)
        screen.press("y").until(r"\[ +LOAD +\].*00:00:0[3-9]")
        assert len(screen.processes()) > 1
        screen.kill_group()
    with tenaz(book) as screen:
        told = screen.until(r"had run (\d+)s under load by its last heartbeat")
        assert 2 <= int(told[1]) <= 10
        screen.until("it was Tenaz that broke off, not the machine")
        screen.press("f").until(r"trial 1: froze \(fail\), as explained afterwards")
        assert "FAILED HERE" in screen.text


def test_each_menu_opens_and_each_page_is_on_the_strip(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press(";").until("menus +│")
        for menu in MENUS:
            assert re.search(rf"│ +{menu.letter}  {menu.name}: ", screen.text)
        screen.press("Escape").until_gone("Escape leaves all as it was")
        for menu in MENUS:
            screen.press(menu.letter).until(rf"│ +{menu.name} +│")
            for entry in menu.entries():
                assert re.search(rf"│ +{re.escape(entry.letter)}  {re.escape(entry.words[:40])}", screen.text), entry
            screen.press("Escape").until_gone("Escape leaves all as it was")
        screen.press("a›x").until("Nothing runs that could be stopped")
        screen.press("Escape").until_gone("Nothing runs that could")
        # Typed in one go, before anything is seen; and one page after the other.
        for page in PAGES:
            screen.press(path_of(f"{PAGE}{page}").replace("›", "")).until(rf"\[{page}\]")
        for page in PAGES:
            screen.press("Tab").until(rf"\[{page}\]")
        screen.press("Escape").until(rf"\[{PAGES[-2]}\]")
        screen.click(screen.text.splitlines()[3].index("tune") + 1, 4).until(r"\[tune\]")
        screen.press("z").until("z does nothing here. ; shows all")
        screen.press("C-p").until("find anything")
        screen.type("llc").until("load-line step")
    with tenaz(book, width=80, height=24) as small:
        small.until(r"\[day\].*…")


def test_a_burst_of_digits_is_all_taken_and_what_is_clicked_is_meant(book: Path) -> None:
    with tenaz(book, width=80, height=24) as small:
        last = small.text.splitlines()[-1].strip()
        assert last == "t trial  c climb  u undo  ; menus  / find  ⇥ page  F6 panel  ? help  q quit"
    with tenaz(book) as screen:
        screen.press("r›b").until("ridge on hand")
        screen.type("5600").until("4800 → 5600 MT/s")
        row = next(n for n, line in enumerate(screen.text.splitlines(), 1) if line.lstrip().startswith("tRCD "))
        screen.click(6, row).until(r"▸ tRCD")
        keys = screen.text.splitlines()[-1]
        screen.click(keys.index("dial") + 1, len(screen.text.splitlines())).until("d +dial|│ +dial")
        screen.press("v").until("tRCD, now 39 nCK")
        screen.type("\x15\x15x\x7f40").until(r"39 → 40 nCK|39 → 40 +")
        screen.press("e›p").until("only a simulated rig has a pace")
        screen.press("Escape").until_gone("only a simulated rig")
        time.sleep(2 * BURST_S)
        screen.press("s").until("Nothing runs that could be stopped")


def test_a_terminal_that_goes_away_ends_it_and_leaves_nothing(book: Path) -> None:
    with Screen("demo") as screen:
        screen.until("PARTLY TESTED")
        *_, process = screen.processes()
        folder = Path(process.open_files()[0].path).parent
        assert folder.name.startswith("tenaz-demo-")
    gone, _ = psutil.wait_procs([process], timeout=PATIENCE_S)
    assert gone == [process]
    assert not folder.exists()


def test_bad_values_are_told_and_stay_to_be_mended(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("r›b").until("ridge on hand")
        screen.press("d›v").until("data rate, now")
        screen.type("9000").until("above its hard ceiling of 8000 MT/s")
        screen.until("9000 ")
        screen.press("C-u").until_gone("│ +9000 ")
        screen.type("6050").until("4800 → 6050 MT/s")
        screen.press("t").until("6050 MT/s is not on its grid")
        screen.press("Escape").until_gone("not on its grid")
        screen.press("d›k").until_gone("6050 MT/s")
        screen.press("d›f").until("which knob")
        screen.type("memory vdd").until_gone("which knob")
        screen.press("1").until("memory VDD, now")
        screen.type(".4 V").until("1100 → 1400 mV")
        screen.press("t").until("above its advised ceiling of 1350 mV")
        screen.type("one cold boot to see").until("under load, .* until it is typed in and up")
        screen.agree().until("Enter these values in the firmware")
        screen.press("s").until("does not count then")
        screen.agree().until(r"trial 1: stopped \(does not count\)")
    opened = open_book(book, read_only=True)
    assert opened.store.trials.of("ridge")[0].reason == "one cold boot to see"
    opened.close()


def test_two_at_one_book_work_at_a_rig_each(book: Path) -> None:
    with tenaz(book) as first, tenaz(book) as second:
        second.until("READ-ONLY")
        second.press("t").until("another Tenaz works on ridge")
        first.press("r›b").until("ridge on hand")
        assert "READ-ONLY" not in first.text
        second.press("r›l").until("which rig")
        second.type("this machine").until("this machine on here")
        second.until_gone("READ-ONLY")


def test_what_is_no_book_is_told_on_the_screen(book: Path) -> None:
    book.write_text("minutes of the avalanche office")
    with Screen("--book", str(book)) as screen:
        screen.until("is not a book: it is no SQLite database")
        screen.press("q").until("LEFT WITH 0")
    assert book.read_text() == "minutes of the avalanche office"


def test_a_small_window_folds_and_a_tiny_one_says_so(book: Path) -> None:
    with tenaz(book, width=60, height=15) as screen:
        screen.until("Tenaz needs 80×24 cells; this window has 60×15")
        screen.resize(80, 24)
        screen.until("baseline at stock")
        screen.press("p›t").until("No climb along data rate")
        for shown in ("4000 to 8000 · harder", "evidence at", "next +⏎ +baseline first", "No climb along data rate"):
            screen.press("F6").until(shown)
            assert "nothing runs" in screen.text
        screen.resize(120, 36)
        screen.until(r"knobs +│ data rate, MT/s")
        screen.press("F6").until(r"data rate, MT/s.* evidence at")
        screen.press("p›b").until(
            r"(?s)No trial is in the book yet.*evidence at|evidence at.*No trial is in the book yet"
        )
        screen.press("p›t")
        screen.resize(200, 60)
        screen.until(r"knobs .* evidence at")
        screen.resize(158, 48)
        screen.until(r"knobs.*\n(.*\n)*.*evidence at|evidence at")
        assert re.search(r"knobs .* evidence at", screen.text)


def test_a_sheet_is_dialled_on_the_cycle_carried_saved_compared_noted_and_restored(book: Path, tmp_path: Path) -> None:
    with tenaz(book) as screen:
        screen.press("d›w").until("save what is dialled under a name")
        screen.type("as it came").until("saved as as it came")
        screen.press("p›i").until("one row cycle at 4800 MT/s")
        screen.press("d›f").until("which knob")
        screen.type("trasx").until("has no knob 'trasx'; near it: t_ras_nck")
        screen.press("BSpace", "Enter").until("tRAS 77 nCK = 32.08 ns: how long a row stays open")
        screen.press("Left", "Left").until("tRAS 75 nCK = 31.25 ns")
        screen.press("d›t").until("note on tRAS 75 nCK")
        screen.type("loose by ten at least").until("noted on tRAS 75 nCK")
        screen.press("d›r").until("carry the whole sheet from 4800 MT/s")
        screen.type("9900").until("9900 MT/s is above its hard ceiling")
        screen.press("C-u")
        screen.type("6400").until("one row cycle at 6400 MT/s")
        screen.until("controller 3200 MHz")
        screen.press("o›x").until("export the row cycle")
        screen.press("C-u").until_gone("ridge-cycle-6400.svg")
        screen.type(str(tmp_path / "cycle.svg")).until("written")
        screen.press("p›s", "=").until("set now +as it came")
        screen.press("d›d").until(r"tRAS +100 nCK +31.25 ns +77 +32.08 ns +77")
        screen.until_gone("memory VPP .* 1800 mV +1800")
        screen.press("d›o").until("dial a saved setpoint")
        screen.press("C-u")
        screen.type("winter").until("There is no setpoint 'winter'")
        screen.press("C-u")
        screen.type("as it came").until_gone("dial a saved setpoint")
        screen.press("d›d").until("to follow up|more below")
        screen.press("t").until(r"trial 1: |\[ +LOAD +\]")
    opened = open_book(book, read_only=True)
    assert [note.show() for note in opened.store.sheets.notes("ridge")] == ["loose: by ten at least"]
    assert opened.store.trials.of("ridge")[0].setpoint == opened.store.sheets.saved("ridge")[0].setpoint
    opened.close()
    assert (tmp_path / "cycle.svg").read_text().count("read-precharge") == 2


def test_a_routine_runs_load_after_load_and_an_error_leaves_a_print(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("e›p", "e›p", "e›p", "a›r").until("loads in turn at the dialled values")
        screen.press("n").until("begin with which routine")
        screen.type("march 30m; solo 10m").until("in all 40m")
        screen.press("a").until("a load, and how long")
        screen.press("C-u")
        screen.type("copy 20m").until("in all 1h")
        screen.press("k").until("keep it under which name")
        screen.type("an hour of three").until_gone("keep it under which name")
        screen.press("Enter").until(r"trial 3: held \(pass\)")
        screen.press("d›f").until("which knob")
        screen.type("data rate").until_gone("which knob")
        screen.press("d›v").until("data rate, now")
        screen.type("6200").until("4800 → 6200 MT/s")
        screen.press("a›l").until("load, now")
        screen.type("permute 600h").until("next load: permute for 600h")
        screen.press("t").until(r"trial 4: erred \(fail\)")
        screen.press("p›e").until(r"trial 4: permute for 600h")
        screen.until(r"\b1 wrong: 1 (stored wrong|wrong on the way) on 1 word in 1 page")
        screen.until(r"data lanes 63 to 0")
    opened = open_book(book, read_only=True)
    trials = opened.store.trials.of("ridge")
    opened.close()
    assert [trial.plan.kind.value for trial in trials] == ["march", "solo", "copy", "permute"]


def begin_long_trial(screen: Screen, number: int = 1) -> None:
    """One that still runs when the slowest machine looks for it again."""
    screen.press("a›l").until("load, now")
    screen.press("C-u")
    screen.type("march 9h").until("next load: march for 9h")
    screen.press("t").until(rf"\[ +LOAD +\].*trial {number}")


def test_what_runs_goes_on_without_its_workbench_and_is_joined_again(book: Path) -> None:
    with tenaz(book) as screen:
        begin_long_trial(screen)
        screen.press("q").until("leave it running in the background")
        screen.press("b").until("goes on in the background")
        screen.until("LEFT WITH 0")
    with tenaz(book) as screen:
        screen.until(r"\[ +LOAD +\].*trial 1")
        running = screen.processes()
    # The terminal is closed: that is no request to stop either.
    with tenaz(book) as screen:
        screen.until(r"\[ +LOAD +\].*trial 1")
        screen.press("s").until(r"trial 1: stopped \(does not count\)")
        screen.press("p›t", "Right")
        begin_long_trial(screen, 2)
        screen.press("q", "y").until("LEFT WITH 0")
    gone, _ = psutil.wait_procs(running, timeout=PATIENCE_S)
    assert len(gone) == len(running)
    with tenaz(book) as screen:
        screen.until(r"trial 2: stopped \(does not count\)")
        screen.press("u").until(r"trial 2 on ridge has no record|record of trial 2 taken back")


def test_a_new_book_says_what_to_begin_with(book: Path) -> None:
    with Screen("--book", str(book)) as screen:
        screen.until("a new book")
        screen.press("p").until("ridge on sim")
        screen.press("c", "s").until("stopped|nothing runs")
        screen.press("q").until("A trial is under way|LEFT WITH 0")


def test_a_question_is_asked_again_of_who_joins(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("r›b").until("ridge on hand")
        screen.press("p›t", "Right", "t").until("begins it")
        screen.agree().until("Enter these values")
        screen.press("y").until("Did ridge come up")
        screen.press("q").until("leave it running")
        screen.press("b").until("LEFT WITH 0")
    with tenaz(book) as screen:
        screen.until("Did ridge come up")
        screen.press("n").until(r"trial 1: no boot")
        screen.press("q").until("LEFT WITH 0")


def test_a_terminal_that_dies_under_a_load_does_not_end_it(book: Path) -> None:
    with tenaz(book) as screen:
        begin_long_trial(screen)
    with tenaz(book) as screen:
        screen.until(r"\[ +LOAD +\].*trial 1")
        screen.press("q", "y").until("LEFT WITH 0")


def test_a_day_by_hand_in_few_keys_corrected_later_and_entered_from_paper(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("r›b").until("ridge on hand")
        screen.press("a›l").until("load, now")
        screen.press("C-u")
        screen.type("program 2h: descent in winter").until("next load: program for 2h, descent in winter")
        # A whole trial in seven keys: dialled, begun, agreed to, entered, up and as typed in, held, so long.
        screen.press("p›t")
        screen.press("Right", "t").until("about 2h.* of ridge: 2h under load")
        screen.agree().until("Enter these values in the firmware of ridge")
        screen.press("y").until("Did ridge come up, with the values as typed in")
        screen.press("y").until("Run program for 2h, descent in winter")
        screen.press("h").until("held: how long did descent in winter run")
        screen.press("C-u")
        screen.type("2h").until(r"trial 1: held \(pass\)")
        screen.press("b›c").until("how did it really end")
        screen.press("C-u")
        screen.type("shiny").until("'shiny' names no outcome")
        screen.press("C-u")
        screen.type("erred 1h10m 3 errors").until("corrected from 'held 2h' to 'erred 1h10m 3 errors'")
        screen.press("b›e").until("made elsewhere, or before")
        screen.type("5400 | froze about 2h | 2026-10-03 | on the way down").until("trial 2 entered")
        screen.press("b›l").until("look in the book for")
        screen.type("failed").until("2 trials like: failed")
        screen.until("of its time only the day is known, how long it ran is a")
        screen.press("b›m", "Down").until(r"trial 2 +trial 1")
        screen.press("u").until("taken back: trial 2 entered")
        screen.press("p›d").until("baseline at stock +to come")
        screen.press("C-y").until("done again: trial 2 entered")
        screen.press("u").until("taken back: trial 2 entered")
        screen.press("q").until("LEFT WITH 0")
    opened = open_book(book, read_only=True)
    (trial,) = opened.store.trials.of("ridge")
    opened.close()
    assert (trial.outcome, trial.errors, trial.failed_after_s) == (Outcome.ERRED, 3, 4200.0)
    assert trial.plan.command == ("descent", "in", "winter")


def test_a_night_is_planned_made_and_accounted_for_in_the_morning(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("e›p", "e›p", "e›p", "a›g").until("Nothing is planned yet")
        screen.press("Escape").until_gone("Nothing is planned yet")
        screen.press("p›t", "Right", "a›p").until("1 to come, 1h under load")
        screen.press("p›t", "Right", "a›p").until("2 to come, 2h under load")
        screen.press("Down", "<").until(r"▸ ━+ +data rate 5200")
        screen.press("a›g").until("make 2 planned trials, 2h under load")
        screen.type("").until("all that was planned was made")
        screen.until(r"2 made, 2 held, 0 failed")
        screen.press("?").until("the page plan")
        screen.press("x").until_gone("the page plan")
        screen.press("e›s").until("screen.theme = dark")
        screen.press("C-u")
        screen.type("keys.climb = t").until("is the key of 'start one trial at the dialled values' already")
        screen.press("C-u")
        screen.type("keys.climb = f9").until_gone("screen.theme")
        screen.until("(?i)f9 climb")
        screen.press("F9").until(r"climb of data rate|\[ +LOAD +\]")


def test_a_night_alone_begins_is_stopped_and_offers_to_go_on(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("a›n").until("a night alone")
        screen.press("C-u")
        screen.type("3h").until("the proof alone takes 12 h")
        screen.press("C-u")
        screen.type("as long as it pays").until("ridge · under way")
        screen.until(r"stock .*goes on")
        screen.until("to come: cores, voltages up, data rate")
        screen.press("e›p", "e›p", "e›p").until(r"cores .*◇")
        screen.press("s").until("It (stands at|was set back to) what it came with")
        screen.until("a›n +go on with the night")
        screen.press("a›e").until("ended by hand")
        screen.press("q").until("LEFT WITH 0")
    opened = open_book(book, read_only=True)
    newest = opened.store.trials.of("ridge")[-1]
    assert newest.setpoint == opened.store.rigs.one("ridge").stock
    opened.close()


def test_a_step_is_measured_in_turn_and_the_report_says_what_is_owed(book: Path, tmp_path: Path) -> None:
    with tenaz(book) as screen:
        screen.press("e›p", "e›p", "e›p").until("pace: in a moment")
        screen.press("p›t", "Right", "t").until(r"trial 1: held")
        screen.press("m›m").until("measure ridge")
        screen.press("C-u")
        screen.type("render").until("a figure needs a name and then its value")
        screen.press("C-u")
        screen.type("in turn stock").until(r"set now against stock \(data rate 4800 → 5000 MT/s\)")
        screen.until("2 measures before, 2 now, in turn")
        screen.press("m›m").until("measure ridge")
        screen.press("C-u")
        screen.type("render 41.2 40.9 s").until("yours: render 41.0 s; not known at stock")
        screen.press("u").until_gone("yours: render")
        screen.press("m›a").until("tell scores against")
        screen.press("C-u")
        screen.type("winter").until("has no setpoint 'winter'")
        screen.press("b›f").until("There is nothing to follow up")
        screen.press("o›r").until("STILL TO RUN: ")
        screen.press("C-u")
        screen.type(f"shelf {tmp_path / 'shelf.html'}").until("written")
        screen.press("q").until("LEFT WITH 0")
    assert "NOT YET PROVEN" in (tmp_path / "shelf.html").read_text()


def test_a_field_of_two_knobs_is_tried_where_it_tells_and_read_with_the_dial(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("e›p", "e›p", "e›p").until("pace: in a moment")
        screen.press("a›f").until("a field over two knobs")
        screen.press("C-u")
        screen.type("data_rate_mts=4800").until("is no stretch; name it like")
        screen.press("C-u")
        screen.type("data_rate_mts=4800..7000 t_cl_nck=40..30").until(r"\d+ trials tell 12 × 6 cells")
        screen.until("hardest that is sure: data rate")
        screen.press("d›s").until(r"\[ \] data rate 4800 MT/s, tCL 40 nCK: ")
        screen.press("Right").until(r"\[ \] data rate 5000 MT/s, tCL 40 nCK")


def test_what_is_wrong_with_sled_is_asked_and_what_tells_most_is_done(book: Path, tmp_path: Path) -> None:
    with Screen("demo", "--rig", "sled") as screen:
        screen.until("sled on sim")
        screen.press("p›f").until("what is wrong with sled")
        screen.until("what tells most a minute")
        screen.until("◇ next  ⏎   ")
        screen.press("e›p", "e›p", "e›p").until("in a moment")
        screen.press("Enter").until(r"trial 1: \w+ ")
        screen.until("1 trial, ")
        screen.press("Down", "Down").until("╔ A2")
        screen.press("r›p").until("a label on a part")
        screen.type("suspect: sat crooked").until("module 2261: suspect, sat crooked")
        screen.until("2 failed|written on it: suspect sat crooked")
        screen.press("r›w").until("work on the parts of sled")
        screen.press("Enter").until("module 2261 pulled from A2")
        screen.until("aside +2261")
        screen.press("u").until_gone("aside +2261")
        screen.press("r›s").until("what was noticed")
        screen.type("errors").until("told: crash, errors")
        out = tmp_path / "claim.txt"
        screen.press("r›c").until("what to order or claim: module 2261")
        screen.press("C-u")
        screen.type(str(out)).until("written:")
        assert "NOT ENOUGH to replace it" in out.read_text()
        screen.press("p›r").until("processor")
        screen.press("q").until("LEFT WITH 0")


def test_aboard_the_stick_it_asks_little_and_goes_on(book: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("TENAZ_ABOARD", "1")
    with tenaz(book) as screen:
        screen.until("Left alone it goes on in")
        screen.press("e").until("the standing order")
        screen.press("C-u")
        screen.type("march 1s 16MiB; permute 1s 16MiB | 1 | still | go on | 2")
        screen.until(r"march 1s 16MiB; permute 1s 16MiB; 1 start; after a failure")
        screen.press("Enter").until("the standing order has ended: the start is done")
        screen.until("DONE, NOTHING WRONG")
        screen.until("tested: march 1s, permute 1s")
        screen.press("c").until("any key goes back")
        screen.until("▀|█|▄")
        screen.press("Escape").until("nothing: the start is done")
        screen.press("w").until_gone("from its stick")
        screen.press("q").until("switch it off")
    told = [(trial.outcome, trial.reason) for trial in _trials_here(book)]
    assert told == [(Outcome.HELD, "standing order of the stick")] * 2


def _trials_here(book: Path) -> tuple[Trial, ...]:
    opened = open_book(book, read_only=True)
    try:
        return opened.store.trials.of("this machine")
    finally:
        opened.close()
