"""The key of follow-ups: the list of what is to be come back to, done or dropped from there."""

from tenaz.core.base.errors import Refused
from tenaz.core.trials.due import FollowUp
from tenaz.orders import BringFollowUps, SettleNote
from tenaz.tui.base.hands import Hands
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt
from tenaz.tui.session.workspace import Workspace


class FollowUpController:
    """Fetches the list, and carries out what is picked from it."""

    def __init__(self, work: Workspace, hands: Hands) -> None:
        self._work = work
        self._hands = hands

    def show_follow_ups(self) -> None:
        """Of all rigs."""
        self._hands.wait_for(BringFollowUps(), self.take)

    def take(self, found: tuple[FollowUp, ...]) -> None:
        """It came."""
        if not found:
            self._hands.tell("There is nothing to follow up: o notes what to come back to.")
            return
        picks = []
        for one in found:
            words = f"{one.rig}: {one.what}: {one.why}"
            if one.note_id is None:
                picks.append(Pick("", words))
            else:
                picks += [Pick(f"done {one.note_id}", words), Pick(f"drop {one.note_id}", "  it will not be done")]
        known = {one.note_id for one in found if one.note_id is not None}

        def take(text: str | None) -> None:
            if text is not None and (order := _order(text, known)) is not None:
                self._hands.give(order)

        hint = "done 12 or drop 12; an empty line leaves all as it is. u takes it back"
        self._hands.ask(Prompt("to be come back to", hint, "", lambda text: _order(text, known), picks=picks), take)


def _order(text: str, known: set[int]) -> SettleNote | None:
    words = text.split()
    if not words:
        return None
    if len(words) == 2 and words[0] in ("done", "drop") and words[1].isdigit() and int(words[1]) in known:
        return SettleNote(int(words[1]), words[0] == "drop")
    raise Refused(f"{text[:40]!r} is nothing on the list; type it like: done {min(known, default=12)}.")
