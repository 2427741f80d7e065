"""What a client tells of a rig, as things that can be ticked; read out of a complaint in words."""

import re
from enum import StrEnum


class Symptom(StrEnum):
    """One thing that was noticed."""

    CRASH = "crash"
    FREEZE = "freeze"
    ERRORS = "errors"
    STUTTER = "stutter"
    ARTEFACTS = "artefacts"
    NO_START = "no-start"
    LESS_MEMORY = "less-memory"
    HOT = "hot"
    WHEN_HOT = "when-hot"
    ONE_PROGRAM = "one-program"

    @property
    def about(self) -> str:
        """In words."""
        return _ABOUT[self]


_ABOUT = {
    Symptom.CRASH: "it goes off or restarts without a message",
    Symptom.FREEZE: "it stands still",
    Symptom.ERRORS: "programs end, files are broken, wrong results",
    Symptom.STUTTER: "it stutters; the system's log has corrected errors",
    Symptom.ARTEFACTS: "wrong dots or blocks on the screen",
    Symptom.NO_START: "at times it does not start",
    Symptom.LESS_MEMORY: "at times it sees less memory",
    Symptom.HOT: "it is hot, or slow under load",
    Symptom.WHEN_HOT: "only when it is warm",
    Symptom.ONE_PROGRAM: "only in one program",
}
_WORDS = {
    Symptom.CRASH: r"crash|goes black|black ?out|restart|reboot|switch(es)? (itself )?off|goes off|shuts? down",
    Symptom.FREEZE: r"fr[eo]+z|hangs?\b|stands? still|locks? up|stuck",
    Symptom.ERRORS: r"\berrors?\b|corrupt|broken files?|wrong results?|programs? (end|close|stop)s?|checksum",
    Symptom.STUTTER: r"stutter|corrected errors?|jerk",
    Symptom.ARTEFACTS: r"art[ei]facts?|dots on|blocks on|stripes|flicker",
    Symptom.NO_START: r"does not (start|boot|come up)|won'?t (start|boot)|no (start|boot|picture)",
    Symptom.LESS_MEMORY: r"less memory|half (of )?(the|its) memory|memory (is )?missing|not all (the )?memory",
    Symptom.HOT: r"\bhot\b|too warm|slow under|throttl|loud",
    Symptom.WHEN_HOT: r"when (it is |it's )?(hot|warm)|after (an|some|a few) hours?|once (it is )?warm|in summer",
    Symptom.ONE_PROGRAM: r"only (in|with) (one|this|that)|one program|one game",
}


def symptoms_in(*texts: str) -> tuple[Symptom, ...]:
    """What a complaint in words tells of."""
    whole = " ".join(texts).lower()[:4000]
    return tuple(one for one in Symptom if re.search(_WORDS[one], whole))
