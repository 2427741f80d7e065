"""Where ``tenaz`` begins: without arguments straight into the workbench, otherwise into the command line."""

import os
import sys

COMPLETION = "_TENAZ_COMPLETE"
"""What a shell sets when it asks for completions."""
INTERRUPTED = 130


def main() -> None:
    """Run Tenaz. An interrupt ends it without a traceback, whenever it comes."""
    try:
        _main()
    except KeyboardInterrupt:
        sys.exit(INTERRUPTED)


def _main() -> None:
    # A shell that asks for completions calls without arguments too.
    if len(sys.argv) == 1 and COMPLETION not in os.environ:
        from tenaz.tui.run import run_workbench  # noqa: PLC0415 - the screen need not wait for the command line

        run_workbench()
    elif sys.argv[1:] == ["demo"]:
        from tenaz.tui.run import run_demo  # noqa: PLC0415

        run_demo()
    else:
        from tenaz.cli.app import app  # noqa: PLC0415

        app()


if __name__ == "__main__":
    main()
