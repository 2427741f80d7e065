"""Columns that are read however damaged they are: what cannot be understood is handed on as such, not raised."""

import json
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from typing import Any

from sqlalchemy import JSON, DateTime, Dialect
from sqlalchemy.types import TypeDecorator, TypeEngine

ALIKE_KEPT = 4096
"""So many different texts are remembered with what they mean: setpoints and loads come again and again."""


@dataclass(frozen=True, slots=True)
class Damaged:
    """A value that could not be understood; whoever uses it fails, and names the row."""

    why: str


MISREAD = (ValueError, TypeError, AttributeError, OverflowError, RecursionError, LookupError)


class _Careful(TypeDecorator[Any]):
    """Reads as its own type does; one bad value does not end the reading of all rows."""

    def result_processor(self, dialect: Dialect, coltype: object) -> Any:
        """What turns a raw value into one of Python."""
        own: TypeEngine[Any] = self.impl_instance
        read = own.dialect_impl(dialect).result_processor(dialect, coltype)

        def careful(value: Any) -> Any:
            try:
                return read(value) if read is not None else value
            except MISREAD as error:
                return Damaged(str(error)[:80])

        return careful


class Json(_Careful):
    """A JSON value."""

    impl = JSON
    cache_ok = True

    def result_processor(self, dialect: Dialect, coltype: object) -> Any:
        """From text, whichever database it comes out of."""
        del dialect, coltype

        def careful(value: Any) -> Any:
            try:
                return json.loads(value) if isinstance(value, str) else value
            except MISREAD as error:
                return Damaged(str(error)[:80])

        return careful


class Coded(_Careful):
    """A value of the core, kept as JSON. Values that are written alike are one and the same when they are read."""

    impl = JSON
    cache_ok = True

    def __init__(
        self,
        encode: Callable[[Any], Any],
        decode: Callable[[Any], Any],
        decode_text: Callable[[str], Any] | None = None,
    ) -> None:
        super().__init__()
        self.encode, self.decode = encode, decode
        self._from_text = lru_cache(ALIKE_KEPT)(decode_text or (lambda text: decode(json.loads(text))))

    def process_bind_param(self, value: Any, dialect: Dialect) -> Any:
        """As JSON values."""
        del dialect
        return None if value is None else self.encode(value)

    def result_processor(self, dialect: Dialect, coltype: object) -> Any:
        """From text, which is remembered; or from values that the driver has read already."""
        del dialect, coltype

        def careful(value: Any) -> Any:
            try:
                if value is None or value == "null":
                    return None
                return self._from_text(value) if isinstance(value, str) else self.decode(value)
            except Exception as error:  # noqa: BLE001 - it is told, and the rest goes on
                return Damaged(" ".join(str(error).split())[:80])

        return careful


class Instant(_Careful):
    """An instant; UTC."""

    cache_ok = True
    impl = DateTime(timezone=True)

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """As it is."""
        del dialect
        return value

    def result_processor(self, dialect: Dialect, coltype: object) -> Any:
        """From SQLite's text by the short way: a book that has grown holds very many."""
        if dialect.name != "sqlite":
            return super().result_processor(dialect, coltype)

        def careful(value: Any) -> Any:
            try:
                return None if value is None else datetime.fromisoformat(value)
            except MISREAD as error:
                return Damaged(str(error)[:80])

        return careful
