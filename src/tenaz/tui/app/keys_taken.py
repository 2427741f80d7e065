"""Keys as they are typed: answers of what is asked, keys of the page in sight, a dozen everywhere, letters of menus."""

from typing import Any, Protocol

from textual import events
from textual.app import App

from tenaz.tui.base.commands import BY_ACTION, COMMANDS, LOOKS, Command, command_of
from tenaz.tui.base.menus import menu_of
from tenaz.tui.base.taking_keys import TakesKeys
from tenaz.tui.base.typed_ahead import TypedAhead
from tenaz.tui.screens.modal import Modal
from tenaz.tui.widgets.next_step import NextStep

FINDS = "ctrl+p"
"""Finds anything, as in many programs; nobody sets it."""
STOPS = "stop_run"
VALUES = "0123456789."
"""What a value begins with; a minus does where the knob in hand has values below nought."""


class Typing(Protocol):
    """What is done with what was typed."""

    @property
    def takes_signs(self) -> bool:
        """Whether the knob in hand has values below nought: a minus begins one."""
        ...

    @property
    def page_name(self) -> str:
        """The page in sight."""
        ...

    def action_order(self, name: str, *arguments: object) -> None:
        """Carry out a command."""
        ...

    def means_nothing(self, key: str) -> None:
        """A key that does nothing here was pressed."""
        ...


class KeysTaken:
    """What was typed in a burst comes faster than the prompt that it is meant for: that gets all of it, in order."""

    def __init__(self, app: App[Any], typing: Typing, typed_ahead: TypedAhead) -> None:
        self._app = app
        self._typing = typing
        self._typed_ahead = typed_ahead

    def waits_for_the_book(self, event: events.Key) -> bool:
        """Whether a key that was typed before the book is open can only be looked at then: not what leaves at once."""
        command = command_of(event.key, self._typing.page_name)
        return not (command is not None and command.of_app)

    def take(self, event: events.Key) -> bool:
        """Whether it was dealt with here."""
        app = self._app
        if isinstance(app.screen, TakesKeys):
            gone = isinstance(app.screen, Modal) and app.screen.gone
            return self._behind_an_answer(event) if gone else app.screen.takes(event)
        if len(app.screen_stack) > 1:
            return False
        step = app.query_one(NextStep)
        if self._typed_ahead.takes(event) or step.takes(event.key, event.time):
            return True
        command = command_of(event.key, self._typing.page_name)
        if step.asks:
            return self._while_asked(event, command)
        if command is None:
            return self._otherwise(event)
        # A second Enter of the same hand does not follow what came up after the first.
        return (command.order[0] == "follow_next" and not step.was_read(event.time)) or self._carry_out(command)

    def _behind_an_answer(self, event: events.Key) -> bool:
        """A key that comes before the answered screen is taken away: a stop stops, nothing else is meant by anybody."""
        command = command_of(event.key, self._typing.page_name)
        if command is not None and command.order[0] == STOPS:
            self._app.call_later(self._once_gone, command)
        return True

    def _once_gone(self, command: Command) -> None:
        screen = self._app.screen
        if isinstance(screen, Modal) and screen.gone:
            self._app.call_later(self._once_gone, command)
        elif not isinstance(screen, Modal):
            self._carry_out(command)

    def _while_asked(self, event: events.Key, command: Command | None) -> bool:
        """While a question stands nothing acts but its answers, looking, stopping and leaving."""
        if command is not None and command.order[0] in LOOKS:
            return self._carry_out(command)
        return event.is_printable or event.key in ("enter", "ctrl+y", FINDS)

    def _carry_out(self, command: Command) -> bool:
        """A key of a command acts here and now: on its way over the widgets the next keys would overtake it."""
        if command.of_app:
            return False
        name, steps = command.order
        self._typing.action_order(name, *steps)
        return True

    def _otherwise(self, event: events.Key) -> bool:
        menu = menu_of(event.key, [command.key for command in COMMANDS])
        typed = "-" if event.character == "−" else event.character or ""
        if event.key == FINDS:
            self._typing.action_order(BY_ACTION["find_anything"].action)
        elif menu is not None:
            self._typing.action_order("show_menu", menu.letter)
        elif typed and (typed in VALUES or (typed == "-" and self._typing.takes_signs)):
            self._typing.action_order("type_value", typed)
        elif event.is_printable:
            self._typing.means_nothing(typed)
        else:
            return False
        return True
