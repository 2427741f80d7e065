"""Sheets on their way: read without a rig, checked against one, written as file, text or paper."""

from datetime import UTC, datetime
from pathlib import Path

from tenaz.catalogues.reading import built_in, knobs_of
from tenaz.catalogues.writing import write_whole
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.rigs.rig import OWN, BenchKind, Rig
from tenaz.papers.setpoint_files import Sheet, sheet_to_csv, sheet_to_toml
from tenaz.pictures.sheet.model import sheet_lines, sheet_picture
from tenaz.pictures.sheet.paper import sheet_leaf
from tenaz.press.size import PaperSize
from tenaz.press.typeset import as_pdf

ENDINGS = (".toml", ".csv", ".txt", ".pdf")

DDR5_FROM_MTS = 4000
"""Where a file does not say its memory: a data rate from here on is taken for DDR5, below for DDR4."""


def paper_rig(sheet: Sheet) -> Rig:
    """A rig that only exists on paper: the standard's knobs of the sheet's memory."""
    rate = sheet.setpoint.numbers().get(DATA_RATE, DDR5_FROM_MTS)
    family = sheet.memory or (Family.DDR5 if rate >= DDR5_FROM_MTS else Family.DDR4)
    catalogue = family.value.lower()
    platform = built_in(catalogue).platform
    return Rig(
        name=sheet.rig or "paper",
        purpose=OWN,
        knobs=knobs_of(catalogue),
        stock=sheet.setpoint,
        benches=(BenchKind.HAND,),
        memory=family.value,
        platform=platform.platform() if platform else None,
    )


def refusals(rig: Rig, setpoint: Setpoint) -> list[str]:
    """Every value of a setpoint that may not be set on a rig, with what would be accepted."""
    found = []
    for knob in (knob for knob in rig.knobs if knob.name in list(setpoint)):
        try:
            knob.check(setpoint[knob.name], reason="as it came")
        except Refused as refused:
            found.append(str(refused))
    return found


def write_sheet(
    rig: Rig, sheet: Sheet, path: Path, before: Setpoint | None = None, size: PaperSize = PaperSize.A4
) -> None:
    """Write a sheet in the form that the file's ending says.

    Raises:
        Refused: an ending that is none of them, or a file that cannot be written.
    """
    ending = path.suffix.lower()
    if ending not in ENDINGS:
        raise Refused(f"{path.name!r} cannot be written: name a file ending in {', '.join(ENDINGS)}.")
    if ending == ".toml":
        write_whole(path, sheet_to_toml(sheet))
    elif ending == ".csv":
        write_whole(path, sheet_to_csv(sheet, rig.knobs))
    else:
        title = " · ".join(part for part in (rig.name, sheet.name, sheet.text) if part)
        picture = sheet_picture(
            rig, sheet.setpoint, before or rig.stock, title, notes=sheet.notes, also=sheet.out_of_reach
        )
        if ending == ".txt":
            write_whole(path, "\n".join(sheet_lines(picture)) + "\n")
        else:
            write_whole(path, as_pdf(sheet_leaf(picture, datetime.now(UTC), sheet_to_toml(sheet)), size))
