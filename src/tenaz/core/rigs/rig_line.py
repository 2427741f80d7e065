"""A rig of the workshop in a line."""

from dataclasses import dataclass

from tenaz.core.rigs.rig import BenchKind


@dataclass(frozen=True, slots=True)
class RigLine:
    """``state`` says where things stand; ``waits`` that somebody is waited for; ``failed`` that the newest failed.
    ``story`` is what brought it here, what the eye found, and the exercise, where it is one.
    """

    name: str
    owner: str
    memory: str
    purpose: str
    benches: tuple[BenchKind, ...]
    state: str
    story: str
    waits: bool = False
    failed: bool = False
