"""Keys of the sheet: comparing, ticking, noting, saving, correcting a grid."""

from tenaz.core.rigs.notes import parse_note
from tenaz.orders import CorrectGrid, NoteValues, SaveSetpoint, SettleNote
from tenaz.tui.base.hands import Hands
from tenaz.tui.pages.sheet import SheetPage
from tenaz.tui.prompts.sheet import new_notes, restore_prompt, restored, save_prompt, value_note_prompt
from tenaz.tui.session.workspace import Workspace


class SheetController:
    """What is done to the sheet as a whole, and to values as such."""

    def __init__(self, work: Workspace, hands: Hands) -> None:
        self._work = work
        self._hands = hands

    @property
    def _sheet(self) -> SheetPage:
        return self._work.pages.of(SheetPage)

    def compare_next(self) -> None:
        """Compare with the next saved setpoint."""
        self._work.compare_next()
        self._hands.show()

    def show_differing(self) -> None:
        """Only the lines of the sheet that differ."""
        self._sheet.only_differing()
        self._show_sheet()

    def tick_line(self) -> None:
        """Tick the next line that is to be typed in."""
        if self._sheet.tick(self._work.view):
            self._show_sheet()
        else:
            self._hands.complain("Every line is ticked; say that they are entered.")

    def untick_line(self) -> None:
        """Take the last tick back."""
        self._sheet.untick()
        self._hands.show()

    def _show_sheet(self) -> None:
        self._work.pages.show(SheetPage)
        self._hands.bring_page_forward()
        self._hands.show()

    def note_value(self) -> None:
        """Note on the value in hand."""
        knob, value = self._work.dial.knob, self._work.dial.value

        def take(text: str | None) -> None:
            if text:
                self._hands.give(NoteValues((parse_note(knob.name, value, text),)))

        self._hands.ask(value_note_prompt(knob, value), take)

    def settle_note(self) -> None:
        """The open note on the value in hand needs no coming back to."""
        note = self._work.open_note()
        if note is not None:
            self._hands.give(SettleNote(note.id))

    def save_setpoint(self) -> None:
        """Save what is dialled under a name."""
        setpoint = self._work.dial.setpoint

        def take(name: str | None) -> None:
            if name is not None:
                self._hands.give(SaveSetpoint(name, setpoint))

        self._hands.ask(save_prompt(self._work.view.kept.saved), take)

    def restore_setpoint(self) -> None:
        """Dial a saved setpoint, or one from a file."""

        def take(text: str | None) -> None:
            if text is not None:
                self.restore_named(text)

        self._hands.ask(restore_prompt(self._work.view.kept.saved, self._work.view.rig), take)

    def restore_named(self, text: str) -> None:
        """Dial what is saved under a name, or stands in a file."""
        work = self._work
        sheet = restored(text, work.view.kept.saved, work.view.rig)
        work.dial.setpoint = sheet.setpoint
        notes = () if work.view.book.read_only else tuple(new_notes(sheet, work.view.kept.notes))
        if notes:
            self._hands.give(NoteValues(notes))
        self._hands.show()

    def correct_grid(self) -> None:
        """Take what the firmware made another value of off its knob's grid."""
        reading = self._work.view.now.differing[0]
        asked = self._work.view.trials[-1].asked.number(reading.knob)
        if self._work.dial.setpoint[reading.knob] == asked:
            self._work.dial.setpoint = self._work.dial.setpoint.replacing(
                reading.knob, self._work.dial.in_force[reading.knob]
            )
        self._hands.give(CorrectGrid(reading.knob, (asked,)))
