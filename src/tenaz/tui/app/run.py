"""Starts the workbench. What it needs is imported in the process that works, so that the one that waits stays small."""

import sys

from tenaz.tui.app.apart import Apart, run_apart

COULD_NOT_RUN = 2
DEMO_RIGS = ("ridge", "hut", "sled", "press")


def refuse_without_terminal() -> None:
    """End with a word where there is no terminal to draw on and to hear keys from."""
    if not (sys.stdin.isatty() and sys.__stderr__ is not None and sys.__stderr__.isatty()):
        sys.stderr.write(
            "The workbench needs a terminal, and this is none. Without a screen: tenaz --help lists the commands.\n"
        )
        sys.exit(COULD_NOT_RUN)


def refuse_unknown(rig: str) -> None:
    """End with a word where the demo has no such rig."""
    if rig and rig not in DEMO_RIGS:
        sys.stderr.write(f"The demo has no rig {rig[:40]!r}; it has: {', '.join(DEMO_RIGS)}.\n")
        sys.exit(COULD_NOT_RUN)


def run_workbench(book: str | None = None, rig: str = "") -> None:
    """Open the workbench on the book at this place (None: the usual one), at a rig where one is named; where something
    was left running on it, join that.
    """
    refuse_without_terminal()

    def work(apart: Apart, at_rig: str) -> int:
        from tenaz.tui.app.working import work_on  # noqa: PLC0415 - see above

        return work_on(book, apart, at_rig)

    status = run_apart(work, rig)
    if status:
        sys.exit(status)


def run_demo(rig: str = "") -> None:
    """Open the workbench on a demo book that is thrown away afterwards, on one of its rigs."""
    refuse_unknown(rig)
    refuse_without_terminal()
    from tenaz.tui.app.working import work_on_demo  # noqa: PLC0415 - see above

    work_on_demo(rig)
