"""What an advice rests on: what stands, where searches stand, what read otherwise than asked."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from tenaz.advice.visits import VisitTrial
from tenaz.core.knobs.readings import Reading
from tenaz.core.searches.search import Advice, Proposal, SearchPlan
from tenaz.core.trials.stands import Stands
from tenaz.pictures.climb.model import ClimbPicture


@dataclass(frozen=True, slots=True)
class Searches:
    """``going`` is under way and ``standing`` is where it stands; ``pictures`` holds the newest climb along each knob,
    ``every`` all searches, the oldest first; ``ended`` is one over several knobs that nothing was tried since, with
    what it came to.
    """

    going: SearchPlan | None = None
    standing: Proposal | Advice | None = None
    pictures: Mapping[str, ClimbPicture] = field(default_factory=dict)
    every: tuple[SearchPlan, ...] = ()
    ended: tuple[SearchPlan, Advice] | None = None
    visit: VisitTrial | None = None
    """What tells most whether a rig that was left alone for long is as it was."""


@dataclass(frozen=True, slots=True)
class Known:
    """``differing`` are values that read otherwise than asked when the newest trial was confirmed; ``read_only`` says
    why nothing can be begun here.
    """

    stands: Stands
    searches: Searches = field(default_factory=Searches)
    differing: tuple[Reading, ...] = ()
    read_only: str = ""
