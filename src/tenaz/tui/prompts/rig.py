"""What is asked for as a line of text about a rig."""

from collections.abc import Sequence

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.rigs.rig import Rig
from tenaz.intake.rig_form import blank_rig
from tenaz.tui.screens.prompt import Prompt


def new_rig_from(text: str, known: Sequence[str]) -> Rig:
    """A blank rig from its name, and its kind of memory where that is said too, like ``back office DDR4``.

    Raises:
        Refused: a name that is taken or cannot be one.
    """
    name, _, kind = text.strip().rpartition(" ")
    told = bool(name) and Family.named(kind) is not None
    rig = blank_rig(name, kind) if told else blank_rig(text.strip(), Family.DDR5)
    if rig.name in known:
        raise Refused(f"The book has a rig {rig.name} already; give this one another name.")
    return rig


def new_rig_prompt(known: Sequence[str]) -> Prompt:
    """The name of a new rig."""
    return Prompt(
        "a new rig: its name",
        "like: back office  ·  what you call it in the workshop; all else is asked for in its form",
        "",
        lambda text: new_rig_from(text, known),
    )
