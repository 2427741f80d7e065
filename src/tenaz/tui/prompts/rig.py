"""What is asked for as a line of text about a rig."""

from collections.abc import Sequence

from tenaz.core.base.errors import Refused
from tenaz.core.rigs.rig import Rig
from tenaz.intake.rig_form import blank_rig
from tenaz.tui.screens.prompt import Prompt


def new_rig_from(text: str, known: Sequence[str]) -> Rig:
    """A blank rig from its name and kind of memory, like ``back office DDR4``.

    Raises:
        Refused: a name that is taken or cannot be one, or no kind of memory.
    """
    name, _, kind = text.strip().rpartition(" ")
    if not name and kind:
        raise Refused(f"Say the kind of memory too, like: {kind} DDR5.")
    rig = blank_rig(name, kind)
    if rig.name in known:
        raise Refused(f"The book has a rig {rig.name} already; give this one another name.")
    return rig


def new_rig_prompt(known: Sequence[str]) -> Prompt:
    """The name of a new rig."""
    return Prompt(
        "a new rig: its name and its kind of memory",
        "like: back office DDR4  ·  the name is what you call it in the workshop",
        "",
        lambda text: new_rig_from(text, known),
    )
