"""How the workbench fits its window: side by side, narrow, folded, or too small."""

from typing import TYPE_CHECKING, Any

from textual.geometry import Size
from textual.widgets import Static

from tenaz.tui.widgets.keys import KeyBar

if TYPE_CHECKING:
    from textual.app import App

SMALLEST = (80, 24)
ROOMY = (126, 30)
"""Below that width the evidence takes turns with the knobs, by the key that shows the next panel."""
NARROW = (100, 30)
"""Below that the panels fold: one at a time."""

PANELS = ("page", "tracks", "evidence", "log")
BESIDE = ("page", "evidence")
"""Panels that take turns in a narrow window: as a rule the knobs stand beside the page."""


class Folding:
    """Which panel is shown where not all have room."""

    def __init__(self, app: "App[Any]") -> None:
        self._app = app
        self._shown = PANELS[0]
        self._narrow = False

    def fit(self, size: Size) -> None:
        """Fold on a small screen; say so on one that is too small."""
        width, height = size
        too_small = width < SMALLEST[0] or height < SMALLEST[1]
        folded = not too_small and (width < NARROW[0] or height < NARROW[1])
        self._narrow = not too_small and not folded and width < ROOMY[0]
        screen = self._app.screen_stack[0]
        for name, now in (("small", too_small), ("folded", folded), ("narrow", self._narrow)):
            screen.set_class(now, name)
        self._app.query_one(KeyBar).fold(folded or self._narrow)
        self._app.query_one("#small", Static).update(
            f"Tenaz needs {SMALLEST[0]}×{SMALLEST[1]} cells; this window has {width}×{height}.\n"
            f"Make it larger, or its letters smaller. Nothing is lost, and what runs goes on."
        )
        self.show(self._shown)

    def next(self) -> None:
        """The next panel."""
        among = BESIDE if self._narrow else PANELS
        at = among.index(self._shown) if self._shown in among else 0
        self.show(among[(at + 1) % len(among)])

    def show(self, panel: str) -> None:
        """A panel by its name."""
        self._shown = panel
        for name in PANELS:
            self._app.screen_stack[0].set_class(name == panel, f"panel-{name}")
