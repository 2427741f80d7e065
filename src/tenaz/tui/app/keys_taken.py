"""Keys as they are typed: a digit begins a value, a key of a command acts at once, the rest is the widgets'."""

from typing import Any, Protocol

from textual import events
from textual.app import App

from tenaz.tui.base.commands import BY_ACTION, COMMANDS
from tenaz.tui.base.taking_keys import TakesKeys
from tenaz.tui.base.typed_ahead import TypedAhead
from tenaz.tui.widgets.next_step import NextStep

FINDS = "ctrl+p"
"""Finds anything, as in many programs; nobody sets it."""


class Typing(Protocol):
    """What is done with what was typed."""

    @property
    def takes_signs(self) -> bool:
        """Whether the knob in hand has values below nought: a minus begins one."""
        ...

    def action_order(self, name: str, *arguments: object) -> None:
        """Carry out a command."""
        ...


class KeysTaken:
    """What was typed in a burst comes faster than the prompt that it is meant for: that gets all of it, in order."""

    def __init__(self, app: App[Any], typing: Typing, typed_ahead: TypedAhead) -> None:
        self._app = app
        self._typing = typing
        self._typed_ahead = typed_ahead

    def take(self, event: events.Key) -> bool:
        """Whether it was dealt with here.

        Digits begin a value, from 1 on, and a minus where the knob in hand has values below nought; 0 dials stock,
        Enter follows what is next.
        """
        app = self._app
        if isinstance(app.screen, TakesKeys):
            return app.screen.takes(event)
        if len(app.screen_stack) > 1:
            return False
        if self._typed_ahead.takes(event):
            return True
        typed = "" if event.key == "enter" else event.character
        if typed in ("-", "−") and self._typing.takes_signs:
            typed = "-"
        elif typed == "-":
            self._typing.action_order("zoom_time", 200)
            return True
        if typed is None or typed not in ("", "-", *"0123456789"):
            return app.query_one(NextStep).takes(event.key) or self._take_command(event.key)
        self._typing.action_order(*{"0": ("dial_stock",), "": ("follow_next",)}.get(typed, ("type_value", typed)))
        return True

    def _take_command(self, key: str) -> bool:
        """A key of a command acts here and now: on its way over the widgets the next keys would overtake it."""
        command = next((one for one in COMMANDS if one.key == key and not one.of_app), None)
        if key == FINDS:
            command = BY_ACTION["find_anything"]
        if command is None:
            return False
        name, steps = command.order
        self._typing.action_order(name, *steps)
        return True
