"""Keys that dial: nothing is set by them until a trial begins."""

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.tui.base.commands import DIALS
from tenaz.tui.base.hands import Hands
from tenaz.tui.pages.tune import TunePage
from tenaz.tui.prompts.loads import dialled, value_prompt
from tenaz.tui.prompts.profiles import profile_dialled, profile_prompt
from tenaz.tui.prompts.sheet import carried_from_text, carry_prompt, find_prompt
from tenaz.tui.session.workspace import Workspace


class DialController:
    """Takes knobs in hand, turns them, types, carries."""

    def __init__(self, work: Workspace, hands: Hands) -> None:
        self._work = work
        self._hands = hands

    def select_knob(self, step: int) -> None:
        """Take another knob in hand."""
        self._work.dial.select(step)
        self._moved_on()

    def turn_group(self, step: int) -> None:
        """Take the first knob of the next page of the firmware in hand."""
        self._work.dial.turn_group(step)
        self._moved_on()

    def turn_knob(self, steps: int) -> None:
        """Turn the knob in hand along its grid."""
        self._work.dial.turn(steps)
        self._hands.show()

    def type_value(self, typed: str = "") -> None:
        """Type a value."""
        dial = self._work.dial
        knob, before = dial.knob, dial.setpoint

        def take(text: str | None) -> None:
            if text is not None:
                self._dialled(before, dialled(text, knob, dial.rig, before))
                self._to_where_one_dials()

        self._hands.ask(value_prompt(knob, dial.rig, before, typed), take)

    def _dialled(self, before: Setpoint, after: Setpoint) -> None:
        """Many values at once: one of those that moved is in hand then, so that the load and the picture are theirs."""
        dial = self._work.dial
        dial.setpoint = after
        moved = [change.knob for change in after.changes_from(before)]
        if moved and dial.knob.name not in moved:
            dial.selected = dial.place_of(moved[0])
            self._moved_on()
        else:
            self._hands.show()

    def _to_where_one_dials(self) -> None:
        """What is in hand is in sight."""
        if self._work.pages.shown.name not in DIALS:
            self._work.pages.show(TunePage)
            self._hands.show()

    def find_knob(self) -> None:
        """Take a knob in hand by its name."""
        dial = self._work.dial

        def take(text: str | None) -> None:
            if text is not None:
                dial.selected = dial.place_of(text)
                self._moved_on()
                self._to_where_one_dials()

        self._hands.ask(find_prompt(dial), take)

    def dial_profile(self) -> None:
        """Dial a memory profile."""
        dial = self._work.dial
        before = dial.setpoint

        def take(text: str | None) -> None:
            if text is not None:
                self._dialled(before, profile_dialled(text, dial.rig, before))

        self._hands.ask(profile_prompt(dial.rig, before), take)

    def take_named(self, name: str) -> None:
        """Take a knob in hand that is named."""
        self._work.dial.selected = self._work.dial.place_of(name)
        self._moved_on()
        self._to_where_one_dials()

    def carry_sheet(self) -> None:
        """Carry the whole sheet to another data rate."""
        work = self._work
        rig, setpoint = work.view.rig, work.dial.setpoint

        def take(text: str | None) -> None:
            if text is None:
                return
            carried = carried_from_text(rig, setpoint, text)
            work.dial.setpoint, work.dial.carried, work.carried_from = carried.setpoint, carried, setpoint
            if carried.out_of_reach:
                labels = ", ".join(rig.knob(one.name).label for one in carried.out_of_reach)
                self._hands.complain(
                    f"Too tight at {carried.setpoint['data_rate_mts']} MT/s, because their grids end: {labels}. "
                    f"They are marked on the sheet; carry to a lower rate, or expect them to fail."
                )
            self._hands.show()

        self._hands.ask(carry_prompt(rig, setpoint), take)

    def keep_in_force(self) -> None:
        """Back to what is in force."""
        self._work.dial.setpoint = self._work.dial.in_force
        self._hands.show()

    def dial_stock(self) -> None:
        """Back to stock."""
        self._work.dial.setpoint = self._work.dial.rig.stock
        self._hands.show()

    def take_knob(self, place: int) -> None:
        """Take the knob at this place in hand."""
        self._work.dial.selected = place
        self._moved_on()

    def take_value(self, value: int) -> None:
        """Dial a value of the knob in hand, up to the highest that may be set."""
        self._work.dial.take(min(value, self._work.dial.knob.most))
        self._hands.show()

    def _moved_on(self) -> None:
        self._work.cursor = None
        self._hands.show()
