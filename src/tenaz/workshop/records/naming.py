"""Setpoints by name: stock, one that was saved, or that of a trial."""

import re

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.workshop.bench.at_work import AtWork


def setpoint_named(at: AtWork, name: str) -> Setpoint:
    """The setpoint of a name.

    Raises:
        Refused: there is none; says which there are.
    """
    wanted = name.strip()
    if wanted.lower() == "stock":
        return at.rig.stock
    saved = {one.name: one.setpoint for one in at.store.sheets.saved(at.rig.name)}
    if wanted in saved:
        return saved[wanted]
    if found := re.fullmatch(r"(?:trial\s+)?#?(\d+)", wanted, re.IGNORECASE):
        trial = next((one for one in at.trials.trials if one.number == int(found[1])), None)
        if trial is not None:
            return trial.setpoint
    known = ", ".join(("stock", *saved, "trial N"))
    raise Refused(f"{at.rig.name} has no setpoint {name!r} on this bench; there are: {known}.")
