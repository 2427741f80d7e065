"""``program`` in a worker: a program of the technician's own, again and again, judged by exit status and output."""

import os
import signal
import subprocess
import tempfile
import time

from tenaz.core.loading import MismatchKind
from tenaz.loads.spec import Spec
from tenaz.loads.worker import Line

LISTEN_EVERY_S = 0.05
LINES_KEPT = 20
"""Of the end of its output."""
MOST_KEPT_BYTES = 64 * 1024
"""Of its output, what is judged."""
END_GRACE_S = 0.3


def run(spec: Spec, line: Line) -> float:
    """Run after run; one that fails is told with the last line that it wrote. No shell: arguments go as they are."""
    plan = spec.plan
    line.wait_for_go(address=0, bytes=0, locked=0)
    runs, kept = 0, tuple[str, ...]()
    while not line.stopping and runs != plan.laps:
        with tempfile.TemporaryFile() as output:
            try:
                process = subprocess.Popen(
                    plan.command, stdin=subprocess.DEVNULL, stdout=output, stderr=output, start_new_session=True
                )
            except OSError as error:
                said = f"{plan.command[0]} could not be started: {error.strerror}"
                line.wrong_word(runs + 1, 0, (0, 127, 127), MismatchKind.COMPUTED, said)
                return float(runs)
            while process.poll() is None and not line.stopping:
                line.idle(float(runs), f"run {runs + 1}, process {process.pid}")
                time.sleep(LISTEN_EVERY_S)
            ended = process.poll()
            if ended is None:
                _end(process)
                return float(runs)
            output.seek(max(0, output.seek(0, os.SEEK_END) - MOST_KEPT_BYTES))
            text = output.read().decode(errors="replace")
        runs += 1
        if kept != (kept := tuple(text.splitlines()[-LINES_KEPT:])):
            # What it wrote goes into the book; runs that write the same again add nothing.
            for written in kept:
                line.note(f"run {runs}: {written}")
        if said := judged(ended, text, plan.bad_words, plan.good_words):
            line.wrong_word(runs, 0, (0, ended & 0xFF, ended & 0xFF), MismatchKind.COMPUTED, said)
        line.worked(float(runs), 3600e9, f"run {runs} done")
    return float(runs)


def judged(status: int, text: str, bad_words: str, good_words: str) -> str:
    """What is wrong with a run, with the last line that it wrote; empty when nothing is."""
    last = next((one.strip() for one in reversed(text.splitlines()) if one.strip()), "it wrote nothing")
    if status:
        how = f"ended by {signal.Signals(-status).name}" if status < 0 else f"ended with status {status}"
        return f"{how}: {last}"
    if bad_words and bad_words in text:
        return f"wrote {bad_words!r}"
    return f"did not write {good_words!r}: {last}" if good_words and good_words not in text else ""


def _end(process: "subprocess.Popen[bytes]") -> None:
    """End it with everything that it started."""
    for how in (signal.SIGTERM, signal.SIGKILL):
        try:
            os.killpg(process.pid, how)
            process.wait(END_GRACE_S)
        except (ProcessLookupError, subprocess.TimeoutExpired):
            continue
        return
