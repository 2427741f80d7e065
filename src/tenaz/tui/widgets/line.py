"""A line to type into, which takes every key in the order in which it was typed."""

from textual import events
from textual.binding import Binding
from textual.widgets import Input

EDITS = {
    key: binding.action for binding in Input.BINDINGS if isinstance(binding, Binding) for key in binding.key.split(",")
}
"""The keys that edit a line."""


class Line(Input):
    """An input whose editing keys do not fall behind its letters.

    Letters are taken where they arrive; keys with a binding first travel up to the application and come back. In a
    burst the letters behind such a key overtake it, and ctrl+u empties what was typed after it.
    """

    def take(self, key: events.Key) -> None:
        """Take a key as if it had been typed here."""
        self._forward_event(key)

    async def _on_key(self, event: events.Key) -> None:
        """Carry out an editing key here; what is none goes the way of the input."""
        edit = EDITS.get(event.key)
        if edit is not None and not event.is_printable:
            event.stop()
            event.prevent_default()
            await self.run_action(edit)
