"""Where ``tenaz`` begins: with no more than a book straight into the workbench, otherwise into the command line."""

import io
import os
import signal
import sys

COMPLETION = "_TENAZ_COMPLETE"
"""What a shell sets when it asks for completions."""
BOOK = "TENAZ_BOOK"
"""Names the book where no option does."""
LEAST_FLAG, MOST_READ = "pni", 16384
"""What the kernel calls SSE3; how much of its words on processors is read."""
ONE_THREAD = ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS")
INTERRUPTED, ENDED_BY_SIGNAL, COULD_NOT_RUN = 130, 128, 2


def main() -> None:
    """Run Tenaz. An interrupt ends it without a traceback, whenever it comes, and so does what nobody foresaw."""
    # With python -m the present folder stands first, and a file there would be taken for a module.
    here = os.path.realpath(os.curdir)
    sys.path[:] = [path for path in sys.path if path and os.path.realpath(path) != here]
    for name in ONE_THREAD:
        # What is judged takes milliseconds; threads of its own would only take cores from the load that runs.
        os.environ.setdefault(name, "1")
    for number in (getattr(signal, name) for name in ("SIGTERM", "SIGHUP") if hasattr(signal, name)):
        # As an exit, so that what is thrown away afterwards is, and the terminal is left as it was.
        signal.signal(number, lambda number, _: sys.exit(ENDED_BY_SIGNAL + number))
    for stream in (sys.stdout, sys.stderr):
        # Where the locale lacks a sign, the sign is missing; nothing ends because of that.
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="replace")
    try:
        _main()
    except KeyboardInterrupt:
        sys.exit(INTERRUPTED)
    except BrokenPipeError:
        # Whoever read the output has had enough, like head: that is no error, and there is nobody to tell.
        os._exit(0)
    except Exception as error:  # noqa: BLE001 - it is told, and the rest goes on
        from tenaz.workshop.bench.mishaps import told  # noqa: PLC0415 - only what goes wrong needs it

        sys.stderr.write(f"{told(error, 'What is in the book stays.')}\n")
        sys.exit(COULD_NOT_RUN)


def _refuse_lesser_processors() -> None:
    """End with a word where libraries would die of an instruction that the processor does not have, without one."""
    try:
        with open("/proc/cpuinfo", encoding="ascii", errors="replace") as file:  # noqa: PTH123 - nothing is loaded yet
            told = file.read(MOST_READ)
    except OSError:
        return
    flags = next((line.split(":", 1)[1].split() for line in told.splitlines() if line.startswith("flags")), [])
    if flags and LEAST_FLAG not in flags:
        sys.stderr.write(
            "This processor lacks SSE3, which Tenaz needs: any 64-bit x86 processor made since 2005 has it. Nothing "
            "was begun.\n"
        )
        sys.exit(COULD_NOT_RUN)


def _main() -> None:
    _refuse_lesser_processors()
    # A shell that asks for completions calls without arguments too.
    given = sys.argv[1:]
    only_a_book = len(given) == 2 and given[0] == "--book" and not given[1].startswith("-")
    if (not given and COMPLETION not in os.environ) or only_a_book:
        from tenaz.tui.app.run import run_workbench  # noqa: PLC0415 - the screen need not wait for the command line

        run_workbench(given[1] if only_a_book else os.environ.get(BOOK) or None)
    elif given == ["agent"] and not sys.stdin.isatty():
        from tenaz.agent.front import main as answer  # noqa: PLC0415 - a machine under load has no room for more

        sys.exit(answer())
    elif given == ["demo"]:
        from tenaz.tui.app.run import run_demo  # noqa: PLC0415

        run_demo()
    else:
        from tenaz.cli.app import app  # noqa: PLC0415

        app()


if __name__ == "__main__":
    main()
