"""Values in the form in which they travel: JSON values, as pydantic writes and reads dataclasses."""

from collections.abc import Hashable
from functools import cache
from typing import Any, cast

from pydantic import TypeAdapter, ValidationError

from tenaz.core.base.errors import Refused


def form_of(what: Any) -> TypeAdapter[Any]:
    """How values of a type are written as JSON values, and read again."""
    return _form_of(what)


@cache
def _form_of(what: Hashable) -> TypeAdapter[Any]:
    return TypeAdapter(cast("Any", what))


def dump(what: Any, value: Any) -> Any:
    """A value of a type as JSON values."""
    return form_of(what).dump_python(value, mode="json")


def read(what: Any, data: Any, name: str) -> Any:
    """The opposite of :func:`dump`.

    Raises:
        Refused: JSON values that make none; says what, where and why.
    """
    try:
        return form_of(what).validate_python(data)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(map(str, first["loc"]))
        raise Refused(f"{name}: {place or 'it'} is none: {first['msg']}.") from error
