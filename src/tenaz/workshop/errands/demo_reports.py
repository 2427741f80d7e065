"""Reports of the demo rigs, as they stand in the docs: ``python -m tenaz.workshop.errands.demo_reports FOLDER``."""

import sys
import tempfile
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from tenaz import orders as o
from tenaz.catalogues.writing import write_whole
from tenaz.core.evidence.shown import evidence_at
from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.finding.enough import Enough
from tenaz.orders.found import order_for
from tenaz.papers.report import Edition, Report
from tenaz.papers.report_pages import as_png
from tenaz.pictures.find.model import FindPicture
from tenaz.workshop.errands.demo_book import make_demo_book
from tenaz.workshop.reports.reporting import ReportPaper
from tenaz.workshop.shop.shop import Workshop

if TYPE_CHECKING:
    from tenaz.core.rigs.rig import Rig

MOST_ACTS, MOST_PROOFS = 30, 4
FORMS = (("client", Edition.CLIENT, ".html"), ("archive", Edition.SHELF, ".html"), ("figures", Edition.SHELF, ".csv"))


def ridge(workshop: Workshop) -> None:
    """Climbed to its end, stood where that advises, proven, measured in turn with stock."""
    _do(workshop, o.GoOn())
    stand = workshop.view().searches.pictures[DATA_RATE].stand
    _prove(workshop, workshop.rig.stock.replacing(DATA_RATE, stand or workshop.rig.stock.number(DATA_RATE)))
    _do(workshop, o.MeasureInTurn("stock", rounds=2))


def hut(workshop: Workshop) -> None:
    """As it came: proven, and measured."""
    _prove(workshop, workshop.rig.stock)
    _do(workshop, o.Measure())


def sled(workshop: Workshop) -> None:
    """Its fault found, as the question path goes."""
    for _ in range(MOST_ACTS):
        picture = workshop.do(o.BringFinding())
        assert isinstance(picture, FindPicture)
        if picture.verdict.enough is not Enough.GO_ON or not picture.acts:
            break
        _do(workshop, order_for(picture.acts[0]))


def _prove(workshop: Workshop, setpoint: object) -> None:
    """Run what is owed at a setpoint, until nothing is, or something failed."""
    assert isinstance(setpoint, type(workshop.rig.stock))
    for _ in range(MOST_PROOFS):
        rig: Rig = workshop.rig
        shown = evidence_at(setpoint, workshop.view().index, rig)
        owed = tuple(replace(one, stop_at_first_error=True) for one in shown.owed)
        if not owed or shown.failed:
            return
        _do(workshop, o.StartRoutine(setpoint, owed))
    _do(workshop, o.StartTrial(setpoint, LoadPlan(LoadKind.COPY, duration_s=60.0)))


def _do(workshop: Workshop, order: o.Order[Any]) -> None:
    workshop.do(order)
    workshop.running.wait()


WORK: dict[str, Callable[[Workshop], None]] = {"ridge": ridge, "hut": hut, "sled": sled}


def write_reports(folder: Path) -> None:
    """All of them, and two pages as pictures."""
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(prefix="tenaz-reports-") as place:
        book = Path(place) / "book.db"
        make_demo_book(book)
        workshop = Workshop()
        workshop.open(book)
        try:
            for name, work in WORK.items():
                workshop.do(o.ChooseRig(name))
                work(workshop)
                made = workshop.do(o.MakeReport())
                assert isinstance(made, Report)
                for form, edition, ending in FORMS:
                    ReportPaper(made, edition).write(folder / f"{name}-{form}{ending}")
                if name == "ridge":
                    write_whole(folder / "client.png", as_png(made, Edition.CLIENT))
                    write_whole(folder / "archive.png", as_png(made, Edition.SHELF))
        finally:
            workshop.close()


if __name__ == "__main__":
    write_reports(Path(sys.argv[1]))
