"""What to order or claim: the part that is at fault, the one that fits in its place, and the evidence, on one sheet."""

import json
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from tenaz.catalogues.writing import write_whole
from tenaz.core.base.amounts import show_sure
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.names import DATA_RATE, MEMORY_VDD, MEMORY_VDDQ, MEMORY_VPP, T_CL, T_RAS, T_RC, T_RCD, T_RP
from tenaz.core.knobs.setpoint import Auto
from tenaz.core.machine.machine import MemoryModule
from tenaz.core.machine.spd import Spd
from tenaz.core.parts.fitting import channel_of, name_of
from tenaz.core.rigs.rig import Rig
from tenaz.finding.causes import Part, Suspect
from tenaz.finding.enough import SURE, Enough
from tenaz.finding.history import history
from tenaz.finding.reasons import Reason, sighting_in_words
from tenaz.finding.sightings import FaultSighting
from tenaz.pictures.drawing.paper import check_path
from tenaz.pictures.drawing.paper_head import SIMULATED
from tenaz.pictures.find.model import FindPicture
from tenaz.press.leaf import Block, Leaf, Letterhead, Say, Table
from tenaz.press.leaf_text import as_text
from tenaz.press.size import PaperSize
from tenaz.press.typeset import as_pdf

ENDINGS = (".txt", ".pdf", ".json")
PAIR = (1.0, 3.2)
TIMINGS = (T_CL, T_RCD, T_RP, T_RAS, T_RC)
SUPPLIES = (MEMORY_VDD, MEMORY_VDDQ, MEMORY_VPP)
NOBODYS = Letterhead()


@dataclass(frozen=True, slots=True)
class ClaimPaper:
    """One part's sheet; ``seen`` are the trials that speak of it, ``at_utc`` when it was written, ``head`` whose paper
    it is.
    """

    picture: FindPicture
    suspect: Suspect
    seen: tuple[FaultSighting, ...]
    at_utc: datetime
    head: Letterhead = NOBODYS

    def write(self, path: Path, size: PaperSize = PaperSize.A4) -> None:
        """Write it as text, PDF or JSON, as its ending says."""
        check_path(path, ENDINGS)
        if path.suffix.lower() == ".json":
            write_whole(path, json.dumps(self.as_data(), indent=2) + "\n")
        elif path.suffix.lower() == ".txt":
            write_whole(path, as_text(self.leaf()))
        else:
            write_whole(path, as_pdf(self.leaf(), size))

    def as_data(self) -> dict[str, Any]:
        """All of it as JSON values."""
        return {
            "rig": self.picture.rig.name,
            "owner": self.picture.rig.owner,
            "complaint": self.picture.rig.complaint,
            "written": self.at_utc.isoformat(timespec="seconds"),
            "part": {"kind": self.suspect.part.value, "which": self.suspect.place},
            "sure": round(self.picture.sure_of(self.suspect), 4),
            "enough": self.enough(),
            "identity": dict(self.identity()),
            "to_order": dict(self.to_order()),
            "for_it": [one.text for one in self._reasons() if one.folds > 0],
            "against_it": [one.text for one in self._reasons() if one.folds < 0],
            "trials": [sighting_in_words(one) for one in self.seen],
            "history": history(self.suspect, self.seen),
            "work_done": [one.told for one in self.picture.works[1:]],
        }

    def leaf(self) -> Leaf:
        """All of it, as it stands on paper."""
        picture, rig = self.picture, self.picture.rig
        blocks: list[Block] = [
            Say("complaint", rig.complaint or "none in the form"),
            Say("how sure", f"{show_sure(picture.sure_of(self.suspect))}, {self.enough()}"),
        ]
        identity = tuple(self.identity())
        blocks += [Table("what it is", (), identity, PAIR)] if identity else []
        sat = history(self.suspect, self.seen)
        blocks += [Say("history", sat)] if sat else []
        order = tuple(self.to_order())
        blocks += [Table("what to order in its place", (), order, PAIR)] if order else []
        reasons = tuple(("for" if one.folds > 0 else "against", one.text) for one in self._reasons())
        blocks += [Table("what speaks for it, and against", (), reasons, PAIR)] if reasons else []
        blocks.append(Say("trials", "\n".join(map(sighting_in_words, self.seen)) or "none"))
        if len(picture.works) > 1:
            blocks.append(Say("work done", "\n".join(one.told for one in picture.works[1:])))
        return Leaf(
            title=f"{rig.name}: {self.suspect.show()}",
            dated=f"{self.at_utc:%d %b %Y} · owner: {rig.owner or 'not known'}",
            at_utc=self.at_utc,
            blocks=tuple(blocks),
            head=self.head,
            note=SIMULATED if picture.simulated else "",
            subject=f"What to order or claim: {self.suspect.show()}",
            author=self.head.technician or self.head.name,
        )

    def _reasons(self) -> tuple[Reason, ...]:
        return next((one.reasons for one in self.picture.suspects if one.suspect == self.suspect), ())

    def enough(self) -> str:
        """What so much sureness is enough for."""
        sure = self.picture.sure_of(self.suspect)
        if sure >= SURE[Enough.CLAIM]:
            return "enough to claim it of its maker"
        if sure >= SURE[Enough.REPLACE]:
            return f"enough to replace it, NOT ENOUGH to claim it ({SURE[Enough.CLAIM]:.1%} would be)"
        return f"NOT ENOUGH to replace it ({SURE[Enough.REPLACE]:.0%} would be) or to claim it: go on with find"

    def identity(self) -> list[tuple[str, str]]:
        """What is known of the part."""
        if self.suspect.part is Part.MODULE:
            module, spd = module_of(self.picture, self.suspect.place), self._spd()
            made = f"week {spd.made[1]} of {spd.made[0]}" if spd and spd.made else "not known"
            return [
                ("maker", module.maker or "not known"),
                ("part", module.part or "not known"),
                ("serial", module.serial or "none: labelled " + name_of(module)),
                ("date code", made),
                ("sat in", module.slot or "not fitted"),
            ]
        parts = dict(self.picture.rig.parts)
        label = next((one for one in self.picture.labels if one.part == (self.suspect.part.value, "")), None)
        named = self.suspect.place or (label.place if label else "")
        found = [("which", named)] if named else []
        found += [("board", parts.get("board", "") or "not known")] if self.suspect.part in OF_BOARD else []
        found += [("cooling", parts.get("cooling", "") or "not known")] if self.suspect.part is Part.COOLER else []
        found += [("processor", self.picture.rig.processor or "not known")] if self.suspect.part is Part.CORE else []
        return found

    def _spd(self) -> Spd | None:
        machine = self.picture.rig.machine
        return next((one for one in (machine.spds if machine else ()) if one.serial == self.suspect.place), None)

    def to_order(self) -> list[tuple[str, str]]:
        """What must match, of a module; of other parts nothing is known that would have to."""
        if self.suspect.part is not Part.MODULE:
            return []
        rig, module, spd = self.picture.rig, module_of(self.picture, self.suspect.place), self._spd()
        stock = rig.stock.numbers()
        timings = [str(stock[name]) if name in stock else "auto" for name in TIMINGS if name in _names(rig)]
        volts = [f"{name.split('_')[1].upper()} {stock[name]} mV" for name in SUPPLIES if name in stock]
        volts = volts or ([f"{module.voltage_mv} mV"] if module.voltage_mv else ["not known"])
        others = [one for one in self.picture.fitting.fitted if name_of(one) != self.suspect.place]
        beside = [f"{one.slot}: {one.part or one.kind} {name_of(one)}" for one in others]
        width = f"×{spd.device_width} devices" if spd and spd.device_width else "not known: read it off the label"
        return [
            ("type", module.kind or rig.family.value),
            ("size", f"{(module.size_bytes or 0) / 2**30:.0f} GiB"),
            ("ranks", str(module.ranks) if module.ranks else "not known: read it off the label"),
            ("width", width),
            ("rated", f"{module.rated_mts} MT/s" if module.rated_mts else "not known"),
            ("runs here at", _rate(rig.stock[DATA_RATE]) if DATA_RATE in _names(rig) else "not known"),
            ("timings", "-".join(timings) or "not known"),
            ("voltage", ", ".join(volts)),
            ("sits beside", "; ".join(beside) or "none"),
            ("channel", channel_of(module) or "not known"),
        ]


OF_BOARD = (Part.SLOT, Part.CONTACT, Part.CHANNEL, Part.BOARD, Part.CONTROLLER)


def claim_paper(picture: FindPicture, suspect: Suspect, at_utc: datetime, head: Letterhead = NOBODYS) -> ClaimPaper:
    """The sheet of a suspect.

    Raises:
        Refused: nothing speaks for any part.
    """
    if suspect.part in (Part.NOTHING, Part.SETTING):
        raise Refused(f"{suspect.show()}: there is no part to order or to claim; point at one, or go on with find.")
    return ClaimPaper(picture, suspect, picture.sightings, at_utc, head)


def module_of(picture: FindPicture, name: str) -> MemoryModule:
    """A module that sits in a slot or lies aside; an unknown one by its name."""
    found = [one for one in (*picture.fitting.fitted, *picture.fitting.aside) if name_of(one) == name]
    return found[0] if found else MemoryModule("", None, serial=name)


def _names(rig: Rig) -> set[str]:
    return {knob.name for knob in rig.knobs}


def _rate(value: object) -> str:
    return "what the firmware chooses" if isinstance(value, Auto) else f"{value} MT/s"
