"""``tenaz study faults``: how the question path does on rigs with drawn faults; and what is learnt of such rigs."""

from collections.abc import Callable, Sequence
from pathlib import Path

from tenaz.cli.kit.options import say
from tenaz.core.base.errors import Refused

NAME = "faults"
ENDINGS = (".md", ".json")


def study_faults(
    rigs: int, seed: int, practice: bool, out: Sequence[Path], learn: Path | None, told: Callable[[str], None]
) -> None:
    """Play the path, and the usual practice beside it, on so many rigs; or learn of others and write what was learnt.

    Raises:
        Refused: a folder that is not there, or an ending that is not known.
    """
    from tenaz.catalogues.writing import write_whole
    from tenaz.study.faulty.learning import learn as learn_of
    from tenaz.study.faulty.prints import learn_prints
    from tenaz.study.faulty.table import as_markdown, played, table_of
    from tenaz.study.faulty.writing import as_json, prints_as_json, table_as_json

    if learn is not None:
        if not learn.is_dir():
            raise Refused(f"there is no folder {learn}; make it first, or name another.")
        prints = learn / "prints.json"
        write_whole(prints, prints_as_json(learn_prints()))
        say(f"written: {prints.absolute()}")
        path = learn / "learnt.json"
        write_whole(path, as_json(learn_of(told)))
        say(f"written: {path.absolute()}")
        return
    for one in out:
        if one.suffix.lower() not in ENDINGS:
            raise Refused(f"{one.name}: a study of faults is written to {' or '.join(ENDINGS)}.")
    found, usual = played(range(seed, seed + rigs), told, practice)
    table = table_of(found, usual)
    for one in out:
        write_whole(one, as_markdown(table) if one.suffix.lower() == ".md" else table_as_json(table))
        say(f"written: {one.absolute()}")
    if not out:
        say(as_markdown(table))
