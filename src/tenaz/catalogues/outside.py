"""Files from outside: read whole if they are files of a sane size, and looked over before anything is made of them."""

import json
import stat
import tomllib
from pathlib import Path
from typing import Any

from tenaz.core.base import limits
from tenaz.core.base.errors import Refused


def typed_path(text: str) -> Path:
    """A path as typed, ``~`` for one's home.

    Raises:
        Refused: nobody's home, or nothing that a path can be.
    """
    try:
        path = Path(text.strip()).expanduser()
        path.exists()
    except (RuntimeError, OSError, ValueError) as error:
        why = error.strerror if isinstance(error, OSError) and error.strerror else str(error)
        raise Refused(f"{text.strip()[:80]!r} is no path here: {why}. Type another.") from error
    return path


def read_bytes(path: Path, most: int = limits.MOST_FILE_BYTES) -> bytes:
    """The contents of a file; not of a pipe, a device or a folder, and not of more than is sane.

    Raises:
        Refused: saying why.
    """
    try:
        if not stat.S_ISREG(path.stat().st_mode):
            raise Refused(f"{path} could not be read: it is no file. Name one that is.")
        with path.open("rb") as file:
            raw = file.read(most + 1)
    except (OSError, ValueError) as error:
        why = error.strerror if isinstance(error, OSError) else str(error)
        raise Refused(f"{str(path)[:200]} could not be read: {why}. Name a file that is there.") from error
    if len(raw) > most:
        raise Refused(f"{path} is too large for such a file ({most // 1024} KiB at most); name another.")
    return raw


def read_text(path: Path, most: int = limits.MOST_TEXT_BYTES) -> str:
    """The text of a file.

    Raises:
        Refused: it cannot be read, is no text, or is far too large.
    """
    try:
        return read_bytes(path, most).decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise Refused(f"{path} is no text in UTF-8; save it as that.") from error


def parse_toml(text: str, place: str) -> dict[str, Any]:
    """Values out of TOML.

    Raises:
        Refused: naming the place and what is wrong there.
    """
    for number, line in enumerate(text.splitlines(), 1):
        if len(line) > limits.MOST_LINE_LETTERS:
            raise Refused(f"{place}, line {number}: {len(line)} letters are too long a line; break it.")
        if line.split("=", 1)[0].count(".") > limits.MOST_DOTS_IN_A_KEY:
            raise Refused(f"{place}, line {number}: a key of so many parts is none that is known.")
    try:
        values = tomllib.loads(text)
    except (tomllib.TOMLDecodeError, RecursionError, ValueError) as error:
        why = "values lie too deep in each other" if isinstance(error, RecursionError) else str(error)
        raise Refused(f"{place}: {why}. Mend that line; nothing was changed.") from error
    check_values(values, place)
    return values


def parse_json(raw: bytes, place: str) -> Any:
    """Values out of JSON.

    Raises:
        Refused: naming the place and what is wrong there.
    """
    try:
        values = json.loads(raw)
    except (ValueError, RecursionError) as error:
        why = "values lie too deep in each other" if isinstance(error, RecursionError) else str(error)
        raise Refused(f"{place}: {why}. Nothing was changed.") from error
    check_values(values, place)
    return values


def check_values(values: Any, place: str) -> None:
    """Refuse numbers and texts beyond all measure, wherever they lie, before anything counts on them.

    Raises:
        Refused: a value that is none of the knob's.
    """
    waiting: list[tuple[str, Any, int]] = [("", values, 0)]
    while waiting:
        where, value, depth = waiting.pop()
        if depth > limits.MOST_DEPTH:
            raise Refused(f"{place}: {where[:80]}: values lie too deep in each other.")
        if isinstance(value, dict):
            waiting += [(f"{where}.{key}".lstrip("."), inner, depth + 1) for key, inner in value.items()]
        elif isinstance(value, list):
            waiting += [(where, inner, depth + 1) for inner in value]
        elif isinstance(value, int | float) and not abs(value) <= limits.LARGEST_NUMBER:
            raise Refused(f"{place}: {where[:80]}: {_brief(value)} is no number that a rig could have; mend it.")
        elif isinstance(value, str) and len(value) > limits.MOST_TEXT_LETTERS:
            raise Refused(f"{place}: {where[:80]}: {len(value)} letters are too long a text; shorten it.")


def _brief(number: float) -> str:
    if isinstance(number, float):
        return f"{number:g}"
    return f"a number of {number.bit_length() * 30103 // 100000 + 1} digits" if abs(number) > 10**30 else str(number)
