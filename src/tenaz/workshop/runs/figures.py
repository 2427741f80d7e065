"""Figures of the workshop while it is worked in: a file when a trial has ended, an address while a book is open."""

import threading
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.announcing.hooks import Hooks
from tenaz.core.base.errors import TenazError
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.looking.figures import figures_of

if TYPE_CHECKING:
    from tenaz.announcing.figures import Served


class Figures:
    """Nothing of it is loaded where nobody set that figures are told."""

    def __init__(self, at_work: AtWork, complain: Callable[[str], None]) -> None:
        self._at, self._complain = at_work, complain
        self._served: Served | None = None
        self._writing = threading.Lock()

    def begin(self, hooks: Hooks) -> None:
        """Show them from now on, where that is set."""
        if not hooks.port or self._served is not None:
            return
        from tenaz.announcing.figures import Served  # noqa: PLC0415 - only who collects figures has what it needs

        try:
            self._served = Served(hooks.port, lambda: figures_of(self._at.store, self._at.clock.utc()))
        except TenazError as error:
            self._complain(str(error))

    def ended(self, hooks: Hooks) -> None:
        """A trial has ended: write them anew, where that is set, beside the work."""
        if hooks.figures:
            threading.Thread(target=self._write, args=(Path(hooks.figures).expanduser(),), name="figures").start()

    def _write(self, path: Path) -> None:
        from tenaz.announcing.figures import write_figures  # noqa: PLC0415

        with self._writing:
            try:
                write_figures(path, figures_of(self._at.store, self._at.clock.utc()))
            except TenazError as error:
                self._complain(str(error))

    def end(self) -> None:
        """Show them no longer; what is being written is written."""
        with self._writing:
            served, self._served = self._served, None
        if served is not None:
            served.close()
