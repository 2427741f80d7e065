"""Columns that are read however damaged they are: what cannot be understood is handed on as such, not raised."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import JSON, DateTime, Dialect
from sqlalchemy.types import TypeDecorator, TypeEngine


@dataclass(frozen=True, slots=True)
class Damaged:
    """A value that could not be understood; whoever uses it fails, and names the row."""

    why: str


class _Careful(TypeDecorator[Any]):
    """Reads as its own type does; one bad value does not end the reading of all rows."""

    def result_processor(self, dialect: Dialect, coltype: object) -> Any:
        """What turns a raw value into one of Python."""
        own: TypeEngine[Any] = self.impl_instance
        read = own.dialect_impl(dialect).result_processor(dialect, coltype)

        def careful(value: Any) -> Any:
            try:
                return read(value) if read is not None else value
            except (ValueError, TypeError, AttributeError, OverflowError, RecursionError) as error:
                return Damaged(str(error)[:80])

        return careful


class Json(_Careful):
    """A JSON value."""

    impl = JSON
    cache_ok = True


class Instant(_Careful):
    """An instant; UTC."""

    cache_ok = True
    impl = DateTime(timezone=True)

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """As it is."""
        del dialect
        return value
