"""Opens the workbench on a book."""

import os
import shutil
import sys
import tempfile
from collections.abc import Callable
from contextlib import suppress
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, cast

from tenaz.journal.places import file_of
from tenaz.tui.apart import Apart, detach, run_apart
from tenaz.tui.app import DEMO, Staying, Workbench
from tenaz.tui.leaving import STAY

COULD_NOT_RUN = 2

if TYPE_CHECKING:
    from tenaz.workshop.shop import Workshop


def refuse_without_terminal() -> None:
    """End with a word where there is no terminal to draw on and to hear keys from."""
    if not (sys.stdin.isatty() and sys.__stderr__ is not None and sys.__stderr__.isatty()):
        sys.stderr.write(
            "The workbench needs a terminal, and this is none. Without a screen: tenaz --help lists the commands.\n"
        )
        sys.exit(COULD_NOT_RUN)


DEMO_RIGS = ("ridge", "hut", "sled")


def refuse_unknown(rig: str) -> None:
    """End with a word where the demo has no such rig."""
    if rig and rig not in DEMO_RIGS:
        sys.stderr.write(f"The demo has no rig {rig[:40]!r}; it has: {', '.join(DEMO_RIGS)}.\n")
        sys.exit(COULD_NOT_RUN)


def run_workbench(book: str | None = None) -> None:
    """Open the workbench on the book at this place (None: the usual one); where something was left running on it, join
    that.
    """
    refuse_without_terminal()
    status = run_apart(partial(_work_on, book))
    if status:
        sys.exit(status)


def _work_on(book: str | None, apart: Apart) -> int:
    file = file_of(book)

    def opening(publish: Callable[[object], None]) -> "Workshop":
        from tenaz.workshop.joining import join  # noqa: PLC0415 - the first picture must not wait for the database
        from tenaz.workshop.shop import Workshop  # noqa: PLC0415

        joined = join(file, publish) if file is not None else None
        if joined is not None:
            return cast("Workshop", joined)
        workshop = Workshop(publish)
        workshop.open(book)
        return workshop

    def serve(workshop: "Workshop") -> None:
        from tenaz.workshop.staying import stay_on  # noqa: PLC0415 - only what is left running needs it

        if file is not None and hasattr(workshop, "running"):
            stay_on(file)(workshop)

    staying = None if file is None else Staying(serve, detach)
    workbench = Workbench(opening, book=file, staying=staying)
    left_for = _run(workbench)
    if left_for == DEMO:
        run_demo()
    elif left_for == STAY:
        apart.let_go("What runs goes on in the background; start tenaz again to join it.")
        workbench.desk.stay()
        workbench.desk.wait()
    return 0


def _run(workbench: Workbench) -> str | None:
    """Until it is left, with what it is left for; a start that failed, or an end from outside, is an exit status of its
    own.
    """
    left_for = workbench.run()
    if workbench.return_code:
        sys.exit(workbench.return_code)
    return left_for


DEMO_FOLDER = "tenaz-demo-"


def sweep_demos() -> None:
    """Remove demo books that were left behind by a demo that was killed."""
    for folder in Path(tempfile.gettempdir()).glob(f"{DEMO_FOLDER}*-*"):
        owner = folder.name.removeprefix(DEMO_FOLDER).partition("-")[0]
        with suppress(OSError):
            gone = owner.isdigit() and not Path(f"/proc/{owner}").exists()
            if gone and folder.stat().st_uid == os.getuid() and not folder.is_symlink():
                shutil.rmtree(folder)


def run_demo(rig: str = "") -> None:
    """Open the workbench on a demo book that is thrown away afterwards, on one of its rigs."""
    refuse_unknown(rig)
    refuse_without_terminal()
    sweep_demos()
    throw_away = tempfile.TemporaryDirectory(prefix=f"{DEMO_FOLDER}{os.getpid()}-")
    with throw_away as folder:
        place = Path(folder) / "demo.db"

        def opening(publish: Callable[[object], None]) -> "Workshop":
            from tenaz.workshop.demo_book import make_demo_book  # noqa: PLC0415
            from tenaz.workshop.orders import ChooseRig  # noqa: PLC0415
            from tenaz.workshop.shop import Workshop  # noqa: PLC0415

            make_demo_book(place)
            workshop = Workshop(publish)
            workshop.open(place)
            if rig:
                workshop.do(ChooseRig(rig))
            return workshop

        _run(Workbench(opening, throw_away.cleanup, demo=True))
