"""Options that several commands share, and how errors leave."""

import os
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Annotated, NoReturn, TypeVar

import typer

from tenaz.cli.kit.loudness import is_quiet, tells_all
from tenaz.core.base.errors import Refused, TenazError
from tenaz.core.base.plain_text import plain_lines

COULD_NOT_RUN = 2
NOT_ONCE_THROUGH = 3
"""It held, but ended before it had gone once over what it goes over: that shows only what it reached."""
DOES_NOT_COUNT = 4
"""Other programs had its cores, or its own check failed: neither held nor failed."""
STOPPED_BY_HAND = 130
"""The shell's own convention for a program ended by an interrupt."""

Value = TypeVar("Value")

BookOption = Annotated[
    str | None,
    typer.Option(
        "--book",
        help="The book to use: a file, or a database URL. Else that of TENAZ_BOOK, or the one in your data folder.",
        metavar="FILE",
    ),
]

FirstBookOption = Annotated[
    str | None,
    typer.Option(
        "--book",
        help="The book to use: a file, or a database URL. Else the usual one in your data folder.",
        # Read here alone: a command has what stands before it or behind it, and what was typed wins.
        envvar="TENAZ_BOOK",
        metavar="FILE",
    ),
]


def say(text: str, err: bool = False, nl: bool = True) -> None:
    """Print; the one door by which text leaves the command line, so that no terminal obeys what came from outside.
    Where the encoding lacks a sign a stand-in is printed.
    """
    text, encoding = plain_lines(text), getattr(sys.stderr if err else sys.stdout, "encoding", None) or "utf-8"
    if not text.isascii():
        try:
            text.encode(encoding)
        except (UnicodeEncodeError, LookupError):
            from tenaz.pictures.drawing.stand_ins import ascii_signs, plain_signs

            text = plain_signs(text)
            text = text if encoding.lower().startswith(("cp437", "cp85")) else ascii_signs(text)
    _out(text, err, nl)


def _out(text: str, err: bool, nl: bool) -> None:
    """Who reads the output and has had enough ends the command, and that is no error."""
    try:
        typer.echo(text, err=err, nl=nl)
    except BrokenPipeError:
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, sys.stdout.fileno())
        os.close(nowhere)
        raise typer.Exit(0) from None


def note(text: str, nl: bool = True) -> None:
    """Tell something beside the result, on standard error; nothing where only that was asked for."""
    if not is_quiet():
        say(text, err=True, nl=nl)


def detail(text: str) -> None:
    """The same, where everything is to be told."""
    if tells_all():
        say(text, err=True)


def say_ascii(text: str) -> None:
    """Print what was made of letters that no terminal obeys already, like JSON, without looking at each of them."""
    _out(text, err=False, nl=False)


def leave(message: str, status: int = COULD_NOT_RUN) -> NoReturn:
    """End with a message on standard error."""
    say(message, err=True)
    raise typer.Exit(status)


@contextmanager
def errors_told() -> Iterator[None]:
    """Tell our own errors as they are, without a traceback."""
    try:
        yield
    except TenazError as error:
        if error.__cause__ is not None:
            detail(f"because: {type(error.__cause__).__name__}: {error.__cause__}")
        leave(str(error))
    except BrokenPipeError:
        # Whoever read the output has had enough: that is no error.
        raise
    except OSError as error:
        leave(f"{error.strerror or error}{f': {error.filename}' if error.filename else ''}.")


def parsed(parse: Callable[[str], Value]) -> Callable[[str], Value]:
    """Make a parser of the core one of the command line's: its refusal becomes a message about the option."""

    def parser(text: str) -> Value:
        try:
            return parse(text)
        except Refused as refused:
            raise typer.BadParameter(str(refused)) from refused

    parser.__name__ = parse.__name__
    return parser
