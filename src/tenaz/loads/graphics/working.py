"""What all loads of cards do alike: open the card, wait for it without losing the time, and tell when it went away."""

from collections.abc import Callable

from tenaz.loads.graphics.opened import OpenCard
from tenaz.loads.spec import Spec
from tenaz.loads.worker import Line

Work = Callable[[OpenCard, Spec, Line], float]


def on_card(work: Work) -> Callable[[Spec, Line], float]:
    """A load of a card as a worker runs it. What goes wrong is the card's only where it does not answer any more."""

    def run(spec: Spec, line: Line) -> float:
        assert spec.card is not None
        card = OpenCard(spec.card)
        card.waited = line.paused
        try:
            return work(card, spec, line)
        except Exception as error:
            if card.answers():
                raise
            line.lost(f"{card.card.name} does not answer any more ({type(error).__name__})")
        return 0.0

    return run
