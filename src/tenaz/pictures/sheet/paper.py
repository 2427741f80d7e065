"""The sheet on paper: a line a knob, with a box to tick while one types it in."""

from collections.abc import Callable
from datetime import datetime

from tenaz.pictures.sheet.model import SheetPicture, SheetRow
from tenaz.press.leaf import Block, Leaf, Say, Table

BOX = "\N{BALLOT BOX}"
CHANGED = "▸"


def sheet_leaf(picture: SheetPicture, at_utc: datetime, toml: str) -> Leaf:
    """The sheet, to be typed in; with it the same as a file, to be read in."""
    compared = "".join(f" · beside it {name}" for name in picture.compared)
    blocks: list[Block] = [sheet_table(picture, "was", boxed=True)]
    blocks += [Say("to follow up", "\n".join(picture.follow_ups))] if picture.follow_ups else []
    return Leaf(
        title=picture.title or "sheet",
        dated=f"{at_utc:%d %b %Y %H:%M} UTC{compared}",
        at_utc=at_utc,
        blocks=tuple(blocks),
        subject="Every setting, to be typed in",
        attached=("the sheet as TOML, to be read in again", toml),
    )


def sheet_table(
    picture: SheetPicture, was: str, known_by: Callable[[str], str] | None = None, boxed: bool = False
) -> Table:
    """Every knob with its value, its time, what it was, how it is known where that is told, and what was said of it."""
    rows, group = [], ""
    for row in picture.rows:
        named, group = ("" if row.group == group else row.group), row.group
        mark = (f"{BOX} {CHANGED}" if row.changed else BOX,) if boxed else ()
        time = "" if row.time_ns is None else f"{row.time_ns:.2f}"
        known = (known_by(row.name),) if known_by is not None else ()
        others = tuple(other.show() for other in row.others)
        rows.append((*mark, named, row.label, row.value, time, row.was, *others, *known, _said(row)))
    columns = (
        *(("",) if boxed else ()), "group", "setting", "value", "ns", was, *picture.compared,
        *(("known by",) if known_by is not None else ()), "said of it",
    )  # fmt: skip
    first = len(columns[: columns.index("value")])
    parts = (
        *((0.4,) if boxed else ()), 1.8, 1.6, 1.2, 0.8, 1.1, *(1.2 for _ in picture.compared),
        *((1.0,) if known_by is not None else ()), 2.5,
    )  # fmt: skip
    return Table("" if boxed else "the sheet", columns, tuple(rows), parts, (first, first + 1, first + 2), wide=True)


def _said(row: SheetRow) -> str:
    told = [*row.notes, *([f"{row.remark.standing}: {row.remark.text}"] if row.remark else ())]
    return "; ".join((*told, *([f"locked: {row.locked}"] if row.locked else ())))
