"""The workbench at work: on a book, alone or joined to what was left running there; or on a demo book."""

import gc
import os
import shutil
import sys
import tempfile
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.core.base.errors import TenazError
from tenaz.core.base.systems import owns
from tenaz.journal.opening.places import file_of, working_file_of
from tenaz.tui.app.apart import Apart
from tenaz.tui.app.app import DEMO, Staying, Workbench
from tenaz.tui.app.leaving import STAY

if TYPE_CHECKING:
    from multiprocessing.connection import Listener

    from tenaz.workshop.shop.door import Door
    from tenaz.workshop.shop.shop import Workshop

LEFT_RUNNING = "What runs goes on in the background; start tenaz again to join it."
DEMO_FOLDER = "tenaz-demo-"
COLLECTED_AFTER = (20_000, 50, 100)
"""Objects, and rounds, between two looks of the garbage collector: with a large book each whole look is a tenth of a
second in which no key is answered.
"""


def work_on(book: str | None, apart: Apart, rig: str = "") -> int:
    """Until it is left; gives the exit status. ``rig`` is which to begin with; else the one that was worked on last."""
    gc.set_threshold(*COLLECTED_AFTER)
    file, away = working_file_of(book), file_of(book) is None
    doors: list[Listener] = []
    own: list[Workshop] = []
    guests: list[bool] = []
    """Not empty: what runs elsewhere was joined, and its door is open already."""

    def opening(publish: Callable[[object], None]) -> "Door":
        from tenaz.workshop.shop.joining import join  # noqa: PLC0415 - the first picture must not wait for the database
        from tenaz.workshop.shop.shop import Workshop  # noqa: PLC0415

        apart.follow()
        workshop = Workshop(publish)
        workshop.open(book, rig=rig)
        if workshop.at.look_only:
            # Somebody works on that rig: where it was left running here it is joined.
            joined = join(file, workshop.rig.name, publish)
            if joined is not None:
                workshop.close()
                guests.append(True)
                return joined
        own.append(workshop)
        return workshop

    def open_door() -> None:
        from tenaz.workshop.shop.staying import listen  # noqa: PLC0415 - only what is left running needs it

        if not doors and not guests:
            doors.append(listen(file, own[0].rig.name))

    def serve(workshop: "Door") -> None:
        from tenaz.workshop.shop.shop import Workshop  # noqa: PLC0415 - it is there by now
        from tenaz.workshop.shop.staying import Staying as Served  # noqa: PLC0415 - only what is left running needs it

        if not isinstance(workshop, Workshop):
            return
        with suppress(TenazError):
            # Where the terminal went away nobody can be told: what runs is run to its end all the same.
            open_door()
        Served(workshop, doors[0] if doors else None).serve()

    def left_running(of_rig: str) -> bool:
        from tenaz.workshop.shop.staying import socket_of  # noqa: PLC0415 - it is there by now

        with suppress(TenazError):
            return socket_of(file, of_rig).exists()
        return False

    staying = Staying(serve, apart.let_go, open_door, left_running)
    workbench = Workbench(opening, book=file, staying=staying, shared=away)
    left_for = _run(workbench)
    if left_for == DEMO:
        work_on_demo()
    elif left_for is not None and left_for.startswith(STAY):
        # Behind the word may stand the rig that is worked on next.
        following = left_for.removeprefix(STAY)
        if following and not (own and own[0].at.runs):
            apart.followed_by(following)
            return 0
        apart.let_go("" if following else LEFT_RUNNING, following)
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


def work_on_demo(rig: str = "") -> None:
    """On a demo book that is thrown away afterwards, on one of its rigs."""
    sweep_demos()
    throw_away = tempfile.TemporaryDirectory(prefix=f"{DEMO_FOLDER}{os.getpid()}-")
    with throw_away as folder:
        place = Path(folder) / "demo.db"

        def opening(publish: Callable[[object], None]) -> "Door":
            from tenaz.orders import ChooseRig  # noqa: PLC0415
            from tenaz.workshop.errands.demo_book import make_demo_book  # noqa: PLC0415
            from tenaz.workshop.shop.shop import Workshop  # noqa: PLC0415

            make_demo_book(place)
            workshop = Workshop(publish)
            workshop.open(place)
            if rig:
                workshop.do(ChooseRig(rig))
            return workshop

        _run(Workbench(opening, throw_away.cleanup, demo=True))


def sweep_demos() -> None:
    """Remove demo books that were left behind by a demo that was killed."""
    for folder in Path(tempfile.gettempdir()).glob(f"{DEMO_FOLDER}*-*"):
        owner = folder.name.removeprefix(DEMO_FOLDER).partition("-")[0]
        with suppress(OSError):
            gone = owner.isdigit() and not Path(f"/proc/{owner}").exists()
            if gone and owns(folder.stat().st_uid) and not folder.is_symlink():
                shutil.rmtree(folder)
