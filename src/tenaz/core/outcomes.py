"""How a trial ended, and what that counts as."""

from enum import StrEnum


class Verdict(StrEnum):
    """What a trial counts as."""

    PASS = "pass"
    FAIL = "fail"
    VOID = "void"


class Outcome(StrEnum):
    """How a trial ended."""

    HELD = "held"
    ERRED = "erred"
    FROZE = "froze"
    RESTARTED = "restarted"
    NO_BOOT = "no boot"
    TOO_HOT = "too hot"
    STOPPED = "stopped"
    LOST = "lost"

    @property
    def verdict(self) -> Verdict:
        """Pass, fail, or void: stopped by hand and lost say nothing about the rig."""
        if self is Outcome.HELD:
            return Verdict.PASS
        return Verdict.VOID if self in (Outcome.STOPPED, Outcome.LOST) else Verdict.FAIL

    @property
    def machine_went_down(self) -> bool:
        """Whether the machine itself was gone, so that nothing on it could take notes."""
        return self in (Outcome.FROZE, Outcome.RESTARTED, Outcome.NO_BOOT)
