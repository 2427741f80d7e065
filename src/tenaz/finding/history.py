"""Where a part sat in each trial and how these ended: its history, in words."""

from collections.abc import Sequence
from itertools import groupby

from tenaz.core.parts.fitting import Fitting
from tenaz.finding.causes import Part, Suspect
from tenaz.finding.sightings import FaultSighting


def history(suspect: Suspect, sightings: Sequence[FaultSighting]) -> str:
    """Like ``B1 in trials 1 to 17 (2 failed), aside in 18, B1 alone in 20 (1 failed)``; empty where there is none."""
    told = []
    for where, ones in groupby(sightings, key=lambda one: _where(suspect, one.fitting)):
        seen = list(ones)
        failed = sum(one.failed for one in seen)
        numbers = f"trial {seen[0].number}" if len(seen) == 1 else f"trials {seen[0].number} to {seen[-1].number}"
        told.append(f"{where} in {numbers}" + (f" ({failed} failed)" if failed else ""))
    return ", ".join(told)


def _where(suspect: Suspect, fitting: Fitting) -> str:
    alone = " alone" if len(fitting.fitted) == 1 else ""
    if suspect.part is Part.MODULE:
        slot = fitting.sitting(suspect.place)
        return f"{slot}{alone}" if slot else "aside"
    if suspect.part is Part.SLOT:
        module = next((one for one in fitting.fitted if one.slot == suspect.place), None)
        return f"{module.serial or module.part}{alone}" if module else "empty"
    return _other(suspect, fitting)


def _other(suspect: Suspect, fitting: Fitting) -> str:
    if suspect.part is Part.CORE:
        return "off" if int(suspect.place) in fitting.cores_off else "on"
    if suspect.part is Part.COOLER:
        return f"cleaned {fitting.cleanings}×" if fitting.cleanings else "as it came"
    if suspect.part is Part.SUPPLY:
        return f"supply {fitting.supplies + 1}" if fitting.supplies else "as it came"
    return "there"
