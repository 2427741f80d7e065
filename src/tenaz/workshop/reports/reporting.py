"""Reports: made from what the book holds now, kept as they were given out, written as files."""

from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

from tenaz import __version__
from tenaz.catalogues.writing import write_whole
from tenaz.core.base.errors import Refused
from tenaz.core.evidence.shown import evidence_at
from tenaz.finding.causes import Part
from tenaz.finding.enough import Diagnosis, Enough
from tenaz.orders import BringFinding, BringScores, MakeReport
from tenaz.papers.reports.editions import leaf_of
from tenaz.papers.reports.figures import archive_csv, as_json_text, client_csv
from tenaz.papers.reports.language import ENGLISH, language
from tenaz.papers.reports.report import ENDINGS, Edition, Picture, Report, from_json, picture_of, to_json
from tenaz.papers.setpoint_files import Sheet, sheet_to_toml
from tenaz.pictures.climb.cells import draw_climb
from tenaz.pictures.drawing.paper import check_path
from tenaz.pictures.margins.build import margins_picture
from tenaz.pictures.margins.cells import draw_margins_on_paper
from tenaz.pictures.scores.cells import draw_scores_on_paper
from tenaz.press.leaf import Leaf
from tenaz.press.leaf_html import as_html
from tenaz.press.leaf_text import as_text
from tenaz.press.size import PaperSize
from tenaz.press.typeset import as_pdf
from tenaz.settings.files import read_what_is_right
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import carries_out
from tenaz.workshop.looking.view import View, take_view
from tenaz.workshop.reports.chapters import chapters_of
from tenaz.workshop.reports.facts import facts_of, owed_of
from tenaz.workshop.reports.ground import ReportGround
from tenaz.workshop.reports.letterhead import our_head
from tenaz.workshop.reports.tables import moved_table, whole_sheet
from tenaz.workshop.rigs.finding import FaultFinding
from tenaz.workshop.rigs.parts import Parts
from tenaz.workshop.runs.scoring import Scoring

COLUMNS, CLIMB_ROWS = 118, 40


@dataclass(frozen=True, slots=True)
class ReportPaper:
    """One edition of a report, to be written to a file; ``language`` is a code, or the file of one's own sentences."""

    report: Report
    edition: Edition = Edition.CLIENT
    language: str = ENGLISH

    @property
    def leaf(self) -> Leaf:
        """As it will stand there."""
        return leaf_of(self.report, self.edition, language(self.language))

    def write(self, path: Path, size: PaperSize = PaperSize.A4) -> None:
        """Write it in the form that the file's ending says.

        Raises:
            TenazError: an ending that is not known, or a file that cannot be written.
        """
        check_path(path, ENDINGS)
        match path.suffix.lower():
            case ".pdf":
                write_whole(path, as_pdf(self.leaf, size))
            case ".html":
                write_whole(path, as_html(self.leaf, size))
            case ".csv" if self.edition is Edition.CLIENT:
                write_whole(path, client_csv(self.report, self.leaf))
            case ".csv":
                write_whole(path, archive_csv(self.report))
            case ".json":
                write_whole(path, as_json_text(self.report))
            case _:
                write_whole(path, as_text(self.leaf))


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
        if not self._at.look_only:
            store = self._at.store
            key = store.reports.keep(now.rig, self._at.bench, now.number, to_json(now), now.at_utc)
            self._at.undoing.push(f"report {now.number}", partial(store.reports.take_out, key))
            self._at.log("report", f"report {now.number}: {'proven' if now.proven else 'not yet proven'}")
        return now

    def _found(self) -> Diagnosis | None:
        """What the question path has come to, where parts were worked on."""
        if len(self._parts.works()) < 2:
            return None
        picture = self._finding.picture(BringFinding())
        verdict = picture.verdict
        if verdict.enough is Enough.GO_ON or verdict.suspect.part is Part.NOTHING:
            return None
        return replace(verdict, sure=picture.sure_of(verdict.suspect))

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
            (),
            facts_of(ground),
            tuple(_pictures(ground)),
            sheet_to_toml(Sheet(view.in_force, f"report of {rig.name}", rig.name, rig.family)),
            told=chapters_of(ground, owed),
            moved=moved_table(ground),
            sheet=whole_sheet(ground),
            head=our_head(),
        )


def _pictures(ground: ReportGround) -> list[Picture]:
    """Margins, scores, climbs, as they stand."""
    view, found = ground.view, list[Picture]()
    if ground.margins.rows:
        found.append(picture_of("margins", draw_margins_on_paper(ground.margins, COLUMNS)))
    if ground.scores.newest:
        found.append(picture_of("scores", draw_scores_on_paper(ground.scores, COLUMNS)))
    for climb in view.searches.pictures.values():
        found.append(picture_of(f"climb of {climb.knob.label}", draw_climb(climb, COLUMNS, CLIMB_ROWS, listed=False)))
    return found


def tongue_of(said: str = "") -> str:
    """The language of the client's page: as said here, else as set.

    Raises:
        Refused: none that is known.
    """
    tongue = said or read_what_is_right()[0].workshop.language
    language(tongue)
    return tongue


def check_report_path(path: Path) -> None:
    """Refuse a file that no report can become.

    Raises:
        TenazError: an ending that is not known, or a folder that is not there.
    """
    check_path(path, ENDINGS)


def reported(view: View) -> str:
    """Whom a report is for, as a file's name."""
    return f"{view.rig.name}-report".replace(" ", "_").replace("/", "_")
