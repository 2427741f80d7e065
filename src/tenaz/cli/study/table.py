"""Studies that end in one table: ``tenaz study many`` (groups, fields of two knobs) and ``tenaz study night``."""

from collections.abc import Callable, Sequence
from importlib import import_module
from pathlib import Path

from tenaz.cli.kit.options import say
from tenaz.core.base.errors import Refused

TABLES = {"many": "tenaz.study.many.table", "night": "tenaz.study.night.table"}
ENDINGS = (".md", ".json")


def study_table(name: str, count: int, seed: int, out: Sequence[Path], told: Callable[[str], None]) -> None:
    """Play so many of each kind.

    Raises:
        Refused: an ending that is not known.
    """
    from tenaz.catalogues.writing import write_whole

    for one in out:
        if one.suffix.lower() not in ENDINGS:
            raise Refused(f"{one.name}: the study {name} is written to {' or '.join(ENDINGS)}.")
    table = import_module(TABLES[name])
    rows = table.played(count, seed, told)
    for one in out:
        write_whole(one, table.as_markdown(rows) if one.suffix.lower() == ".md" else table.as_json(rows))
        say(f"written: {one.absolute()}")
    if not out:
        say(table.as_markdown(rows))
