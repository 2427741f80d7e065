"""Whether a card does what it is asked: ``python -m tenaz.loads.graphics.answering CARD`` says yes or no."""

import os
import sys

from tenaz.core.base.errors import Refused
from tenaz.loads.graphics.opened import OpenCard


def main() -> None:
    """Ask it."""
    try:
        yes = OpenCard(int(sys.argv[1])).answers()
    except Refused:
        yes = False
    sys.stdout.write("yes\n" if yes else "no\n")


if __name__ == "__main__":
    main()
    sys.stdout.flush()
    # A driver that falls over while it is taken down says nothing any more.
    os._exit(0)
