"""Keys of the book and of its rigs: taking back, noting, choosing and filling in."""

from typing import TYPE_CHECKING, Any

from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.trial import Trial
from tenaz.orders import (
    BringRigs,
    ChangeSetting,
    ChooseBench,
    Correct,
    EnterPast,
    KeepRig,
    NoteTrial,
    Order,
    Redo,
    TakeIn,
    Undo,
)
from tenaz.tui.base.acts import Act
from tenaz.tui.base.hands import Hands
from tenaz.tui.pages.book import BookPage
from tenaz.tui.prompts.book import correct_prompt, corrected, past_trials, past_trials_prompt, rig_picks, rigs_prompt
from tenaz.tui.prompts.loads import note_prompt
from tenaz.tui.session.settling import take_settings
from tenaz.tui.session.workspace import Workspace

if TYPE_CHECKING:
    from collections.abc import Sequence

    from tenaz.core.rigs.rig_line import RigLine
    from tenaz.settings.model import Settings
    from tenaz.tui.screens.prompt import Prompt


class BookController:
    """What is written beside what runs, and what is worked on."""

    def __init__(self, work: Workspace, hands: Hands) -> None:
        self._work = work
        self._hands = hands
        self._given: Act | None = None
        self._list: Prompt | None = None
        """The list of rigs, while it is open."""

    def edit_settings(self) -> None:
        """Every setting, changed in place."""
        from tenaz.settings.listing import typed  # noqa: PLC0415 - the first picture does not wait for it
        from tenaz.tui.prompts.settings import settings_prompt  # noqa: PLC0415

        def take(line: str | None) -> None:
            if line is not None:
                self._hands.bring(ChangeSetting(*typed(line)), self._take_settings)

        self._hands.ask(settings_prompt(self._work.settings), take)

    def _take_settings(self, settings: "Settings") -> None:
        take_settings(self._work, self._hands, settings)

    def undo(self) -> None:
        """Take back what was done last: in front of the screen, or in the book; then what was recorded last."""
        self._back_or_forth(self._work.acts.back(), Undo(), "taken back")

    def redo(self) -> None:
        """Do again what was taken back last."""
        self._back_or_forth(self._work.acts.again(), Redo(), "done again")

    def _back_or_forth(self, act: Act | None, order: Undo | Redo, done: str) -> None:
        if act is not None and not act.of_book:
            self._hands.complain("")
            self._hands.tell(f"{done}: {act.words}")
            self._hands.show()
        elif self._work.view.book.read_only:
            self._hands.complain(f"Read-only: {self._work.view.book.read_only}")
        else:
            self._given = act
            self._work.done_again += isinstance(order, Redo)
            self._hands.give(order)

    def could_not(self, order: Order[Any]) -> None:
        """What could not be taken back, or done again, stays the next."""
        if isinstance(order, Redo):
            self._work.done_again = 0
        if isinstance(order, Undo | Redo) and self._given is not None:
            self._work.acts.again() if isinstance(order, Undo) else self._work.acts.back()
            self._given = None

    def note_trial(self) -> None:
        """Note on the trial pointed at, or the newest."""
        trial = self._pointed_at()
        if trial is None:
            return
        number = trial.id

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.give(NoteTrial(number, text))

        self._hands.ask(note_prompt(trial), take)

    def correct_trial(self) -> None:
        """Say how the trial pointed at really ended, or what it really ran at."""
        trial, view = self._pointed_at(), self._work.view
        if trial is None or trial.rig != view.rig.name:
            self._hands.complain("Point at a trial of the rig at work first: on the page book (p›b) or tune (p›t).")
            return
        if trial.outcome is None:
            self._hands.complain(f"Trial {trial.number} has no record yet to correct: say first what was seen of it.")
            return
        rig = view.rig

        def take(text: str | None) -> None:
            if text is not None:
                record, values = corrected(text, rig, trial)
                self._hands.give(Correct(trial.id, record, values))

        self._hands.ask(correct_prompt(trial, rig), take)

    def _pointed_at(self) -> Trial | None:
        work = self._work
        book = work.pages.of(BookPage)
        return book.pointed_at(work.view) if work.pages.shown is book else work.pointed_at()

    def enter_past(self) -> None:
        """Enter trials that were made elsewhere or before."""
        work = self._work
        rig, base, plan = work.view.rig, work.dial.setpoint, work.plan

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.give(EnterPast(past_trials(text, rig, base, plan)))

        self._hands.ask(past_trials_prompt(rig, base, plan), take)

    def next_bench(self) -> None:
        """The next bench."""
        self._hands.give(ChooseBench())

    def choose_rig(self) -> None:
        """Which rig to work on: the list is there at once, what is known of each a moment later."""

        def take(text: str | None) -> None:
            self._list = None
            if text is not None:
                self._hands.work_on(text.strip())

        view = self._work.view
        self._list = rigs_prompt(view.book.rigs, view.rig.name)
        self._hands.ask(self._list, take)
        self._hands.bring(BringRigs(), self._tell_of)

    def take_rig(self, name: str) -> None:
        """Work on a rig that is named."""
        self._hands.work_on(name)

    def open_trial(self, number: int) -> None:
        """Open a trial in the book, by its number."""
        self._work.pages.show(BookPage)
        self._work.pages.of(BookPage).look_for(f"#{number}", self._hands)
        self._hands.bring_page_forward()
        self._hands.show()

    def _tell_of(self, rigs: "Sequence[RigLine]") -> None:
        """What is known of each rig came."""
        if self._list is not None:
            self._list.take_picks(rig_picks(rigs))

    def take_in(self) -> None:
        """Fill the rig in anew from this machine."""
        self._hands.give(TakeIn())

    def edit_rig(self) -> None:
        """Fill in by hand what is known of the rig."""
        from tenaz.tui.screens.rig_form import RigForm  # noqa: PLC0415 - the first picture does not wait for it

        self._hands.ask(RigForm(self._work.view.rig), self._take_rig)

    def new_rig(self) -> None:
        """A rig that cannot be read: begin with its name, then fill in."""
        from tenaz.tui.prompts.rig import new_rig_from, new_rig_prompt  # noqa: PLC0415 - catalogues are read there
        from tenaz.tui.screens.rig_form import RigForm  # noqa: PLC0415

        names = self._work.view.book.rigs

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.ask(RigForm(new_rig_from(text, names)), self._take_rig)

        self._hands.ask(new_rig_prompt(names), take)

    def _take_rig(self, rig: Rig | None) -> None:
        if rig is None:
            return
        self._work.load_view.purpose = rig.purpose
        self._hands.give(KeepRig(rig))
