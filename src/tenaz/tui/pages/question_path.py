"""The question path as it stands here: what came of it, and which part is pointed at."""

from typing import TYPE_CHECKING

from tenaz.core.parts.fitting import name_of
from tenaz.finding.causes import Part, Suspect

if TYPE_CHECKING:
    from tenaz.pictures.find.model import FindPicture


class QuestionPath:
    """What is thought is worked out elsewhere: until it comes, what was thought a moment ago stands."""

    def __init__(self) -> None:
        self.picture: FindPicture | None = None
        self.of: object = None
        """The state of the book that the picture is of."""
        self.asked: object = None
        """The state that it was asked for last."""
        self.at: int | None = None
        self.skip = 0

    @property
    def stale(self) -> bool:
        """Whether something else is on its way."""
        return self.of != self.asked

    @property
    def pointed(self) -> Suspect | None:
        """The part pointed at."""
        if self.picture is None or self.at is None or not self.picture.things:
            return None
        return self.picture.things[min(self.at, len(self.picture.things) - 1)]

    def point(self, step: int) -> None:
        """At another part."""
        if self.picture is not None:
            count = len(self.picture.things)
            self.at = (0 if step > 0 else count - 1) if self.at is None else (self.at + step) % count

    def act_for_pointed(self) -> str:
        """What one would do to the part pointed at, as it is typed."""
        picture, thing = self.picture, self.pointed
        if picture is None or thing is None:
            return ""
        if thing.part is Part.SLOT:
            fitted = any(one.slot == thing.place for one in picture.fitting.fitted)
            aside = picture.fitting.aside
            slot = thing.place.replace(" ", "_")
            return f"pull {slot}" if fitted else f"fit {name_of(aside[-1])} {slot}" if aside else ""
        if thing.part is Part.CORE:
            return f"{'on' if int(thing.place) in picture.fitting.cores_off else 'off'} {thing.place}"
        return {Part.COOLER: "clean", Part.SUPPLY: "supply"}.get(thing.part, "")

    def label_for_pointed(self) -> str:
        """How a label on the part pointed at begins."""
        picture, thing = self.picture, self.pointed
        if picture is None or thing is None:
            return ""
        if thing.part is Part.SLOT:
            module = next((one for one in picture.fitting.fitted if one.slot == thing.place), None)
            if module is not None:
                return f"module {name_of(module)} "
        return f"{thing.part} {thing.place}".strip() + " "

    def move_to(self, at: int) -> str:
        """A part was clicked: where a module was pointed at and another slot is clicked, it is to be moved there."""
        picture, before = self.picture, self.pointed
        self.at = at
        now = self.pointed
        if picture is None or before is None or now is None or before == now:
            return ""
        if before.part is not Part.SLOT or now.part is not Part.SLOT:
            return ""
        fitted = {one.slot for one in picture.fitting.fitted}
        words = f"move {before.place.replace(' ', '_')} {now.place.replace(' ', '_')}"
        return words if before.place in fitted else ""
