"""Reports, follow-ups, drift and the whole history, from a book."""

import csv
import io
import json
import re
from collections.abc import Iterator
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from html.parser import HTMLParser
from pathlib import Path

import pytest
from typer.testing import CliRunner

from tenaz import orders as o
from tenaz.advice.visits import visit_trials
from tenaz.cli.app import app
from tenaz.core.base.amounts import show_sure
from tenaz.core.base.errors import Refused, TenazError
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.notes import NoteKind, ValueNote
from tenaz.core.rigs.rig import OWN, BenchKind
from tenaz.core.scores.own_figures import parse_own
from tenaz.core.trials.costs import Costs
from tenaz.core.trials.due import due
from tenaz.core.trials.past_trials import PastTrial
from tenaz.core.trials.querying import parse_query
from tenaz.core.trials.record_text import parse_record
from tenaz.demo.ridge import ridge
from tenaz.margins.safety import safety_of
from tenaz.papers.reports.figures import archive_csv
from tenaz.papers.reports.language import SHIPPED, differences, language, sentences_of
from tenaz.papers.reports.report import Edition, Report, from_json, to_json
from tenaz.pictures.book.build import tallied
from tenaz.pictures.drift.build import drift_picture
from tenaz.press.leaf import Say
from tenaz.press.leaf_html import as_html as leaf_html
from tenaz.press.leaf_text import as_text as leaf_text
from tenaz.press.size import PaperSize
from tenaz.press.typeset import as_pdf
from tenaz.workshop.looking.follow_ups import follow_ups
from tenaz.workshop.looking.trial_page import found_everywhere
from tenaz.workshop.reports.reporting import ReportPaper
from tenaz.workshop.shop.shop import Workshop

HOSTILE = '=1+2"; <script>alert(1)</script> \x1b[2J &amp;'
HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600.0)


@pytest.fixture
def workshop(book: Path) -> Iterator[Workshop]:
    opened = Workshop()
    opened.open(book)
    opened.store.rigs.put(replace(ridge(7), purpose=OWN, owner=HOSTILE, complaint=HOSTILE, guarantee_months=36))
    opened.do(o.ChooseRig("ridge"))
    yield opened
    opened.close()


def run(workshop: Workshop, order: o.Order) -> None:
    workshop.do(order)
    workshop.running.wait()


def as_text(made: Report, edition: Edition, tongue: str = "en") -> str:
    return leaf_text(ReportPaper(made, edition, tongue).leaf)


def as_html(made: Report, edition: Edition) -> str:
    return leaf_html(ReportPaper(made, edition).leaf)


def report(workshop: Workshop, number: int | None = None) -> Report:
    made = workshop.do(o.MakeReport(number))
    assert isinstance(made, Report)
    return made


def test_it_is_not_called_proven_before_it_is_and_stays_as_it_was(workshop: Workshop, tmp_path: Path) -> None:
    faster = workshop.rig.stock.replacing("data_rate_mts", 5000)
    run(workshop, o.StartTrial(faster, replace(HOUR, duration_s=600.0)))
    first = report(workshop)
    assert not first.proven
    assert any("transform" in one for one in first.owed)
    assert "NOT YET PROVEN" in as_text(first, Edition.CLIENT)
    assert "verdict red" in as_html(first, Edition.CLIENT)
    assert report(workshop).number == 1, "nothing changed: it is the same report"
    run(workshop, o.StartRoutine(faster, (HOUR, LoadPlan(LoadKind.TRANSFORM, duration_s=3600.0))))
    second = report(workshop)
    assert second.number == 2
    assert second.since
    if second.proven:
        assert "now proven, it was not" in second.since
        assert "guarantee it for 36 months" in " ".join(as_text(second, Edition.CLIENT).split())
    assert any("march was" in one for one in second.since)
    assert report(workshop, 1) == first == from_json(to_json(first))
    with pytest.raises(Refused, match="it has: 1, 2"):
        report(workshop, 7)
    workshop.do(o.Undo())
    assert [one.number for one in workshop.reporting.kept()] == [1]
    for name in ("c.pdf", "c.html", "c.csv", "c.json", "c.txt"):
        ReportPaper(second).write(tmp_path / name)
        assert (tmp_path / name).stat().st_size > 200
    with pytest.raises(TenazError, match="report"):
        ReportPaper(second).write(tmp_path / "report.doc")


def test_every_figure_rests_on_trials_that_are_in_the_book(workshop: Workshop) -> None:
    for rate in (5000, 5200, 7000):
        run(workshop, o.StartTrial(workshop.rig.stock.replacing("data_rate_mts", rate), HOUR))
    workshop.do(o.KeepOwn(parse_own("render 41.2 41.0 s")))
    made = report(workshop)
    numbers = {str(one.number) for one in workshop.trials()}
    measures = {f"m{one.number}" for one in workshop.store.measures.of("ridge", BenchKind.SIM)}
    for section in (
        "shown at these settings",
        "hours between errors",
        "margins",
        "what failed",
        "temperatures under load",
    ):
        for fact in made.of(section):
            assert set(fact.trials) <= numbers
            assert fact.trials or "0 passed" in fact.value, fact
    assert {fact.section for fact in made.facts} >= {"the rig", "settings", "what failed"}
    assert all(set(fact.trials) <= measures for fact in made.of("scores"))


def figures(text: str) -> list[float]:
    """Every number in a text; hours and minutes of a duration as hours."""
    text = re.sub(r"(\d+) min(?: (\d+) s)?\b", lambda m: f"{m[1]}m" + (f"{m[2]}s" if m[2] else ""), text)
    text = re.sub(r"\b(\d+) h (?=\d+m)", r"\1h", text)
    found = [
        float(h or 0) + float(m or 0) / 60 + float(s or 0) / 3600
        for h, m, s in re.findall(r"\b(?=\d+[hms])(?:(\d+)h)?(?:(\d+)m)?(?:(\d+)s)?\b", text)
    ]
    rest = re.sub(r"\b(?=\d+[hms])(?:\d+h)?(?:\d+m)?(?:\d+s)?\b|and \d+ more", "", text)
    return found + [float(one.replace(",", "")) for one in re.findall(r"\d[\d,]*(?:\.\d+)?", rest)]


def told_in(report: Report) -> list[float]:
    return [one for fact in report.facts for one in figures(f"{fact.name} {fact.value} {fact.unit}")]


@pytest.mark.parametrize("state", ["fresh", "failed", "proven", "stock", "climbed", "parts"])
def test_every_figure_of_the_clients_page_stands_on_the_shelf(workshop: Workshop, state: str) -> None:
    rig = replace(workshop.rig, owner="", complaint="stops after eleven minutes", guarantee_months=24)
    workshop.do(o.KeepRig(rig))
    stock, purpose = rig.stock, dict(rig.purpose.hours_asked)
    owed = tuple(LoadPlan(kind, duration_s=3600 * hours) for kind, hours in purpose.items())
    faster = stock.replacing("data_rate_mts", 5000)
    match state:
        case "failed":
            run(workshop, o.StartTrial(stock.replacing("data_rate_mts", 7000), HOUR))
        case "proven":
            run(workshop, o.StartTrial(stock, HOUR))
            run(workshop, o.StartRoutine(faster, owed))
        case "stock":
            run(workshop, o.StartRoutine(stock, owed))
        case "climbed":
            run(workshop, o.BeginSearch(("data_rate_mts",), stock, HOUR, "", "adapt", steps=o.Steps()))
        case "parts":
            run(workshop, o.StartTrial(stock, HOUR))
            workshop.do(o.WorkOnParts("pull A2"))
            run(workshop, o.StartTrial(stock, HOUR))
        case _:
            pass
    made = report(workshop)
    known = told_in(made)
    leaf = ReportPaper(made).leaf
    said = [one for one in leaf.blocks if isinstance(one, Say) and not one.heading.startswith("What to look")]
    for words in said:
        for figure in figures(words.text):
            assert any(abs(figure - one) <= 0.51 * (figure >= 1) + 0.01 for one in known), (words, figure)
    page = as_text(made, Edition.CLIENT)
    assert "to be handed over" not in page, "what is for the technician does not stand there"
    assert ("Parts:" in page and "A2" in page) is (state == "parts")
    promised = next(words.text for words in said if words.heading == "What that promises")
    safety = safety_of(workshop.rig, workshop.view().in_force, workshop.view().index)
    if "expected" in promised:
        assert safety.sure is not None
        assert f"we are {show_sure(safety.sure)} sure" in promised.replace("of that ", "").replace(" %", "%")
    else:
        assert ("NOTHING YET" in promised) is not made.proven
    assert ("Before what was done" in page) is (state in ("proven", "parts"))


class _Text(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.tags: set[str] = set()
        self.told = ""

    def handle_starttag(self, tag: str, attrs: object) -> None:
        self.tags.add(tag)

    def handle_data(self, data: str) -> None:
        self.told += data


@pytest.mark.parametrize("edition", list(Edition))
def test_hostile_names_stay_text_everywhere(workshop: Workshop, edition: Edition) -> None:
    workshop.do(o.NoteValues((ValueNote("t_rfc1_nck", 984, NoteKind.LOOSE, HOSTILE),)))
    made = report(workshop)
    page = _Text()
    page.feed(as_html(made, edition))
    assert "script" not in page.tags
    assert "<script>" in page.told
    assert "\x1b" not in as_html(made, edition) + as_text(made, edition)
    rows = list(csv.reader(io.StringIO(archive_csv(made))))
    assert len(rows) == len(made.facts) + 1
    assert all(len(row) == 6 for row in rows)
    assert not [cell for row in rows for cell in row if cell.startswith(("=", "@", "\t"))]
    pdf = as_pdf(ReportPaper(made, edition).leaf, PaperSize.LETTER)
    assert pdf.startswith(b"%PDF")
    assert b"/FontFile2" in pdf
    assert b"/MediaBox[0 0 612 792]" in pdf
    assert b"/MarkInfo" in pdf, "tagged"


def test_follow_ups_are_listed_done_and_dropped(book: Path, workshop: Workshop) -> None:
    notes = [ValueNote("t_rfc1_nck", 984, NoteKind.LOOSE, text) for text in ("two less", "three less")]
    for note in notes:
        workshop.do(o.NoteValues((note,)))
    found = follow_ups(workshop.store, datetime.now(UTC))
    workshop.close()
    assert [one.rig for one in found] == ["ridge", "ridge"]
    assert "two less" in found[0].why
    runner = CliRunner()
    done = runner.invoke(app, ["--book", str(book), "follow-ups", "--done", str(found[0].note_id)])
    dropped = runner.invoke(app, ["--book", str(book), "follow-ups", "--drop", str(found[1].note_id)])
    assert (done.exit_code, dropped.exit_code) == (0, 0), (done.output, dropped.output)
    wrong = runner.invoke(app, ["--book", str(book), "follow-ups", "--done", "999"])
    assert wrong.exit_code == 2
    assert "open are: none" in wrong.output
    assert json.loads(runner.invoke(app, ["--book", str(book), "follow-ups", "--json"]).stdout)["follow_ups"] == []


def test_a_rig_is_due_after_a_season_and_drift_wants_the_same_tried_twice(workshop: Workshop) -> None:
    for rate in (5000, 5200, 5400):
        run(workshop, o.StartTrial(workshop.rig.stock.replacing("data_rate_mts", rate), HOUR))
    trials, rig, now = workshop.trials(), workshop.rig, workshop.trials()[-1].begun_utc
    assert due(rig, trials, now + timedelta(days=30)) is None
    told = due(rig, trials, now + timedelta(days=200))
    assert (told is not None) is (trials[-1].clean_s == 3600.0)
    assert due(rig, trials, now + timedelta(days=1300)) is None, "its guarantee has ended"
    assert "one time" in drift_picture(rig, trials, workshop.in_force()).words
    later = [
        replace(one, id=one.id + 100, number=one.number + 100, begun_utc=one.begun_utc + timedelta(days=180))
        for one in trials
    ]
    picture = drift_picture(rig, [*trials, *later], workshop.in_force())
    assert [row.knob.name for row in picture.rows] == ["data_rate_mts"]
    row = picture.rows[0]
    assert row.moved.differs < 0.9
    assert row.trials_now == tuple(one.number for one in later)
    assert "after 6 months" in row.now
    assert visit_trials(rig, trials, workshop.in_force(), Costs(), now) == (), "it was worked on all the time"
    failing = [replace(one, outcome=Outcome.ERRED, elapsed_s=600.0, failed_after_s=600.0) for one in trials[-1:]]
    known = [*trials[:-1], *failing]
    (asked,) = visit_trials(rig, known, workshop.in_force(), Costs(), now + timedelta(days=200))
    assert (asked.knob.name, asked.plan.kind, asked.moved) == ("data_rate_mts", LoadKind.MARCH, None)
    assert asked.telling.cost_h <= 2.0
    assert "data rate" in asked.words
    day = timedelta(days=1)
    old = [replace(one, fitted="firmware F9") for one in later]
    new = [replace(one, id=one.id + 200, fitted="firmware F10", begun_utc=one.begun_utc + day) for one in old]
    assert "firmware F10" in drift_picture(rig, [*old, *new], workshop.in_force()).rows[0].now


def test_which_boards_held_it_is_answered_with_counts_and_intervals(workshop: Workshop) -> None:
    for name, board in (("ridge", "Pizarra P2"), ("cliff", "Laja L1")):
        rig = replace(ridge(7), name=name, parts=(("board", board), ("memory", "kit")))
        workshop.do(o.KeepRig(rig))
        workshop.do(o.ChooseRig(name))
        for rate in (4800, 5000, 7400):
            run(workshop, o.StartTrial(rig.stock.replacing("data_rate_mts", rate), HOUR))
    found = found_everywhere(workshop.store, parse_query("data rate<=5000 part:kit by:board"))
    told = {one.label: one for one in tallied(found.trials, "board")}
    assert set(told) == {"Pizarra P2", "Laja L1"}
    one = told["Laja L1"]
    assert (one.held, one.failed, one.rigs) == (2, 0, ("cliff",))
    assert 0.1 < one.low < 0.2
    assert one.high == 1.0
    assert not found_everywhere(workshop.store, parse_query("part:nothing by:board")).trials
    with pytest.raises(Refused, match="modules"):
        parse_query("by:colour")


def test_what_was_told_by_a_person_is_not_called_checked(workshop: Workshop) -> None:
    stock = workshop.rig.stock
    run(workshop, o.StartTrial(stock, HOUR))
    assert "every result checked," in as_text(report(workshop), Edition.CLIENT)
    workshop.do(o.EnterPast((PastTrial(stock, replace(HOUR, duration_s=10800.0), parse_record("held 3h")),)))
    assert "every result checked but those of 3 h, which were told to us" in " ".join(
        as_text(report(workshop), Edition.CLIENT).split()
    )


def test_the_page_is_the_same_in_every_language_and_its_figures_are_written_as_there(
    workshop: Workshop, tmp_path: Path
) -> None:
    run(workshop, o.StartTrial(workshop.rig.stock, HOUR))
    made = report(workshop)
    for tongue in SHIPPED:
        assert differences(language("en").file, language(tongue).file) == []
    spanish, english = (" ".join(as_text(made, Edition.CLIENT, tongue).split()) for tongue in ("es", "en"))
    assert "1 failure in 200 h" in english
    assert "1 fallo en 200 h" in spanish
    assert language("es").number(12345.5, 1) == "12.345,5"
    mine = tmp_path / "mine.toml"
    mine.write_text(sentences_of("en").replace("What was asked", "Asked for"))
    assert "Asked for" in as_text(made, Edition.CLIENT, str(mine))
    for was, now, words in (
        ("what_never", "", "no language of reports"),
        ('no_part = "', 'no_bit = "', "lacks 'no_part'"),
        ("{complaint}", "{owner}", "the place 'owner'"),
    ):
        other = tmp_path / f"{len(was)}.toml"
        other.write_text(sentences_of("en").replace(was, now))
        with pytest.raises(Refused, match=words):
            language(str(other) if now else was)


def test_the_workshops_head_goes_with_the_report_and_stays_as_it_was(
    workshop: Workshop, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    mark, settings = tmp_path / "mark.svg", tmp_path / "settings.toml"
    mark.write_text('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1 1"><path d="M0 0H1"/></svg>')
    monkeypatch.setenv("TENAZ_SETTINGS", str(settings))
    settings.write_text(f'[workshop]\nname = "{HOSTILE[:3]}Collado"\ntechnician = "N. Robles"\nmark = "{mark}"\n')
    first = report(workshop)
    page = as_html(first, Edition.CLIENT)
    assert "Collado" in page
    assert "N. Robles" in page
    assert "data:image/svg+xml;base64," in page
    assert as_pdf(ReportPaper(first).leaf).startswith(b"%PDF")
    settings.write_text('[workshop]\nname = "Another"\n')
    assert report(workshop).number == 2, "under another head it is another report"
    assert "Collado" in as_text(report(workshop, 1), Edition.CLIENT)
    settings.write_text(f'[workshop]\nmark = "{mark}"\n')
    mark.write_text('<!DOCTYPE svg [<!ENTITY a "b">]><svg>&a;</svg>')
    with pytest.raises(Refused, match="no plain SVG"):
        report(workshop)


def test_both_lists_of_figures_say_what_their_pages_say(workshop: Workshop, tmp_path: Path) -> None:
    for rate in (4800, 7400, 5000):
        run(workshop, o.StartTrial(workshop.rig.stock.replacing("data_rate_mts", rate), HOUR))
    made = report(workshop)
    told = {}
    for edition in Edition:
        ReportPaper(made, edition).write(tmp_path / "r.csv")
        told[edition] = list(csv.DictReader((tmp_path / "r.csv").open()))
    assert any(row["heading"] == "What was shown" for row in told[Edition.CLIENT])
    assert {row["section"] for row in told[Edition.SHELF]} >= {"settings", "what failed"}
    shelf = as_text(made, Edition.SHELF)
    assert shelf.count("tRFC1") == 1 + shelf.split("the sheet", 1)[0].count("tRFC1"), "one sheet"
    assert not re.search(r"\d+ more|more below|[a-z]›[a-z]", shelf), "whole, and without keys"
    assert re.search(r"data rate +4800 +5000 +MT/s +\+1 +\+4.2 %", shelf)


def test_a_report_of_an_older_tenaz_is_read_as_it_was(workshop: Workshop) -> None:
    data = json.loads(to_json(report(workshop)))
    for new in ("told", "moved", "sheet", "head"):
        del data[new]
    data["client"] = [{"heading": "What was asked", "text": "as it was said then", "red": False}]
    old = from_json(json.dumps(data).encode())
    assert "as it was said then" in as_text(old, Edition.CLIENT)
    assert "[values]" in as_text(old, Edition.SHELF), "its sheet as it was kept"
