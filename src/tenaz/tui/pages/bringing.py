"""Fetching what the book kept of a load, for the pages that are about one."""

from typing import TYPE_CHECKING

from tenaz.orders import BringLoad

if TYPE_CHECKING:
    from tenaz.pictures.load.build import KnownOfLoad
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands


def bring_load(work: "AtHand", hands: "Hands") -> None:
    """Of the trial pointed at, where it is not the one shown or on its way."""
    trial = work.load_to_bring()
    if trial is None:
        return
    wanted = trial.id

    def take(known: "KnownOfLoad") -> None:
        if work.load_view.asked == wanted:
            work.load_view.asked = None
        here = work.view.index.one(wanted)
        if here is not None and not work.busy:
            work.load_view.take_kept(here, known)
            hands.show_load()

    work.load_view.asked = wanted
    hands.bring(BringLoad(wanted), take)
