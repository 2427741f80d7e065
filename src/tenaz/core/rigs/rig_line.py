"""A rig of the workshop in a line."""

from dataclasses import dataclass

from tenaz.core.rigs.rig import BenchKind


@dataclass(frozen=True, slots=True)
class RigLine:
    """``state`` says where things stand; ``waits_for`` what somebody is waited for (empty: for nothing), ``found`` what
    a night or another search came to, as long as nothing was tried since, ``next_step`` what comes next; ``failed``
    that the newest failed. ``running`` says what runs on it now, here or elsewhere, and how far that is. ``story`` is
    what brought it here, what the eye found, and the exercise, where it is one. ``held_by`` is who else works on it.
    """

    name: str
    owner: str
    memory: str
    purpose: str
    benches: tuple[BenchKind, ...]
    state: str
    story: str
    failed: bool = False
    waits_for: str = ""
    found: str = ""
    next_step: str = ""
    running: str = ""
    held_by: str = ""

    @property
    def waits(self) -> bool:
        """Whether somebody is waited for."""
        return bool(self.waits_for)
