"""``python3 -m tenaz.agent``: the session of this machine; a front begins it, and it ends by itself."""

import sys

from tenaz.agent.answering import stay
from tenaz.core.base.errors import Refused

COULD_NOT_RUN = 2


def main() -> int:
    """Run it; gives its exit status."""
    try:
        return stay()
    except Refused as refused:
        sys.stderr.write(f"{refused}\n")
        return COULD_NOT_RUN


if __name__ == "__main__":
    sys.exit(main())
