"""Reports of the demo rigs, as they stand in the docs: ``python -m tenaz.workshop.errands.demo_reports FOLDER``."""

import os
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
from tenaz.papers.reports.report import Edition, Report
from tenaz.pictures.find.model import FindPicture
from tenaz.press.typeset import as_png
from tenaz.workshop.errands.demo_book import make_demo_book
from tenaz.workshop.reports.reporting import ReportPaper
from tenaz.workshop.shop.shop import Workshop

if TYPE_CHECKING:
    from tenaz.core.rigs.rig import Rig

MOST_ACTS, MOST_PROOFS = 30, 4
FORMS = (
    ("client", Edition.CLIENT, "en", (".html", ".csv")),
    ("client-es", Edition.CLIENT, "es", (".html",)),
    ("archive", Edition.SHELF, "en", (".html", ".csv")),
)


HEAD = """[workshop]
name = "Taller Cumbre"
address = "Camino Alto 3\\nValle"
contact = "Wednesdays to Saturdays, 9 to 17"
technician = "N. Robles"
"""
MARK = (
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 40"><path d="M2 36 L15 10 L22 22 L27 15 L38 36 Z" '
    'fill="#2b2722"/><path d="M15 10 L19 17 L15 20 L11 18 Z" fill="#f4ede3"/></svg>'
)


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


def _pictures(paper: ReportPaper, stem: Path) -> None:
    """Its pages, to be looked at."""
    for number, page in enumerate(as_png(paper.leaf), 1):
        write_whole(stem.with_name(f"{stem.name}-{number}.png"), page)


WORK: dict[str, Callable[[Workshop], None]] = {"ridge": ridge, "hut": hut, "sled": sled}


def write_reports(folder: Path) -> None:
    """All of them, the client's pages and one archive as pictures, under the head of the demo's workshop."""
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(prefix="tenaz-reports-") as place:
        os.environ["TENAZ_SETTINGS"] = str(Path(place) / "settings.toml")
        write_whole(Path(place) / "mark.svg", MARK)
        write_whole(Path(place) / "settings.toml", HEAD + f'mark = "{place}/mark.svg"\n')
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
                for form, edition, tongue, endings in FORMS:
                    paper = ReportPaper(made, edition, language=tongue)
                    for ending in endings:
                        paper.write(folder / f"{name}-{form}{ending}")
                    if edition is Edition.CLIENT or name == "ridge":
                        _pictures(paper, folder / f"{name}-{form}")
        finally:
            workshop.close()


if __name__ == "__main__":
    write_reports(Path(sys.argv[1]))
