"""What hands do to the parts of a simulated rig, asked for as a line of text."""

from tenaz.core.rigs import Rig
from tenaz.simulated.acts import ACTS, check_act, slots_of
from tenaz.tui.screens.prompt import Prompt


def parts_prompt(rig: Rig) -> Prompt:
    """One act; the slots as they are filled, and all acts with the minutes that they take."""
    acts = "\n".join(f"{act.typed:<12} {act.minutes:>3g} min  {act.about}" for act in ACTS)
    slots = "  ".join(f"{one.slot} {one.serial or one.part if one.fitted else 'empty'}" for one in slots_of(rig))
    title = f"work on the parts of {rig.name}"
    return Prompt(title, f"{slots}\n\n{acts}", "", lambda text: check_act(rig, text))
