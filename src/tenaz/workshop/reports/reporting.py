"""Reports: made from what the book holds now, kept as they were given out, written as files."""

from dataclasses import dataclass
from functools import partial
from pathlib import Path

from tenaz import __version__
from tenaz.catalogues.writing import write_whole
from tenaz.core.base.errors import Refused
from tenaz.core.evidence.shown import evidence_at
from tenaz.finding.enough import Enough
from tenaz.orders import BringFinding, BringScores, MakeReport
from tenaz.papers.report import ENDINGS, Edition, Picture, Report, as_csv, as_json_text, from_json, picture_of, to_json
from tenaz.papers.report_pages import Paper, as_pdf
from tenaz.papers.report_text import as_html, as_text
from tenaz.papers.setpoint_files import Sheet, sheet_to_toml
from tenaz.pictures.climb.cells import draw_climb
from tenaz.pictures.drawing.paper import check_path
from tenaz.pictures.margins.build import margins_picture
from tenaz.pictures.margins.cells import draw_margins, rows_for
from tenaz.pictures.scores.cells import draw_scores
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import carries_out
from tenaz.workshop.looking.view import View, take_view
from tenaz.workshop.reports.facts import ReportGround, facts_of, owed_of
from tenaz.workshop.reports.words import client_words
from tenaz.workshop.rigs.finding import FaultFinding
from tenaz.workshop.rigs.parts import Parts
from tenaz.workshop.runs.scoring import Scoring

COLUMNS, MARGIN_ROWS, SCORE_ROWS, CLIMB_ROWS = 118, 60, 56, 40
MOST_CLIMBS = 8


@dataclass(frozen=True, slots=True)
class ReportPaper:
    """One edition of a report, to be written to a file."""

    report: Report
    edition: Edition = Edition.CLIENT
    paper: Paper = Paper.A4

    def write(self, path: Path) -> None:
        """Write it in the form that the file's ending says.

        Raises:
            TenazError: an ending that is not known, or a file that cannot be written.
        """
        check_path(path, ENDINGS)
        match path.suffix.lower():
            case ".pdf":
                write_whole(path, as_pdf(self.report, self.edition, self.paper))
            case ".html":
                write_whole(path, as_html(self.report, self.edition))
            case ".csv":
                write_whole(path, as_csv(self.report))
            case ".json":
                write_whole(path, as_json_text(self.report))
            case _:
                write_whole(path, as_text(self.report, self.edition))


class Reporting:
    """Makes, keeps and finds them."""

    def __init__(self, at_work: AtWork, scoring: Scoring, finding: FaultFinding, parts: Parts) -> None:
        self._at = at_work
        self._scoring = scoring
        self._finding = finding
        self._parts = parts

    def kept(self) -> tuple[Report, ...]:
        """All of the rig at work on this side, the oldest first."""
        real = self._at.bench.real
        every = (from_json(data) for _, data in self._at.store.reports.of(self._at.rig.name))
        return tuple(one for one in every if one.simulated is not real)

    @carries_out(MakeReport)
    def bring(self, order: MakeReport) -> Report:
        """A report that was given out; or a new one, which is kept, where anything changed since the newest.

        Raises:
            Refused: there is none of that number.
        """
        kept = self.kept()
        if order.number is not None:
            found = next((one for one in kept if one.number == order.number), None)
            if found is None:
                known = ", ".join(str(one.number) for one in kept) or "none yet"
                raise Refused(f"{self._at.rig.name} has no report {order.number}; it has: {known}.")
            return found
        now = self._made()
        if kept and kept[-1].same_as(now):
            return kept[-1]
        now = now.since_report(kept[-1]) if kept else now
        if not self._at.store.read_only:
            store = self._at.store
            key = store.reports.keep(now.rig, self._at.bench, now.number, to_json(now), now.at_utc)
            self._at.undoing.push(f"report {now.number}", partial(store.reports.take_out, key))
            self._at.log("report", f"report {now.number}: {'proven' if now.proven else 'not yet proven'}")
        return now

    def _found(self) -> str:
        """What the question path has come to, where parts were worked on."""
        if len(self._parts.works()) < 2:
            return ""
        picture = self._finding.picture(BringFinding())
        verdict = picture.verdict
        if verdict.enough is Enough.GO_ON:
            return ""
        return f"{verdict.suspect.show()}, {picture.sure_of(verdict.suspect):.0%} sure: enough to {verdict.enough}"

    def _made(self) -> Report:
        at, view = self._at, take_view(self._at)
        rig, store = at.rig, at.store
        ground = ReportGround(
            view,
            evidence_at(view.in_force, view.index, rig),
            margins_picture(rig, view.in_force, view.index),
            self._scoring.picture(BringScores()),
            self._parts.works(),
            store.works.labels(rig.name),
            self._found(),
        )
        owed = owed_of(ground)
        return Report(
            store.reports.next_number(rig.name),
            rig.name,
            rig.owner,
            self._at.clock.utc(),
            f"Tenaz {__version__}",
            not at.bench.real,
            owed,
            client_words(ground, owed),
            facts_of(ground),
            tuple(_pictures(ground)),
            sheet_to_toml(Sheet(view.in_force, f"report of {rig.name}", rig.name, rig.family)),
        )


def _pictures(ground: ReportGround) -> list[Picture]:
    """Margins, scores, climbs, as they stand."""
    view, found = ground.view, list[Picture]()
    if ground.margins.rows:
        rows = rows_for(ground.margins)
        found.append(picture_of("margins", draw_margins(ground.margins, COLUMNS, min(rows, MARGIN_ROWS))))
    if ground.scores.newest:
        found.append(picture_of("scores", draw_scores(ground.scores, COLUMNS, SCORE_ROWS)))
    for climb in list(view.searches.pictures.values())[:MOST_CLIMBS]:
        found.append(picture_of(f"climb of {climb.knob.label}", draw_climb(climb, COLUMNS, CLIMB_ROWS)))
    return found


def check_report_path(path: Path) -> None:
    """Refuse a file that no report can become.

    Raises:
        TenazError: an ending that is not known, or a folder that is not there.
    """
    check_path(path, ENDINGS)


def reported(view: View) -> str:
    """Whom a report is for, as a file's name."""
    return f"{view.rig.name}-report".replace(" ", "_").replace("/", "_")
