"""How far a measure is, told on the terminal."""

import sys

from tenaz.cli.kit.loudness import is_quiet
from tenaz.cli.kit.options import note, say
from tenaz.core.base.plain_text import plain
from tenaz.core.ports.events import Logged, MeasureEnded, MeasureProgressed, RunEnded


class MeasureTeller:
    """Hears what happens; one line on a terminal is written over and over, elsewhere nothing but the log."""

    def __init__(self) -> None:
        self._live = sys.stderr.isatty()
        self._open = False
        self.trouble = ""
        self.stopped = False
        self.why = ""

    def __call__(self, event: object) -> None:
        """Take an event."""
        match event:
            case MeasureProgressed(progress=told) if self._live:
                far = f"{100 * told.part:3.0f} %  {told.left_s:3.0f} s left at most"
                if not is_quiet():
                    sys.stderr.write(f"\r{far}  {plain(told.doing):<44.44}")
                    sys.stderr.flush()
                    self._open = True
            case MeasureEnded(why=why):
                self.stopped = self.stopped or why.startswith("stopped")
                self.why = why
            case RunEnded(trouble=trouble):
                self.trouble = trouble
            case Logged(text=text):
                self.close()
                note(text)

    def close(self) -> None:
        """Leave the line."""
        if self._open:
            say("", err=True)
        self._open = False
