"""How much a command tells beside its result: ``-q`` nothing but errors, ``-v`` what it works on and all of the log."""

import functools
import inspect
from collections.abc import Callable
from enum import IntEnum
from typing import Annotated, Any

import typer

Quiet = Annotated[bool, typer.Option("--quiet", "-q", help="Tell nothing but the result and errors.")]
Verbose = Annotated[bool, typer.Option("--verbose", "-v", help="Tell what is worked on, and all of the log.")]


class Loudness(IntEnum):
    """From nothing to all."""

    QUIET = -1
    USUAL = 0
    ALL = 1


class _Said:
    """What was asked for in this process, which runs one command."""

    loudness = Loudness.USUAL


def is_quiet() -> bool:
    """Whether nothing but the result and errors is told."""
    return _Said.loudness is Loudness.QUIET


def tells_all() -> bool:
    """Whether everything is told."""
    return _Said.loudness is Loudness.ALL


def with_loudness(does: Callable[..., None]) -> Callable[..., None]:
    """A command with ``-q`` and ``-v``, without it having to name them."""

    @functools.wraps(does)
    def command(*args: Any, quiet: bool = False, verbose: bool = False, **named: Any) -> None:
        _Said.loudness = Loudness.QUIET if quiet else Loudness.ALL if verbose else Loudness.USUAL
        try:
            does(*args, **named)
        finally:
            _Said.loudness = Loudness.USUAL

    signature = inspect.signature(does)
    more = [
        inspect.Parameter(name, inspect.Parameter.KEYWORD_ONLY, default=False, annotation=kind)
        for name, kind in (("quiet", Quiet), ("verbose", Verbose))
    ]
    command.__signature__ = signature.replace(parameters=[*signature.parameters.values(), *more])  # type: ignore[attr-defined]
    command.__annotations__ = {**does.__annotations__, "quiet": Quiet, "verbose": Verbose}
    return command
