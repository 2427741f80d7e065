"""Keys of the book and of its rigs: taking back, noting, choosing and filling in."""

from tenaz.core.rigs import Rig
from tenaz.tui.hands import Hands
from tenaz.tui.prompts import note_prompt
from tenaz.tui.workspace import Workspace
from tenaz.workshop.orders import ChooseBench, ChooseRig, KeepRig, NoteTrial, TakeIn, Undo, WorkOnParts


class BookController:
    """What is written beside what runs, and what is worked on."""

    def __init__(self, work: Workspace, hands: Hands) -> None:
        self._work = work
        self._hands = hands

    def undo_record(self) -> None:
        """Take back the newest record."""
        self._hands.give(Undo())

    def note_trial(self) -> None:
        """Note on the trial pointed at, or the newest."""
        trial = self._work.pointed_at()
        if trial is None:
            return
        number = trial.id

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.give(NoteTrial(number, text))

        self._hands.ask(note_prompt(trial), take)

    def next_bench(self) -> None:
        """The next bench."""
        self._hands.give(ChooseBench())

    def next_rig(self) -> None:
        """The next rig."""
        self._hands.give(ChooseRig())

    def take_in(self) -> None:
        """Fill the rig in anew from this machine."""
        self._hands.give(TakeIn())

    def edit_rig(self) -> None:
        """Fill in by hand what is known of the rig."""
        from tenaz.tui.screens.rig_form import RigForm  # noqa: PLC0415 - the first picture does not wait for it

        self._hands.ask(RigForm(self._work.view.rig), self._take_rig)

    def new_rig(self) -> None:
        """A rig that cannot be read: begin with its name, then fill in."""
        from tenaz.tui.rig_prompts import new_rig_from, new_rig_prompt  # noqa: PLC0415 - catalogues are read there
        from tenaz.tui.screens.rig_form import RigForm  # noqa: PLC0415

        names = self._work.view.rigs

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.ask(RigForm(new_rig_from(text, names)), self._take_rig)

        self._hands.ask(new_rig_prompt(names), take)

    def _take_rig(self, rig: Rig | None) -> None:
        if rig is None:
            return
        self._work.canvases.load_view.purpose = rig.purpose
        self._hands.give(KeepRig(rig))

    def work_on_parts(self) -> None:
        """Modules, cores, cooler and supply of a simulated rig."""
        from tenaz.tui.parts_prompt import parts_prompt  # noqa: PLC0415 - the first picture does not wait for it

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.give(WorkOnParts(text))

        self._hands.ask(parts_prompt(self._work.view.rig), take)
