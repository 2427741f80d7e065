"""Orders about what is looked at: pictures and pages of what the book holds."""

from tenaz.core.base.errors import Refused
from tenaz.core.searches.search import SearchPlan
from tenaz.core.trials.due import FollowUp
from tenaz.core.trials.querying import Found
from tenaz.orders import (
    BringAlike,
    BringField,
    BringFollowUps,
    BringFound,
    BringLine,
    BringLoad,
    BringMemory,
    BringNight,
    BringSearch,
    BringTrial,
    ChangeSetting,
    WritePaper,
)
from tenaz.pictures.alike.model import AlikePicture
from tenaz.pictures.book.trial import TrialPage
from tenaz.pictures.climb.build import picture_of_line
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.pictures.field.build import field_picture
from tenaz.pictures.field.model import FieldPicture
from tenaz.pictures.load.build import KnownOfLoad, kept_load
from tenaz.pictures.memory.build import memory_picture
from tenaz.pictures.memory.model import MemoryPicture
from tenaz.pictures.night.build import FollowedNight, night_picture
from tenaz.pictures.night.model import NightPicture
from tenaz.settings.files import change
from tenaz.settings.model import Settings
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import carries_out
from tenaz.workshop.looking.follow_ups import follow_ups
from tenaz.workshop.looking.rigs_alike import alike_of
from tenaz.workshop.looking.trial_page import found_everywhere, trial_page
from tenaz.workshop.reports.letterhead import our_paper


class Looking:
    """Nothing here changes the book."""

    def __init__(self, at_work: AtWork) -> None:
        self._at = at_work
        self._followed = FollowedNight()

    @carries_out(BringLine)
    def line(self, order: BringLine) -> ClimbPicture | None:
        """All trials that differ from a setpoint in one knob."""
        rig = self._at.rig
        return picture_of_line(rig, rig.knob(order.knob), order.through, self._at.trials, order.prefer)

    @carries_out(BringSearch)
    def search(self, order: BringSearch) -> ClimbPicture:
        """A climb, however long ago."""
        return self._at.climb(self._past(order.search_id))

    @carries_out(BringField)
    def field(self, order: BringField) -> FieldPicture:
        """A search over two knobs."""
        at, plan = self._at, self._past(order.search_id)
        measures = at.store.measures.of(at.rig.name, at.bench)
        return field_picture(at.rig, plan, at.shelf.trials(plan.bench), at.standing(plan), measures)

    @carries_out(BringNight)
    def night(self, order: BringNight) -> NightPicture:
        """A night."""
        at, plan = self._at, self._past(order.search_id)
        measures = at.store.measures.of(at.rig.name, at.bench)
        return night_picture(at.rig, plan, at.shelf.trials(plan.bench), measures, self._followed)

    @carries_out(BringAlike)
    def alike(self, order: BringAlike) -> AlikePicture:
        """What parts usually reach."""
        return alike_of(self._at.store, self._at.rig, self._at.bench.real, order.words)

    def _past(self, search_id: int) -> SearchPlan:
        at = self._at
        plan = at.store.searches.one(search_id)
        if plan is None or plan.rig != at.rig.name or plan.bench.real is not at.bench.real:
            raise Refused(f"There is no search {search_id} of {at.rig.name} on this bench.")
        return plan.on_rig_of(at.rig.stock)

    @carries_out(BringLoad)
    def load(self, order: BringLoad) -> KnownOfLoad:
        """What the book kept of a trial's load."""
        return kept_load(self._at.store, order.trial_id)

    @carries_out(BringTrial)
    def trial(self, order: BringTrial) -> TrialPage:
        """All that is kept of a trial."""
        return trial_page(self._at.store, order.trial_id)

    @carries_out(BringFound)
    def found(self, order: BringFound) -> Found:
        """Trials of all rigs that are looked for."""
        return found_everywhere(self._at.store, order.query)

    @carries_out(BringFollowUps)
    def follow_ups(self, _: BringFollowUps) -> tuple[FollowUp, ...]:
        """What is to be come back to, on all rigs."""
        return follow_ups(self._at.store, self._at.clock.utc())

    @carries_out(BringMemory)
    def memory(self, _: BringMemory) -> MemoryPicture:
        """What loads reached of the rig's memory."""
        return memory_picture(self._at.store, self._at.rig)

    @carries_out(WritePaper)
    def write(self, order: WritePaper) -> str:
        """Something drawn, to a file."""
        order.paper.write(order.path, our_paper())
        return f"written: {order.path.absolute()}"

    @carries_out(ChangeSetting)
    def set(self, order: ChangeSetting) -> Settings:
        """A setting of Tenaz itself."""
        return change(order.name, order.value)
