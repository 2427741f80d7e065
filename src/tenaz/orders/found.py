"""What comes next on the question path, as an order."""

from typing import TYPE_CHECKING

from tenaz.core.loads.plan import LoadPlan
from tenaz.orders.rigs import FollowFound

if TYPE_CHECKING:
    from tenaz.finding.next_acts import NextAct


def order_for(act: "NextAct") -> FollowFound:
    """What Enter does for a next act."""
    plan = LoadPlan(act.load.kind, act.load_min * 60.0, share=act.load.share, cores=act.load.cores)
    return FollowFound(act.work, act.eased, plan, f"find: {act.show()}, {act.minutes:.0f} min")
