"""A kind of load by what it is called: ours or the trade's."""

from tenaz.core.loads.plan import LoadKind
from tenaz.core.words.finding import names_for
from tenaz.core.words.word import About


def load_called(text: str) -> LoadKind | None:
    """The kind that a text names exactly; None: it names none, or a program, which is called by its command."""
    names = names_for(About.LOAD, text)
    kind = LoadKind(names[0]) if names else None
    return None if kind is LoadKind.PROGRAM else kind
