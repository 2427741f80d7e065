"""A memory profile that is asked for: one that the modules store, or a line as their label has it."""

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.machine.profiles import MemoryProfile, profile_in_words, profiles_of
from tenaz.core.rigs.rig import Rig
from tenaz.core.rigs.trade_line import EXAMPLE, is_trade_line, with_trade_line
from tenaz.tui.prompts.loads import may_be_dialled
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt


def profile_dialled(text: str, rig: Rig, setpoint: Setpoint) -> Setpoint:
    """The setpoint with a profile, by its name, or with a line in trade notation.

    Raises:
        Refused: neither, or a value that may not be set.
    """
    wanted = text.strip().lower()
    named = next((one for one in _stored(rig) if wanted in (one.name, str(one.rate_mts))), None)
    if named is not None:
        moved, has = setpoint, {knob.name: knob for knob in rig.knobs}
        for name, value in named.values:
            if name in has:
                moved = moved.replacing(name, has[name].nearest_alike(value))
    elif is_trade_line(text):
        moved = with_trade_line(text, rig, setpoint)
    else:
        known = ", ".join(one.name for one in _stored(rig)) or "none"
        raise Refused(f"{text.strip()[:40]!r} is no profile that the modules store ({known}); or type it: {EXAMPLE}.")
    return may_be_dialled(moved, rig, setpoint)


def profile_prompt(rig: Rig, setpoint: Setpoint) -> Prompt:
    """Which profile is to be dialled."""
    stored = _stored(rig)
    picks = [Pick(one.name, one.show(), "the fastest of their standard" if one.base else "") for one in stored]
    told = profile_in_words(rig.machine) if rig.machine else ""
    return Prompt(
        "a memory profile",
        f"as the label of the modules says, like: {EXAMPLE}" + (f"\n{told}" if told else ""),
        "",
        lambda text: profile_dialled(text, rig, setpoint),
        picks=picks,
    )


def _stored(rig: Rig) -> tuple[MemoryProfile, ...]:
    return profiles_of(rig.machine) if rig.machine else ()
