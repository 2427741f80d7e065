"""Why a rig was not reached: what the way said, as a word with its remedy; and whether trying again can help."""

from dataclasses import dataclass
from enum import Enum

from tenaz.core.base.errors import Refused
from tenaz.wire.ways import Told, Way

NOT_FOUND, COULD_NOT_RUN = 127, 2
"""Statuses of a shell that found no such program, and of an agent that says why it cannot be one."""


class Why(Enum):
    """What stands between here and the rig."""

    NO_NETWORK = "this machine has no network"
    AWAY = "the rig does not answer"
    STARTING = "the rig is up, and does not take calls yet"
    SETTLED = "trying again does not help"


@dataclass(frozen=True, slots=True)
class Trouble:
    """Why, and in words."""

    why: Why
    words: str

    @property
    def passes(self) -> bool:
        """Whether trying again may help."""
        return self.why is not Why.SETTLED


class Unreached(Refused):
    """The rig was not reached, or went away."""

    def __init__(self, trouble: Trouble) -> None:
        super().__init__(trouble.words)
        self.trouble = trouble


SETTLED = (
    (
        ("identification has changed", "host key verification failed", "no matching host key"),
        "its key is not the one that this machine knows: another machine answers there, or it was set up anew. If that "
        "is so, take the old key out (ssh-keygen -R HOST) and log in once by hand",
    ),
    (
        ("permission denied", "too many authentication failures", "no supported authentication"),
        "it lets nobody in with the keys that your ssh offers: log in by hand, or put your key there (ssh-copy-id)",
    ),
    (("could not resolve", "name or service not known"), "nobody knows that name: write it as your ssh knows it"),
    (("no such identity", "bad configuration", "bad owner or permissions"), "your own ssh does not like its settings"),
    (("no module named", "modulenotfounderror"), "its Tenaz lacks a part: bring it over anew (tenaz wire prepare)"),
    (("no space left", "read-only file system"), "its disk takes nothing: make room there"),
)
"""What ends the trying, by words of it in small letters, and what to do."""

PASSING = (
    (("network is unreachable",), Why.NO_NETWORK),
    (("connection refused", "connection reset", "kex_exchange", "connection closed by"), Why.STARTING),
)


def trouble_of(way: Way, told: Told, passed_over: list[str]) -> Trouble:
    """What an attempt came to, by the way's exit status and words; ``passed_over`` came in place of a conversation."""
    said = "\n".join((told.words, *passed_over)).lower()
    last = next((line.strip() for line in reversed(told.words.splitlines()) if line.strip()), "")
    for words, remedy in SETTLED:
        if any(word in said for word in words):
            return Trouble(Why.SETTLED, f"{way.text}: {remedy}{f' (it says: {last[:200]})' if last else ''}.")
    if told.status == NOT_FOUND or "not found" in said:
        return Trouble(
            Why.SETTLED,
            f"{way.text}: there is no Tenaz there. Bring it over: tenaz wire prepare; a machine without Python is "
            f"started from the stick.",
        )
    if told.status == COULD_NOT_RUN and last:
        return Trouble(Why.SETTLED, f"{way.text}: {last}")
    for passing, why in PASSING:
        if any(word in said for word in passing):
            return Trouble(why, f"{way.text}: {why.value}{f' ({last[:200]})' if last else ''}.")
    return Trouble(Why.AWAY, f"{way.text}: {Why.AWAY.value}{f' ({last[:200]})' if last else ''}.")
