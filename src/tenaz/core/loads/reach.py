"""What a load really got at: share of memory, cache level, cores, mode. Evidence counts for its reach only."""

from dataclasses import dataclass

from tenaz.core.loads.kinds import CacheLevel, LoadKind, MarchMode, Strains

MODES, LEVELS = tuple(MarchMode), tuple(CacheLevel)

ROUNDING = 0.005
"""Shares are told in whole percent."""


@dataclass(frozen=True, slots=True)
class Reach:
    """``share`` is the part of all memory that was gone over at least once, ``cores`` the part of the cores that
    worked, both 0 to 1; ``level`` where the data lived; ``mode`` what was done about caches. None: not known, or
    nothing asked.
    """

    share: float | None = None
    cores: float | None = None
    level: CacheLevel | None = None
    mode: MarchMode | None = None

    def short_of(self, least: "Reach") -> str:
        """Why this is less than what is asked, in words; empty where it is not. What is not known counts as reached:
        older records know only their plans.
        """
        if least.share is not None and self.share is not None and self.share < least.share - ROUNDING:
            return f"{self.share:.0%} of memory, {least.share:.0%} asked"
        if least.cores is not None and self.cores is not None and self.cores < least.cores - ROUNDING:
            return f"{self.cores:.0%} of the cores, {least.cores:.0%} asked"
        if least.mode is not None and self.mode is not None and MODES.index(self.mode) < MODES.index(least.mode):
            return f"{self.mode}, {least.mode} asked"
        if least.level is not None and self.level is not None and LEVELS.index(self.level) < LEVELS.index(least.level):
            return f"in {self.level}, {least.level} asked"
        return ""

    def show(self) -> str:
        """Like ``90 % of memory, blocks``; empty where nothing is known."""
        parts = []
        if self.share is not None:
            parts.append(f"{self.share:.0%} of memory")
        if self.cores is not None and self.cores < 1 - ROUNDING:
            parts.append(f"{self.cores:.0%} of the cores")
        if self.level is not None:
            parts.append(f"in {self.level}")
        if self.mode is not None and self.mode is not MarchMode.CACHED:
            parts.append(self.mode.value)
        return ", ".join(parts)


ANY_REACH = Reach()
"""Nothing asked, or nothing known."""

LEAST_USUAL = {Strains.MEMORY: Reach(share=0.4), Strains.CPU: Reach(cores=1.0)}
"""What a purpose asks for where nothing else was said."""


def least_usual(kind: LoadKind) -> Reach:
    """The least reach of a kind of load that counts, where a purpose does not say."""
    return LEAST_USUAL.get(kind.strains, ANY_REACH)
