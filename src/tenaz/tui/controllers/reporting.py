"""The key of the report: made, kept, and written where it is wanted."""

from pathlib import Path

from tenaz.catalogues.outside import typed_path
from tenaz.orders import MakeReport, WritePaper
from tenaz.papers.reports.report import ENDINGS, Edition, Report
from tenaz.tui.base.hands import Hands
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt
from tenaz.tui.session.workspace import Workspace
from tenaz.workshop.reports.reporting import ReportPaper, check_report_path, reported, tongue_of


class ReportController:
    """Asks where to, then writes it."""

    def __init__(self, work: Workspace, hands: Hands) -> None:
        self._work = work
        self._hands = hands

    def make_report(self) -> None:
        """Make one of what the book holds now."""
        self._hands.wait_for(MakeReport(), self.take)

    def take(self, report: Report) -> None:
        """It was made: where to, and for whom."""
        name = reported(self._work.view)
        picks = [
            Pick(f"{name}.pdf", "for the client, one page in plain words"),
            Pick(f"archive {name}-archive.pdf", "for the archive, all of it"),
            Pick(f"{name}.html", "for the client, to be read in a browser"),
            Pick(f"archive {name}-archive.html", "for the archive, to be read in a browser"),
            Pick(f"archive {name}.csv", "every figure with the trials that it rests on"),
            Pick(f"{name}.json", "the same for other programs"),
        ]
        owed = "everything asked for was run, and held" if report.proven else f"STILL TO RUN: {'; '.join(report.owed)}"

        def take(text: str | None) -> None:
            if text is not None:
                edition, path = _asked(text)
                self._hands.give(WritePaper(ReportPaper(report, edition, tongue_of()), path))

        hint = f"{owed}\na file ending in {', '.join(ENDINGS)}; archive before it: all of it"
        title = f"report {report.number} of {report.rig}"
        self._hands.ask(
            Prompt(title, hint, f"{name}.pdf", lambda text: check_report_path(_asked(text)[1]), picks=picks), take
        )


def _asked(text: str) -> tuple[Edition, Path]:
    """For whom, and where to."""
    first, _, rest = text.strip().partition(" ")
    if first.lower() in ("archive", "shelf") and rest.strip():
        return Edition.SHELF, typed_path(rest)
    return Edition.CLIENT, typed_path(text)
