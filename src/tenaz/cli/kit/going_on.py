"""A search under way that a command goes on with: on the terms that it was begun with, or not at all."""

from collections.abc import Mapping

import typer

from tenaz.core.base.errors import Refused


def refuse_other_terms(
    context: typer.Context, going: str, has: Mapping[str, object], asked: Mapping[str, object]
) -> None:
    """``has`` and ``asked`` say by the name of a parameter what was begun and what the command asks; what was not typed
    asks for nothing.

    Raises:
        Refused: what was typed is not what was begun.
    """
    options = {one.name: one.opts[0] for one in context.command.params}
    other = [
        options[name]
        for name, value in asked.items()
        if getattr(context.get_parameter_source(name), "name", "") == "COMMANDLINE" and value != has[name]
    ]
    if other:
        raise Refused(
            f"{going} is under way that was begun otherwise: it goes on without {' and '.join(other)}. Or tenaz end "
            f"ends it first; its trials stay."
        )
