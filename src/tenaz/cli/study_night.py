"""``tenaz study night``: whole rigs tuned alone, against usual practice."""

from collections.abc import Callable, Sequence
from pathlib import Path

from tenaz.cli.options import say
from tenaz.core.errors import Refused

NAME = "night"
ENDINGS = (".md", ".json")


def study_night(count: int, seed: int, out: Sequence[Path], told: Callable[[str], None]) -> None:
    """Play so many rigs.

    Raises:
        Refused: an ending that is not known.
    """
    from tenaz.catalogues.writing import write_whole
    from tenaz.study.night.table import as_json, as_markdown, played

    for one in out:
        if one.suffix.lower() not in ENDINGS:
            raise Refused(f"{one.name}: a study of nights is written to {' or '.join(ENDINGS)}.")
    rows = played(count, seed, told)
    for one in out:
        write_whole(one, as_markdown(rows) if one.suffix.lower() == ".md" else as_json(rows))
        say(f"written: {one.absolute()}")
    if not out:
        say(as_markdown(rows))
