"""What one load of a trial really did: measured, or in the technician's words."""

from dataclasses import dataclass

from tenaz.core.loads.kinds import CacheLevel, LoadKind, MarchMode, Strains
from tenaz.core.loads.reach import Reach


@dataclass(frozen=True, slots=True)
class LoadFact:
    """``share`` is the part of all memory that it was given, or ``size_bytes`` the bytes; ``covered`` the part of that,
    0 to 1, that it went over at least once. ``rate`` is the mean in the kind's unit. ``cores`` are those that it ran
    on, ``of_cores`` how many there are (0: not known), ``cards`` the graphics cards, for a load of theirs. ``by_hand``
    says that these are the technician's words.
    """

    kind: LoadKind
    seconds: float
    covered: float = 1.0
    laps: float = 0.0
    rate: float = 0.0
    failed_after_s: float | None = None
    share: float | None = None
    size_bytes: int | None = None
    mode: MarchMode | None = None
    level: CacheLevel | None = None
    level_to: CacheLevel | None = None
    workers: int = 0
    cores: tuple[int, ...] = ()
    of_cores: int = 0
    by_hand: bool = False
    cards: tuple[int, ...] = ()

    @property
    def shown(self) -> bool:
        """Whether anything was verified, or somebody says so: time in which nothing was says nothing."""
        return self.by_hand or self.covered > 0

    @property
    def reach(self) -> Reach:
        """What it got at."""
        part = min(1.0, len(set(self.cores)) / self.of_cores) if self.cores and self.of_cores else None
        if self.kind.declared.takes_turns:
            part = (part or 1.0) * self.covered
        memory = self.kind.strains is Strains.MEMORY
        return Reach(
            share=None if self.share is None or not memory else self.share * self.covered,
            cores=None if memory or self.kind.declared.on_cards else part,
            level=self.level_to or self.level,
            mode=self.mode,
        )
