"""The settings file: where it is, how it is read and checked, how one setting in it is changed."""

from pathlib import Path
from typing import Any

from pydantic import ValidationError

from tenaz.catalogues.outside import parse_toml as values_of_toml
from tenaz.catalogues.outside import read_text
from tenaz.catalogues.reading import line_of, parse_toml
from tenaz.catalogues.writing import write_whole
from tenaz.core.base.errors import Refused
from tenaz.settings.model import Settings
from tenaz.settings.place import settings_path


def read_settings(path: Path | None = None) -> Settings:
    """The settings; without a file all are as usual.

    Raises:
        Refused: naming the line, what is wrong there, and what would do.
    """
    place = path or settings_path()
    return parse_toml(Settings, read_text(place), str(place)) if place.exists() else Settings()


def read_what_is_right(path: Path | None = None) -> tuple[Settings, tuple[str, ...]]:
    """The settings as far as they can be read, and what cannot, in words: a wrong one is as usual, all others stay."""
    place = path or settings_path()
    if not place.exists():
        return Settings(), ()
    try:
        text = read_text(place)
        data = values_of_toml(text, str(place))
    except Refused as refused:
        return Settings(), (str(refused),)
    wrong: list[str] = []
    for _ in range(MOST_WRONG):
        try:
            return Settings.model_validate(data), tuple(wrong)
        except ValidationError as error:
            problem = error.errors()[0]
            where = tuple(part for part in problem["loc"][:2] if isinstance(part, str))
            line, words = line_of(text, where), problem["msg"].removeprefix("Value error, ")
            wrong.append(f"{place}{f', line {line}' if line else ''}: {'.'.join(where)}: {words}")
            part = data.get(where[0]) if where else None
            if len(where) == 2 and isinstance(part, dict) and where[1] in part:
                del part[where[1]]
            elif where and where[0] in data:
                del data[where[0]]
            else:
                break
    return Settings(), tuple(wrong)


MOST_WRONG = 100


def changed(text: str, name: str, value: Any, place: str) -> str:
    """The file's text with one setting changed (None: as usual again); comments and all others stay.

    Raises:
        Refused: no such setting, or a value that cannot stand there.
    """
    import tomlkit  # noqa: PLC0415 - only who changes a setting needs it
    from tomlkit.exceptions import TOMLKitError  # noqa: PLC0415

    part, dot, key = name.partition(".")
    if not dot or part not in Settings.model_fields:
        raise Refused(f"{name!r} is no setting; one is named like screen.theme.")
    try:
        document: Any = tomlkit.parse(text)
        if part not in document:
            document.add(part, tomlkit.table())
        if value is None:
            document[part].pop(key, None)
        else:
            document[part][key] = value
        fresh = tomlkit.dumps(document)
    except (TOMLKitError, TypeError, ValueError, RecursionError) as error:
        raise Refused(f"{place}: {str(error)[:200]}. Mend it there first; nothing was changed.") from error
    parse_toml(Settings, fresh, place)
    return fresh


def change(name: str, value: Any, path: Path | None = None) -> Settings:
    """Change one setting in the file; it is made where there is none.

    Raises:
        Refused: no such setting, a value that cannot stand there, or a file that cannot be written.
    """
    place = path or settings_path()
    fresh = changed(read_text(place) if place.exists() else "", name, value, str(place))
    try:
        place.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
    except OSError as error:
        raise Refused(f"{place.parent} cannot be made: {error.strerror}.") from error
    write_whole(place, fresh)
    return read_settings(place)
