"""The rail on the screen; its lit station is filled."""

import time
from typing import TYPE_CHECKING

from rich.style import Style

from tenaz.core.base.loop import Station
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.status.rail import RailPicture, draw_rail
from tenaz.tui.base.theme import filled
from tenaz.tui.widgets.panel import Panel

if TYPE_CHECKING:
    from tenaz.core.loads.plan import LoadProgress
    from tenaz.core.ports.events import LoadProgressed, MeasureProgressed
    from tenaz.core.scores.measure import MeasureProgress
    from tenaz.core.trials.trial import Trial


class Rail(Panel):
    """Where in the loop the rig stands."""

    DEFAULT_CSS = "Rail { height: 3; padding: 0; }"

    def __init__(self) -> None:
        super().__init__(id="rail")
        self._rig, self._bench = "…", "…"
        self._trial: Trial | None = None
        self._since = time.monotonic()
        self._progress: LoadProgress | None = None
        self._measuring: MeasureProgress | None = None
        self._waiting = False
        self._idle = ""
        self._going_on = False

    def on_mount(self) -> None:
        """Draw it, and keep the station's clock going."""
        self._redraw()
        self.set_interval(1.0, self._tick)

    def _tick(self) -> None:
        if self._trial is not None:
            self._redraw()

    def show_rig(self, rig: str, bench: str) -> None:
        """Name what is worked on."""
        self._rig, self._bench = rig, bench
        self._redraw()

    def show_trial(self, trial: "Trial | None") -> None:
        """Light the station of a trial; None: nothing is under way."""
        before = self._trial.station if self._trial else None
        now = trial.station if trial else None
        if before is not now:
            self._since = time.monotonic()
            self._progress = None
        self._trial, self._measuring = trial, None
        self._redraw()

    def show_measure(self, event: "MeasureProgressed") -> None:
        """Show a measure under way."""
        self._measuring = event.progress
        self._redraw()

    def show_progress(self, event: "LoadProgressed") -> None:
        """Show a load under way."""
        if self._trial is not None and self._trial.station is Station.LOAD and event.trial_id == self._trial.id:
            self._progress = event.progress
            self._redraw()

    def show_waiting(self, waiting: bool) -> None:
        """Whether the loop waits for the technician."""
        self._waiting = waiting
        self._redraw()

    def show_idle(self, text: str, going_on: bool = False) -> None:
        """What stands under the rail while no load runs; ``going_on``: its next trial has not begun."""
        self._idle, self._going_on = text, going_on
        self._redraw()

    def _redraw(self) -> None:
        trial = self._trial
        picture = RailPicture(
            self._rig,
            self._bench,
            trial.station if trial else None,
            trial.number if trial else None,
            time.monotonic() - self._since,
            self._progress,
            self._waiting,
            self._idle,
            self._measuring,
            self._going_on,
        )
        self.show(lambda width, _: draw_rail(picture, width))

    def style_of(self, row: int, text: str) -> Style | None:
        """Fill the lit station."""
        return filled(self.app.theme, Role.LIT) if row == 0 and text.startswith("[") else None
