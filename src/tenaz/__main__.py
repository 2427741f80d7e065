"""Where ``tenaz`` begins: without arguments straight into the workbench, otherwise into the command line."""

import sys


def main() -> None:
    """Run Tenaz."""
    if len(sys.argv) == 1:
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
