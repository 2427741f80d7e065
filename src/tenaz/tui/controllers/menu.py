"""The keys that open the menus and the line that finds everything, and what is chosen there."""

from collections.abc import Callable

from tenaz.tui.base.commands import BY_ACTION
from tenaz.tui.base.hands import Hands
from tenaz.tui.base.menus import Entry
from tenaz.tui.prompts.find_anything import anything_prompt, the_one, things_of
from tenaz.tui.screens.menu import MenuScreen
from tenaz.tui.session.workspace import Workspace


class MenuController:
    """Opens both; ``order`` carries out a command, ``why_not`` says why one makes no sense now."""

    def __init__(
        self, work: Workspace, hands: Hands, order: Callable[..., object], why_not: Callable[[str], str]
    ) -> None:
        self._work, self._hands = work, hands
        self._order, self._why_not = order, why_not

    def show_menu(self, letter: str = "") -> None:
        """All menus, or the one of a letter."""

        def take(entry: Entry | None) -> None:
            if entry is not None:
                self._do(entry.action, entry.arguments)

        self._hands.ask(MenuScreen(self._why_not, letter), take)

    def find_anything(self) -> None:
        """One line that finds all there is."""
        things = things_of(self._work, self._why_not)

        def take(text: str | None) -> None:
            if text is not None:
                self._do(*the_one(things, text).do)

        self._hands.ask(anything_prompt(things), take)

    def tell_word(self, means: str) -> None:
        """Say what a word means."""
        self._hands.tell(means)

    def _do(self, action: str, arguments: tuple[object, ...]) -> None:
        command = BY_ACTION.get(action)
        if command is not None and command.of_app:
            self._hands.act(command.action)
        else:
            self._order(action, *arguments)
