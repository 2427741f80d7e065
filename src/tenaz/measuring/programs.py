"""A program of the technician's own, run once for a figure in what it says: within limits, and with all that it starts.

It runs below a process of its own (``python -m tenaz.measuring.programs``), which adopts whatever the program leaves
behind and ends it. The figure is looked for there too: a search that runs away takes nothing along.
"""

import json
import os
import selectors
import signal
import subprocess
import sys
import time

from tenaz.core.base.amounts import show_bytes, show_duration
from tenaz.core.base.errors import Refused
from tenaz.core.scores.own_figures import found_in
from tenaz.loads.families import adopt_orphans, die_with_parent, end_family

MOST_S = 3600.0
"""How long one run may take where nobody says."""

MOST_WRITTEN_BYTES, KEPT_BYTES = 256 * 2**20, 2**20
"""What a run may write, and what of the end of it is searched."""

SEARCH_S = 10
"""How long the search for the figure may take."""

LISTEN_EVERY_S = 0.2


def run_for(command: list[str], pattern: str, most_s: float = MOST_S) -> float:
    """Run a program once; the figure that the pattern finds in what it says, on either output.

    Raises:
        Refused: it cannot be run, fails, takes or writes too much, or does not say the figure.
    """
    asked = json.dumps({"command": command, "pattern": pattern, "most_s": most_s})
    below = [sys.executable, "-P", "-m", "tenaz.measuring.programs", asked]
    process = subprocess.Popen(below, stdin=subprocess.DEVNULL, stdout=subprocess.PIPE, preexec_fn=die_with_parent)  # noqa: PLW1509 - one call of the system
    try:
        told, _ = process.communicate()
    except BaseException:
        # Asked to end, it ends what it started.
        process.terminate()
        process.wait()
        raise
    if process.returncode == -signal.SIGALRM:
        raise Refused(
            f"The search for {pattern!r} did not end within {SEARCH_S} s: a pattern in which one repeat stands inside "
            f"another runs away. Give one like: took ([0-9.]+) s"
        )
    try:
        came = json.loads(told)
    except ValueError:
        raise Refused(f"{command[0]} was ended from outside: a run that fails has no figure.") from None
    if "refused" in came:
        raise Refused(str(came["refused"]))
    return float(came["value"])


def _said(command: list[str], most_s: float) -> str:
    """The end of what a program says, when it is over and nothing of it runs any more."""
    until = time.monotonic() + most_s
    try:
        process = subprocess.Popen(
            command,
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            start_new_session=True,
            preexec_fn=die_with_parent,  # noqa: PLW1509 - one call of the system, nothing that a thread could hold
        )
    except OSError as error:
        raise Refused(f"{command[0]} cannot be run: {error.strerror}.") from error
    assert process.stdout is not None
    written, kept = 0, b""
    with process.stdout, selectors.DefaultSelector() as selector:
        selector.register(process.stdout, selectors.EVENT_READ)
        while True:
            if selector.select(LISTEN_EVERY_S):
                read = os.read(process.stdout.fileno(), 1 << 16)
                written, kept = written + len(read), (kept + read)[-KEPT_BYTES:]
                if not read:
                    break
            elif process.poll() is not None:
                # What it left running may hold its output open for ever.
                break
            if written > MOST_WRITTEN_BYTES:
                raise Refused(f"{command[0]} wrote more than {show_bytes(MOST_WRITTEN_BYTES)} and was ended.")
            if time.monotonic() > until:
                raise Refused(
                    f"{command[0]} was not done within {show_duration(most_s)} and was ended; --limit gives it more."
                )
    while process.poll() is None:
        if time.monotonic() > until:
            raise Refused(f"{command[0]} was not done within {show_duration(most_s)} and was ended.")
        time.sleep(LISTEN_EVERY_S / 4)
    if process.returncode:
        raise Refused(f"{command[0]} ended with status {process.returncode}: a run that fails has no figure.")
    return kept.decode(errors="replace")


def _end_all(_number: int, _frame: object) -> None:
    end_family()
    os._exit(1)


def main() -> None:
    """Run the program named on the command line, and print what was found."""
    asked = json.loads(sys.argv[1])
    adopt_orphans()
    signal.signal(signal.SIGTERM, _end_all)
    signal.signal(signal.SIGINT, _end_all)
    try:
        try:
            said = _said(asked["command"], asked["most_s"])
        finally:
            end_family()
        # The search cannot be interrupted from within: the kernel ends it.
        signal.alarm(SEARCH_S)
        came: dict[str, object] = {"value": found_in(said, asked["pattern"])}
        signal.alarm(0)
    except Refused as refused:
        came = {"refused": str(refused)}
    print(json.dumps(came))


if __name__ == "__main__":
    main()
