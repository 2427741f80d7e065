"""Opens the workbench on a book."""

import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.tui.app import Workbench

if TYPE_CHECKING:
    from tenaz.workshop.shop import Workshop


def run_workbench(book: str | None = None) -> None:
    """Open the workbench on the book at this place (None: the usual one)."""

    def opening(publish: Callable[[object], None]) -> "Workshop":
        from tenaz.workshop.shop import Workshop  # noqa: PLC0415 - the first picture must not wait for the database

        workshop = Workshop(publish)
        workshop.open(book)
        return workshop

    Workbench(opening).run()


def run_demo() -> None:
    """Open the workbench on a demo book that is thrown away afterwards."""
    with tempfile.TemporaryDirectory(prefix="tenaz-demo-") as folder:
        place = Path(folder) / "demo.db"

        def opening(publish: Callable[[object], None]) -> "Workshop":
            from tenaz.workshop.demo_book import make_demo_book  # noqa: PLC0415
            from tenaz.workshop.shop import Workshop  # noqa: PLC0415

            make_demo_book(place)
            workshop = Workshop(publish)
            workshop.open(place)
            return workshop

        Workbench(opening).run()
