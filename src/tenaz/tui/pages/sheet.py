"""The Sheet page: the whole setpoint by pages of the firmware, or what is typed in line by line."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.core.base.loop import Station
from tenaz.core.knobs.readings import show_sources
from tenaz.core.trials.in_force import cleared
from tenaz.core.trials.trial import Trial
from tenaz.pictures.sheet.cells import Ticks, draw_sheet
from tenaz.pictures.sheet.model import SheetPicture, sheet_picture
from tenaz.tui.pages.page import Drawing, Export, Page, PageHelp, head_of

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.workshop.looking.view import View


class SheetPage(Page):
    """As dialled; while a trial's values are brought in by hand, what is to be typed, with ticks."""

    name = "sheet"
    help = PageHelp(
        "The whole setpoint by pages of the firmware: what changes with its old value, what that is in ns, notes.",
        (("▸", "changes, or is in hand"), ("[x]", "typed in"), ("[ ]", "to be typed in")),
        ("show_differing", "save_setpoint", "restore_setpoint", "correct_grid"),
        "ns are clocks × 2000 / data rate. What did not fit when it was carried says why, and what was asked.",
    )

    def __init__(self) -> None:
        self._only_differing = False
        self._ticked: list[str] = []
        self._ticking: int | None = None

    def drawing(self, work: "AtHand") -> Drawing:
        """The sheet, the knob in hand marked."""
        return partial(draw_sheet, self.picture(work), selected=work.dial.knob.name, ticks=self._ticks(work.view))

    def picture(self, work: "AtHand") -> SheetPicture:
        """Of the trial that is being typed in, else of what is dialled."""
        view, dial, notes = work.view, work.dial, work.view.kept.notes
        trial = entering(view)
        if trial is not None:
            title = f"type in for trial {trial.number}:"
            return sheet_picture(view.rig, trial.asked, view.in_force, title, notes=notes)
        beside = work.compared_saved()
        title = f"the sheet as dialled{_known(view)}"
        picture = sheet_picture(view.rig, dial.setpoint, view.in_force, title, beside, notes, dial.out_of_reach)
        if self._only_differing:
            return picture.only([row.name for row in picture.rows if row.changed or row.differs])
        return picture

    def only_differing(self) -> None:
        """All lines, or only those that differ."""
        self._only_differing = not self._only_differing

    # -- typing in ----------------------------------------

    def tick(self, view: "View") -> bool:
        """Tick the next line that is to be typed in; False when none is."""
        trial = entering(view)
        following = self._ticks(view).next if trial else None
        if following is None:
            return False
        self._ticked.append(following)
        return True

    def untick(self) -> None:
        """Take the last tick back."""
        if self._ticked:
            self._ticked.pop()

    def _ticks(self, view: "View") -> Ticks:
        trial = entering(view)
        if trial is None:
            return Ticks()
        if self._ticking != trial.id:
            self._ticking, self._ticked = trial.id, []
        return Ticks(lines_to_type(view, trial), tuple(self._ticked))

    def export(self, work: "AtHand") -> Export:
        """The sheet with the notes on its values, against what is in force; or as it stands here."""
        from tenaz.papers.exports import PictureOr, SheetPaper  # noqa: PLC0415 - where something is written
        from tenaz.papers.setpoint_files import Sheet  # noqa: PLC0415
        from tenaz.papers.sheets import ENDINGS  # noqa: PLC0415

        view, rig, setpoint = work.view, work.view.rig, work.dial.setpoint
        notes = tuple(note for note in view.kept.notes if note.value == setpoint[note.knob])
        sheet = Sheet(setpoint, rig=rig.name, memory=rig.family, notes=notes, out_of_reach=work.dial.out_of_reach)
        written, head = SheetPaper(rig, sheet, view.in_force), head_of(view, "the sheet", setpoint)
        paper = PictureOr(written, (".svg",), self.drawn(work), head)
        return Export("the sheet", f"{rig.name}-sheet.toml", (*ENDINGS, ".svg"), paper)


def _known(view: "View") -> str:
    """How it is known what is in force; empty where nothing was set yet."""
    last = view.index.set_by
    words = show_sources(last.sources) if last is not None else ""
    return f" · set now: {words}" if words else ""


def entering(view: "View") -> Trial | None:
    """The trial whose values are being brought into the rig now, by hand."""
    if not view.trials:
        return None
    trial = view.trials[-1]
    return trial if trial.open and trial.station is Station.SET and trial.bench.real else None


def lines_to_type(view: "View", trial: Trial) -> tuple[str, ...]:
    """What is to be typed in: what changes; after settings were cleared, every line that is no longer at auto."""
    before = view.trials[-2] if len(view.trials) > 1 else None
    was_cleared = before is not None and cleared(before)
    changed = {change.knob for change in trial.asked.changes_from(view.in_force)}
    numbers = trial.asked.numbers()
    return tuple(knob.name for knob in view.rig.knobs if knob.name in changed or (was_cleared and knob.name in numbers))
