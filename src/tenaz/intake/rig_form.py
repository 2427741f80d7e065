"""A rig as lines to fill in by hand: what is asked, how it is shown, and how it is read back."""

from collections.abc import Mapping
from dataclasses import replace

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.machine.machine import Machine
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.intake.form.machine import OF_THE_MACHINE
from tenaz.intake.form.purpose import OF_THE_PURPOSE
from tenaz.intake.form.reaching import OF_THE_WAY
from tenaz.intake.new_rigs import rig_from

ENTRIES = (*OF_THE_MACHINE, *OF_THE_PURPOSE, *OF_THE_WAY)


class WrongEntry(Refused):
    """One line cannot be taken; ``key`` names it."""

    def __init__(self, key: str, text: str) -> None:
        super().__init__(text)
        self.key = key


def texts_of(rig: Rig) -> dict[str, str]:
    """What stands in each line, by key."""
    return {entry.key: entry.read(rig) for entry in ENTRIES}


def filled_in(rig: Rig, texts: Mapping[str, str]) -> Rig:
    """The rig with the lines as they were typed; lines that were not changed change nothing.

    Raises:
        WrongEntry: the first line that cannot be taken.
    """
    before = texts_of(rig)
    for entry in ENTRIES:
        typed = texts[entry.key].strip()
        if typed != before[entry.key]:
            try:
                rig = entry.write(rig, typed)
            except Refused as refused:
                raise WrongEntry(entry.key, f"{entry.label}: {refused}") from refused
    return rig


def blank_rig(name: str, kind: str) -> Rig:
    """A rig of which only the name and the kind of memory are known, reached by hand.

    Raises:
        Refused: a name that cannot be one, or a kind that is not known.
    """
    if not name.strip() or len(name.strip()) > 80:
        raise Refused("A rig needs a name of 1 to 80 letters.")
    sketch = rig_from(Machine(), name.strip(), (BenchKind.HAND,), memory=Family.typed(kind))
    return replace(sketch, machine=None)
