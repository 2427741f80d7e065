"""The Day picture: how far the work on a rig has come, stage by stage, and where everything stands now."""

from dataclasses import dataclass
from enum import StrEnum


class StageState(StrEnum):
    """How far a stage is."""

    DONE = "done"
    BEGUN = "begun"
    FAILED = "failed"
    TO_COME = "to come"


@dataclass(frozen=True, slots=True)
class Stage:
    """One stage of the work: its name, how far it is, what came of it or what it needs."""

    name: str
    state: StageState
    words: str


@dataclass(frozen=True, slots=True)
class DayPicture:
    """``stages`` in their order; ``stands`` are lines of where things are: a heading each, and words."""

    title: str
    story: str
    stages: tuple[Stage, ...]
    stands: tuple[tuple[str, str, bool], ...]
    """Heading, words, and whether it is something to look at first."""

    @property
    def now(self) -> int:
        """The stage to work on: the first that is not done."""
        return next(
            (place for place, one in enumerate(self.stages) if one.state is not StageState.DONE), len(self.stages) - 1
        )
