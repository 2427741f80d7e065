"""Pictures of climbs, kept until a trial on their line changes."""

from dataclasses import dataclass

from tenaz.core.rigs.rig import Rig
from tenaz.core.searches.search import SearchPlan
from tenaz.core.trials.trial import Trial
from tenaz.engine.shelf import Shelf
from tenaz.pictures.climb.build import as_now, picture_of_search
from tenaz.pictures.climb.model import ClimbPicture


@dataclass(slots=True)
class _Kept:
    """A picture with what it was drawn of; beside what stood at the change ``seen``."""

    rig: Rig
    plan: SearchPlan
    line: tuple[Trial, ...]
    picture: ClimbPicture
    as_now: ClimbPicture
    seen: int


class ClimbPictures:
    """Drawn up anew only when a trial on the line has changed, and set beside what stands when any has."""

    def __init__(self) -> None:
        self._kept: dict[int, _Kept] = {}

    def of(self, rig: Rig, plan: SearchPlan, shelf: Shelf) -> ClimbPicture:
        """The picture of a search along one knob, as the book has it now."""
        trials, played, seen = shelf.trials(plan.bench), shelf.played(plan), shelf.newest_change
        kept = self._kept.get(plan.id)
        if kept is None or kept.line is not played.line or kept.plan != plan or kept.rig != rig:
            picture = picture_of_search(rig, plan, trials, played.stands)
            kept = self._kept[plan.id] = _Kept(rig, plan, played.line, picture, picture, 0)
        if kept.seen != seen:
            kept.as_now, kept.seen = as_now(rig, kept.picture, trials, trials.in_force(rig.stock)), seen
        return kept.as_now
