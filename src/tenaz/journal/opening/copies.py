"""The working copy of a book on a server: a file of this machine's, in which everything is read and written, kept in
step with its home by the feed. So a run goes on while the server is away, and a commit costs what a file's costs.
"""

from dataclasses import dataclass

from tenaz.journal.opening.feeding import Feeding
from tenaz.journal.opening.locks import BookLock, BookLooked
from tenaz.journal.opening.server_locks import place_of


@dataclass(slots=True)
class CopyLock:
    """Rigs are held here, among the programs of this machine, and at home, among all."""

    here: BookLock | BookLooked
    feeding: Feeding
    who: str = ""
    """Who works on the rig that could not be had."""

    def hold(self, rig: str) -> bool:
        """Be the one who works on this rig, and no longer on the one before; whether nobody else does."""
        self.who = ""
        if not self.here.hold(rig):
            return False
        if isinstance(self.here, BookLooked):
            return True
        self.who = self.feeding.hold(rig)
        if self.who:
            self.here.let_go()
        return not self.who

    def held_elsewhere(self, rig: str) -> bool:
        """Whether somebody else works on this rig now, on this machine or another."""
        return bool(self.feeding.holder(place_of(rig))) or self.here.held_elsewhere(rig)

    def holder(self, rig: str) -> str:
        """Who does; empty: nobody, or another program of this machine."""
        return self.feeding.holder(place_of(rig))

    def release(self) -> None:
        """Let go of all."""
        self.here.release()
