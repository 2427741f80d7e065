"""How a trial ended, and what that counts as."""

from enum import StrEnum


class Verdict(StrEnum):
    """What a trial counts as."""

    PASS = "pass"
    FAIL = "fail"
    VOID = "void"

    @property
    def words(self) -> str:
        """As it is said to people."""
        return "does not count" if self is Verdict.VOID else self.value


class Outcome(StrEnum):
    """How a trial ended."""

    HELD = "held"
    ERRED = "erred"
    FROZE = "froze"
    RESTARTED = "restarted"
    STOP_CODE = "stop code"
    PICTURE = "picture faults"
    NO_BOOT = "no boot"
    TOO_HOT = "too hot"
    STOPPED = "stopped"
    LOST = "lost"
    STARVED = "starved"
    UNCHECKED = "unchecked"

    @property
    def verdict(self) -> Verdict:
        """Pass, fail, or void: stopped by hand, kept from its cores, its own checks gone wrong, lost: none of them says
        that the rig failed, or that it held.
        """
        if self is Outcome.HELD:
            return Verdict.PASS
        return Verdict.VOID if self in VOID else Verdict.FAIL

    @property
    def ran_clean(self) -> bool:
        """Whether it ran without a failure as long as it ran: what was verified until then counts as clean time."""
        return self in (Outcome.HELD, Outcome.STOPPED, Outcome.STARVED)

    @property
    def machine_went_down(self) -> bool:
        """Whether the machine itself was gone, so that nothing on it could take notes."""
        return self in (Outcome.FROZE, Outcome.RESTARTED, Outcome.STOP_CODE, Outcome.NO_BOOT)

    @property
    def as_found(self) -> "Outcome":
        """What it counts as where a fault is looked for: a system that stopped itself with a code went down."""
        return Outcome.RESTARTED if self is Outcome.STOP_CODE else self


VOID = (Outcome.STOPPED, Outcome.LOST, Outcome.STARVED, Outcome.UNCHECKED)
"""Ends that are neither a pass nor a failure. ``starved``: other programs had the cores, or it was stopped by a signal;
``unchecked``: an error that was planted to try the load's own check was not found.
"""
