"""How the workbench looks and which keys it hears: as set, for the terminal that is there."""

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from textual.binding import Binding, BindingsMap

from tenaz.settings.glimpse import glimpse
from tenaz.tui.base.bridge import Bridge
from tenaz.tui.base.commands import COMMANDS, rebind
from tenaz.tui.base.signs import StandIns, plain_meant
from tenaz.tui.base.theme import THEMES, theme_for
from tenaz.tui.widgets.panel import Panel

if TYPE_CHECKING:
    from textual.app import App

    from tenaz.settings.model import Settings

WAYS_OUT = tuple(Binding(key, "quit", show=False, priority=True) for key in ("ctrl+q", "ctrl+c"))
"""Keys that every terminal application has. Nobody sets these."""


class Looks:
    """Theme, signs, keys, and how often what runs is drawn anew."""

    def __init__(self, app: "App[Any]") -> None:
        self._app = app
        seen = glimpse()
        look = seen.get("screen", {})
        for theme in THEMES:
            app.register_theme(theme)
        app.theme = theme_for(str(look.get("theme")), app.console.color_system)
        self.stand_ins = StandIns(plain_meant(look.get("signs")))
        self.bridge = Bridge(app.post_message, self._backlog)
        self.bridge.take_rate(look.get("updates_hz"))
        self.refused = self._bind(seen.get("keys", {}))
        """What was set as a key and cannot be one."""

    def take(self, settings: "Settings") -> None:
        """Look and answer as was set."""
        self._app.theme = theme_for(settings.screen.theme, self._app.console.color_system)
        self.stand_ins.enabled = plain_meant(settings.screen.signs)
        self.bridge.take_rate(settings.screen.updates_hz)
        self.refused = self._bind(settings.keys)
        self._app.refresh(layout=True)
        for panel in self._app.query(Panel):
            panel.refresh()

    def _bind(self, keys: Mapping[str, str]) -> tuple[str, ...]:
        """Each command by its key, as it is usual or was set; gives what cannot be a key, in words."""
        refused = rebind(keys)
        # All others are taken as they are typed: a binding would overtake the keys before it.
        self._app._bindings = BindingsMap(WAYS_OUT)
        for command in COMMANDS:
            if command.of_app and command.key:
                self._app.bind(command.key, command.binding, description=command.help, show=False)
        return refused

    def _backlog(self) -> int:
        """How much was drawn that the terminal has not taken yet."""
        writer = getattr(self._app._driver, "_writer_thread", None)
        return writer._queue.qsize() if writer is not None else 0
