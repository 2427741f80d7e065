"""What is asked for on the question path: work on parts, labels, symptoms."""

from typing import TYPE_CHECKING

from tenaz.core.parts.acts import ACTS, BEFORE_PARTS, Act, work
from tenaz.core.parts.fitting import Fitting, fitting_of, name_of
from tenaz.core.parts.works import EXAMPLE, KINDS, PartState, parse_label
from tenaz.core.rigs.rig import Rig
from tenaz.finding.symptoms import Symptom, symptoms_in
from tenaz.pictures.drawing.marks import Role
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt

if TYPE_CHECKING:
    from tenaz.workshop.looking.view import View


def parts_prompt(view: "View", fitting: Fitting | None, text: str = "", first: bool = False) -> Prompt:
    """One piece of work, or several with ``;`` between; ``first``: it is to be done before the load begins."""
    rig, known = view.rig, fitting or fitting_of(view.rig)
    slots = "  ".join(f"{one.slot} {name_of(one) if one.fitted else 'empty'}" for one in known.modules)
    aside = f"\naside: {'  '.join(name_of(one) for one in known.aside)}" if known.aside else ""
    if first:
        title = f"do this now: {text}"
        hint = f"{slots}{aside}\n{BEFORE_PARTS}\nEnter when it is done: it is written down, and the load begins"
    elif view.bench.real:
        title = f"what was done to the parts of {rig.name}?"
        hint = f"{slots}{aside}\n{BEFORE_PARTS}\ndo it, then type it: later trials ran on that; u takes it back"
    else:
        title = f"work on the parts of {rig.name}"
        hint = f"{slots}{aside}"
    picks = [Pick(_typed(act, known), f"{act.minutes:>3g} min  {act.about}") for act in ACTS]
    cores = max(1, rig.cores_known)
    return Prompt(title, hint, text, lambda typed: work(known, cores, typed), picks=() if first else picks)


def _typed(act: Act, fitting: Fitting) -> str:
    """An act as it is typed, of parts that are here."""
    slots = [one.slot.replace(" ", "_") for one in (*fitting.fitted, *fitting.modules)]
    others = [slot for slot in slots if slot != slots[0]] or slots
    aside = [one.serial for one in fitting.aside if one.serial]
    free = [one.slot.replace(" ", "_") for one in fitting.modules if not one.fitted]
    words = act.typed.replace("0042 A2", f"{aside[0]} {(free or slots)[0]}" if aside else f"0042 {slots[0]}")
    return words.replace("B1", others[0]).replace("A2", slots[0])


def label_prompt(begun: str) -> Prompt:
    """A label on a part."""
    picks = [Pick(f"{begun}{state}", "", "", Role.FAINT) for state in PartState] if begun else []
    hint = f"like: {EXAMPLE}\nparts are {', '.join(KINDS)}; a serial that you write on it is its name"
    return Prompt("a label on a part", hint, begun, parse_label, select=False, picks=picks)


def symptom_prompt(rig: Rig) -> Prompt:
    """What was noticed: one is ticked, or ticked off."""
    ticked = symptoms_in(rig.complaint) if rig.symptoms is None else tuple(Symptom(one) for one in rig.symptoms)
    picks = [
        Pick(one.value, f"{'●' if one in ticked else '·'} {one.about}", "", Role.LIT if one in ticked else Role.FAINT)
        for one in Symptom
    ]
    picks.append(Pick("anew", "  read the complaint in the rig's form anew", "", Role.FAINT))
    names = {one.text for one in picks}

    def check(text: str) -> str:
        from tenaz.core.base.errors import Refused  # noqa: PLC0415

        if text.strip() not in names:
            raise Refused(f"{text.strip()[:20]!r} is none of these; pick one with ↑ ↓.")
        return text

    return Prompt("what was noticed? one is ticked, or ticked off", rig.complaint, "", check, picks=picks)
