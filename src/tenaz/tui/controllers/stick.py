"""The stick: aboard it the standing order and how the machine is left; elsewhere, making one."""

from typing import TYPE_CHECKING

from tenaz.aboard.standing import AfterFailure, StandingOrder
from tenaz.core.base.errors import Refused
from tenaz.core.loads.plan import show_duration
from tenaz.core.parts.isolation import Rung, RungState
from tenaz.core.ports.events import RunEnded, StandingPaused
from tenaz.orders import ClimbLadder, FollowStanding, LeaveMachine, SetKeyboard, StandBy
from tenaz.stick.keyboards import LAYOUTS
from tenaz.tui.base.hands import Hands
from tenaz.tui.pages.load import LoadPage
from tenaz.tui.pages.memory import MemoryPage
from tenaz.tui.screens.aboard import AboardQuestion, SquareCode
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt
from tenaz.tui.session.starting import Starting
from tenaz.tui.session.workspace import Workspace

if TYPE_CHECKING:
    from tenaz.workshop.shop.aboard import AboardView


class StickController:
    """Asks once when it comes up; then follows the standing order until somebody stops it or it has ended."""

    def __init__(self, work: Workspace, hands: Hands, starting: Starting) -> None:
        self._work = work
        self._hands = hands
        self._starting = starting
        self._following = self._asks_again = self._ends = False

    @property
    def aboard(self) -> "AboardView | None":
        """What is to be seen of the stick; None: this is none."""
        return self._work.view.aboard

    def begin(self) -> None:
        """The first question, where this is the stick."""
        if self.aboard is not None and not self._work.view.book.read_only:
            self.show_stick()

    def show_stick(self, somebody: bool = False) -> None:
        """Aboard: go on, another standing order, restart, off; where ``somebody`` is there nothing counts down.
        Elsewhere: make a stick.
        """
        seen = self.aboard
        if seen is None:
            self._make()
            return
        question = self._work.view.now.question
        story = (*(question.lines if question else ()), f"standing order: {seen.standing.show()}")
        if seen.kept_free:
            kept = " and ".join(span.show() for span in seen.kept_free)
            story = (*story, f"this start keeps free of the kernel: {kept}")
        if seen.trouble:
            story = (seen.trouble, *story)
        if seen.ladder is not None:
            story = (*story, *map(_rung, seen.ladder.rungs))
        if seen.lockdown:
            story = (
                *story,
                "Started under Secure Boot: the processor's registers cannot be read; some clocks are missing.",
            )
        waits = somebody or self._work.busy or seen.coming.startswith("nothing:")
        self._hands.ask(AboardQuestion(self._work.view.rig.name, story, seen.coming, waits, seen.ended), self._take)

    def _take(self, choice: str | None) -> None:
        match choice:
            case "go":
                self._follow()
            case "change":
                self._change()
            case "ladder":
                self._follow(ClimbLadder())
            case "code" if self.aboard is not None and self.aboard.ended is not None:
                self._hands.ask(SquareCode(self.aboard.ended), lambda _: self.show_stick(somebody=True))
            case "code":
                self._hands.complain("There is a code to photograph once the standing order has ended.")
            case "keyboard":
                self._choose_keyboard()
            case "restart" | "off":
                self._hands.give(LeaveMachine(choice == "restart"))
                self._hands.leave()

    def _follow(self, order: FollowStanding | ClimbLadder = FollowStanding()) -> None:  # noqa: B008 - frozen
        # Whoever typed values in has plans with them: after that trial it waits.
        self._ends = False
        self._following = not (self.aboard is not None and self.aboard.takes_up)
        self._work.pages.show(LoadPage)
        self._hands.bring_page_forward()
        self._starting.start(order, priced=True)

    def see(self) -> None:
        """A fresh view came: what was asked before another standing order was typed is asked again; what came of one
        that has ended is shown, to be read from a metre away.
        """
        ended = self._ends and self.aboard is not None and self.aboard.ended is not None
        if self._asks_again or ended:
            self._asks_again = self._ends = False
            self.show_stick(somebody=True)

    def hear(self, event: object) -> None:
        """A load of the standing order has ended: what comes next; it has paused: nothing does."""
        match event:
            case StandingPaused(text=text, leaves=leaves):
                self._following = self._work.busy = False
                self._hands.tell(text, "the stick")
                if leaves:
                    self._hands.leave()
                else:
                    self._ends = True
                    self._work.pages.show(MemoryPage)
                    self._hands.show()
                    self._hands.look()
            case RunEnded(trouble=trouble) if self._following:
                self._following = not trouble
                if self._following:
                    self._starting.start(FollowStanding(), priced=True)

    def stopped(self) -> None:
        """Somebody stopped what runs: nothing goes on by itself."""
        self._following = False

    def _change(self) -> None:
        seen = self.aboard
        if seen is None:
            return
        text = standing_text(seen.standing)
        hint = (
            "loads in turn; then, after a bar: how many starts (0: until stopped), turns or still (another range of "
            "memory with each start, or always the same), what after a failure (go on, repeat, stop), how many in a row"
        )

        def take(typed: str | None) -> None:
            if typed is None:
                self.show_stick()
            else:
                self._asks_again = True
                self._hands.give(StandBy(parse_standing(typed)))

        self._hands.ask(Prompt("the standing order", hint, text, parse_standing, select=False), take)

    def _choose_keyboard(self) -> None:
        seen = self.aboard
        if seen is None or not seen.keyboards:
            self._hands.complain("This console has no other layouts of the keyboard.")
            return

        def check(text: str) -> None:
            if text.strip() not in seen.keyboards:
                raise Refused(f"{text.strip()!r} is none of them: {', '.join(seen.keyboards)}.")

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.give(SetKeyboard(text.strip()))
            self.show_stick(somebody=True)

        picks = [Pick(name, LAYOUTS[name].about if name in LAYOUTS else "") for name in seen.keyboards]
        title = f"the keyboard, now {seen.keyboards[0]}"
        self._hands.ask(Prompt(title, "it is remembered on the stick", "", check, picks=picks, at=0), take)

    def _make(self) -> None:
        from tenaz.tui.screens.make_stick import MakeStick, stick_prompt  # noqa: PLC0415 - seldom needed

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.ask(MakeStick(text), lambda words: self._hands.tell(words) if words else None)

        self._hands.ask(stick_prompt(), take)


SIGNS = {RungState.NOTHING: "◇", RungState.HELD: "●", RungState.FAILED: "✗"}


def _rung(rung: Rung) -> str:
    ran = f" ({show_duration(rung.seconds)})" if rung.seconds else ""
    return f"  {SIGNS[rung.shown]} {rung.words}: {rung.shown}{ran}"


def standing_text(standing: StandingOrder) -> str:
    """The line that :func:`parse_standing` reads."""
    turns = "turns" if standing.by_turns else "still"
    return f"{standing.routine} | {standing.starts} | {turns} | {standing.after} | {standing.most_failures}"


def parse_standing(text: str) -> StandingOrder:
    """A standing order as it is typed.

    Raises:
        Refused: names the part that is not understood, and what it may be.
    """
    parts = [part.strip() for part in text.split("|")]
    usual = [*map(str.strip, standing_text(StandingOrder()).split("|"))]
    routine, starts, turns, after, most = (*parts, *usual[len(parts) :])[:5]
    if not starts.isdigit() or not most.isdigit() or not int(most):
        raise Refused(f"{starts!r} starts and at most {most!r} failures: both are whole numbers, the second 1 or more.")
    if turns not in ("turns", "still"):
        raise Refused(f"{turns!r} is neither turns nor still.")
    if after not in tuple(AfterFailure):
        raise Refused(f"{after!r} is nothing to do after a failure; it may be: {', '.join(AfterFailure)}.")
    made = StandingOrder(routine, turns == "turns", int(starts), AfterFailure(after), int(most))
    made.check()
    return made
