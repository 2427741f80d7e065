"""The first look shown when the workbench comes up, and taken when it is left."""

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from tenaz.tui.app.first_look import SHOWN, FirstLook, drawn, find, keep, rows_of
from tenaz.tui.widgets.next_step import NextStep
from tenaz.tui.widgets.panel import Panel
from tenaz.tui.widgets.rail import Rail

if TYPE_CHECKING:
    from collections.abc import Callable

    from textual.app import App

    from tenaz.tui.base.desk import Desk
    from tenaz.tui.pages.day import DayPage
    from tenaz.workshop.looking.view import View


LEFT_HERE = " · as it was left here; the server is asked"


class Glance:
    """``book`` is the file that is opened; None: no look is kept, as of a book that is thrown away. ``day`` gives the
    day as it was shown last. Of a ``shared`` book the file is our copy: what others wrote meanwhile comes with
    the opening, and that is said.
    """

    def __init__(
        self, book: Path | None, day: "Callable[[], DayPage | None]" = lambda: None, shared: bool = False
    ) -> None:
        self._book, self._day, self._shared = book, day, shared

    def show(self, app: "App[Any]") -> None:
        """Show what the book showed when it was closed, where that is still so."""
        look = find(self._book, (app.size.width, app.size.height)) if self._book is not None else None
        if look is None:
            return
        for name, rows in look.panels.items():
            app.query_one(f"#{name}", Panel).show(partial(drawn, rows))
        rig, bench, idle = look.rail
        rail = app.query_one(Rail)
        rail.show_rig(rig, bench)
        rail.show_idle(f"{idle}{LEFT_HERE if self._shared else ''}")
        if not self._shared:
            # What comes next may be another thing by now, and is not to be answered before it is known.
            app.query_one(NextStep).suggest(*look.next_step)

    def take(self, app: "App[Any]", desk: "Desk") -> None:
        """Draw what the book will show at its next opening, from the last view of it, and keep that. Called when the
        book is closed: nothing can change any more.
        """
        view = desk.last_view
        if self._book is None or view is None or not _at_rest(view):
            return
        from tenaz.tui.pages.day import DayPage  # noqa: PLC0415 - the first picture does not wait for it
        from tenaz.tui.session.panels import Panels  # noqa: PLC0415 - the first picture does not wait for it
        from tenaz.tui.session.workspace import Workspace  # noqa: PLC0415

        work, day = Workspace.on(view), self._day()
        if day is not None:
            work.pages.of(DayPage).as_known_to(day)
        # Whoever leaves a page on which one dials comes back to one that has the width of the knobs besides.
        more = app.query_one("#tracks", Panel).outer_size.width
        panels = Panels(app, desk, work, lambda: None)
        panels.show()
        found = {name: app.query_one(f"#{name}", Panel) for name in SHOWN}
        found = {name: panel for name, panel in found.items() if name in work.pages.shown.beside or name != "tracks"}
        if all(panel.size.area for panel in found.values()):
            rows = {
                name: rows_of(panel.drawn(panel.size.width + (more if name == "page" else 0), panel.size.height))
                for name, panel in found.items()
            }
            rail = (view.rig.name, view.bench.value, panels.idle_words())
            words = (work.coming.headline, work.coming.why)
            keep(self._book, FirstLook((app.size.width, app.size.height), rows, rail, words))


def _at_rest(view: "View") -> bool:
    """Whether everything that is shown follows from the book alone."""
    return not (view.now.running or view.now.unfinished or view.book.read_only or view.book.unread)
