"""A leaf as text, for whatever shows letters."""

import textwrap

from tenaz.core.base.plain_text import plain, plain_lines
from tenaz.press.leaf import Block, Drawing, Figure, Leaf, Say, Signing, Table, Typed

COLUMNS = 100
BETWEEN = "   "


def as_text(leaf: Leaf) -> str:
    """All of it."""
    head = [one for one in (leaf.head.name, *leaf.head.address.split("\n"), leaf.head.contact) if one]
    lines = [*map(plain, head), *([""] if head else []), plain(leaf.title), plain(leaf.dated)]
    lines += [plain(leaf.note)] if leaf.note else []
    lines += ["", *_wrapped(leaf.verdict)] if leaf.verdict else []
    for block in leaf.blocks:
        told = _told(block)
        if told:
            heading = plain(getattr(block, "heading", ""))
            lines += ["", *([heading] if heading else []), *told]
    return "\n".join(line.rstrip() for line in lines) + "\n"


def _told(block: Block) -> list[str]:
    match block:
        case Say(text=text):
            told = [part for line in plain_lines(text).split("\n") for part in _wrapped(line)]
        case Table():
            told = _table(block)
        case Drawing(rows=rows):
            told = [plain("".join(text for text, _ in row)) for row in rows]
        case Typed(lines=lines):
            told = [plain(line) for line in lines]
        case Signing(places=places):
            told = [f"{'_' * 40}  {plain(place)}" for place in places]
        case Figure(alt=alt):
            told = _wrapped(alt)
        case _:
            told = []
    return told


def _table(table: Table) -> list[str]:
    """Columns side by side; what is wider than its column goes on under it."""
    count = max((len(row) for row in (table.columns, *table.rows)), default=0)
    whole = [tuple(plain(cell) for cell in (*row, *("",) * (count - len(row)))) for row in table.rows]
    named = [tuple(map(plain, table.columns))] if any(table.columns) else []
    need = [max((len(row[at]) for row in (*named, *whole)), default=0) for at in range(count)]
    room = COLUMNS - 2 - len(BETWEEN) * (count - 1)
    while sum(need) > room and max(need) > room // count:
        widest = need.index(max(need))
        need[widest] = max(room // count, need[widest] - (sum(need) - room))
    lines = []
    for row in (*named, *whole):
        broken = [textwrap.wrap(cell, max(need[at], 1)) or [""] for at, cell in enumerate(row)]
        for line in range(max(map(len, broken))):
            cells = [
                f"{part[line] if line < len(part) else '':{'>' if at in table.figures else '<'}{need[at]}}"
                for at, part in enumerate(broken)
            ]
            lines.append(f"  {BETWEEN.join(cells)}")
    return lines


def _wrapped(line: str) -> list[str]:
    return textwrap.wrap(plain(line), COLUMNS) or [""]
