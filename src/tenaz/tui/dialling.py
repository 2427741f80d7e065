"""Keys that dial, and keys of the sheet: nothing is set by them until a trial begins."""

from tenaz.core.notes import parse_note
from tenaz.tui.prompts import (
    value_prompt,
)
from tenaz.tui.session_base import SessionBase
from tenaz.tui.sheet_prompts import (
    carried_from_text,
    carry_prompt,
    find_prompt,
    new_notes,
    restore_prompt,
    restored,
    save_prompt,
    value_note_prompt,
)


class Dialling(SessionBase):
    """Taking knobs in hand, turning them, carrying, comparing, noting, saving. A key calls the method of its name."""

    def select(self, step: int) -> None:
        """Take another knob in hand."""
        self._dial.select(step)
        self._cursor = None
        self._show()

    def dial(self, steps: int) -> None:
        """Turn the knob in hand along its grid."""
        self._dial.turn(steps)
        self._show()

    def type_value(self, typed: str = "") -> None:
        """Type a value."""
        dial, knob = self._dial, self._dial.knob

        def take(text: str | None) -> None:
            if text is not None:
                dial.take(knob.parse(text))
                self._show()

        self._app.push_screen(value_prompt(knob, dial.value, typed), take)

    def group(self, step: int) -> None:
        """Take the first knob of the next page of the firmware in hand."""
        self._dial.turn_page(step)
        self._cursor = None
        self._show()

    def find(self) -> None:
        """Take a knob in hand by its name."""

        def take(text: str | None) -> None:
            if text is not None:
                self._dial.selected = self._dial.place_of(text)
                self._cursor = None
                self._show()

        self._app.push_screen(find_prompt(self._dial), take)

    def carry(self) -> None:
        """Carry the whole sheet to another data rate."""
        rig, setpoint = self._view.rig, self._dial.setpoint

        def take(text: str | None) -> None:
            if text is not None:
                carried = carried_from_text(rig, setpoint, text)
                self._dial.setpoint, self._dial.carried, self._carried_from = carried.setpoint, carried, setpoint
                if carried.out_of_reach:
                    labels = ", ".join(rig.knob(one.name).label for one in carried.out_of_reach)
                    self._next.complain(
                        f"Too tight at {carried.setpoint['data_rate_mts']} MT/s, because their grids end: {labels}. "
                        f"They are marked on the sheet; carry to a lower rate, or expect them to fail."
                    )
                self._show()

        self._app.push_screen(carry_prompt(rig, setpoint), take)

    def undial(self) -> None:
        """Back to what is in force."""
        self._dial.setpoint = self._dial.in_force
        self._show()

    def stock(self) -> None:
        """Back to stock."""
        self._dial.setpoint = self._dial.rig.stock
        self._show()

    # -- the sheet ----------------------------------------

    def compare(self) -> None:
        """Compare with the next saved setpoint."""
        if not self._view.saved:
            self._next.complain("No setpoint is saved yet to compare with: S saves what is dialled under a name.")
        self._canvases.compare_next(self._view)
        self._show()

    def differing(self) -> None:
        """Only the lines of the sheet that differ."""
        self._canvases.only_differing()
        self._canvases.show("sheet")
        self._app.show_canvas()
        self._show()

    def tick(self) -> None:
        """Tick the next line that is to be typed in."""
        if not self._canvases.tick(self._view):
            self._next.complain("Nothing is being typed in that could be ticked.")
            return
        self._canvases.show("sheet")
        self._app.show_canvas()
        self._show()

    def untick(self) -> None:
        """Take the last tick back."""
        self._canvases.untick()
        self._show()

    def note_value(self) -> None:
        """Note on the value in hand."""
        knob, value = self._dial.knob, self._dial.value
        self._app.push_screen(
            value_note_prompt(knob, value),
            lambda text: self._order(lambda w: w.note_value(parse_note(knob.name, value, text))) if text else None,
        )

    def settle(self) -> None:
        """The open note on the value in hand needs no coming back to."""
        knob, value = self._dial.knob, self._dial.value
        found = [n for n in self._view.notes if n.open and n.knob == knob.name and n.value == value]
        if not found:
            self._next.complain(f"There is no open note on {knob.label} {knob.show(value)}.")
            return
        self._order(lambda workshop: workshop.settle(found[-1]))

    def save(self) -> None:
        """Save what is dialled under a name."""
        setpoint = self._dial.setpoint
        self._app.push_screen(
            save_prompt(self._view.saved),
            lambda name: self._order(lambda w: w.save_setpoint(name, setpoint)) if name is not None else None,
        )

    def restore(self) -> None:
        """Dial a saved setpoint, or one from a file."""
        saved, rig = self._view.saved, self._view.rig

        def take(text: str | None) -> None:
            if text is not None:
                sheet = restored(text, saved, rig)
                self._dial.setpoint = sheet.setpoint
                notes = () if self._view.read_only else new_notes(sheet, self._view.notes)
                self._order(lambda workshop: [workshop.note_value(note) for note in notes] and None)
                self._show()

        self._app.push_screen(restore_prompt(saved, rig), take)
