"""Exit statuses, one table: what each says, for help, the guide and tests."""

from tenaz.cli.kit.options import COULD_NOT_RUN, DOES_NOT_COUNT, NOT_ONCE_THROUGH, STOPPED_BY_HAND

STATUSES = {
    0: "done, told, held: all as it was asked for",
    1: "done, and the answer is no: it failed, is not proven, has moved, was found damaged, is not known",
    COULD_NOT_RUN: "could not be: a word on standard error says why and what to do; nothing was changed",
    NOT_ONCE_THROUGH: "a load held, and ended before it had gone once over what it goes over",
    DOES_NOT_COUNT: "a load that neither held nor failed: other programs had its cores, or its own check failed",
    STOPPED_BY_HAND: "stopped by an interrupt, or a trial that does not count",
}
"""By number; of each command its help names those that it has."""


def statuses_text() -> str:
    """The table as Markdown."""
    return "\n".join(["| status | |", "|---|---|", *(f"| {number} | {words} |" for number, words in STATUSES.items())])
