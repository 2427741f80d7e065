"""What is sure enough for what: to go on, to work around, to replace, to claim, to hand back."""

from tenaz.core.base.amounts import show_chance
from tenaz.finding.belief import Belief
from tenaz.finding.causes import NOTHING, CauseKind, Part, Suspect
from tenaz.finding.enough import NOTHING_SURE, SURE, Diagnosis, Enough


def verdict(belief: Belief) -> Diagnosis:
    """Of the likeliest suspect."""
    suspect, sure = belief.suspects[0]
    if suspect == NOTHING:
        enough = Enough.HAND_BACK if sure >= NOTHING_SURE else Enough.GO_ON
        words = "nothing of what is looked at is at fault" if enough is Enough.HAND_BACK else "not sure enough yet"
        return Diagnosis(enough, suspect, sure, f"{words} ({show_chance(sure)})")
    enough = next(
        (one for one in (Enough.CLAIM, Enough.REPLACE, Enough.WORK_AROUND) if sure >= SURE[one]), Enough.GO_ON
    )
    if enough is not Enough.GO_ON and suspect.part in AROUND:
        enough = Enough.WORK_AROUND
    elif enough is Enough.WORK_AROUND:
        enough = Enough.GO_ON
    elif enough is Enough.CLAIM and suspect.part not in CLAIMED:
        enough = Enough.REPLACE
    about = belief.kinds_of(suspect)[0][0].kind
    return Diagnosis(enough, suspect, sure, _words(enough, suspect, about, sure))


CLAIMED = (Part.MODULE, Part.SUPPLY, Part.BOARD, Part.SLOT, Part.CHANNEL)
AROUND = (Part.CORE, Part.SETTING, Part.CONTACT, Part.CONTROLLER)
"""Nobody replaces these first."""

REMEDY = {
    Part.MODULE: "another module of the same kind; then full capacity and a long proof",
    Part.SLOT: "leave the slot empty, or another board; then full capacity as far as it goes",
    Part.CONTACT: "clean both sides, seat anew, and let it stay away long enough",
    Part.CHANNEL: "use the other channel, or another board",
    Part.CORE: "the core off, its clock lower, or a little more voltage on it; then prove it again",
    Part.COOLER: "take it off, clean it, new paste; then measure it again",
    Part.SUPPLY: "another supply",
    Part.BOARD: "another board; until then a limit on the power",
    Part.CONTROLLER: "a step less data rate, or a step more controller voltage; in the end another processor",
    Part.SETTING: "one large cut of the clocks, then creep back",
}


def _words(enough: Enough, suspect: Suspect, about: CauseKind, sure: float) -> str:
    if enough is Enough.GO_ON:
        return f"{suspect.show()} is likeliest ({show_chance(sure)}), not sure enough yet"
    return f"{suspect.show()} ({show_chance(sure)}): {about.about}. {enough.value.capitalize()}: {REMEDY[suspect.part]}"
