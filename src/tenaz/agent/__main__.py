"""``python3 -m tenaz.agent``: the session of this machine; a front begins it, and it ends by itself."""

import sys

from tenaz.agent.answering import stay
from tenaz.agent.front import as_program

if __name__ == "__main__":
    sys.exit(as_program(stay))
