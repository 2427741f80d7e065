"""Keys of the question path: parts pointed at, worked on and labelled, symptoms ticked, the claim written."""

from datetime import UTC, datetime

from tenaz.catalogues.outside import typed_path
from tenaz.core.base.errors import Refused
from tenaz.finding.causes import Part, Suspect
from tenaz.orders import FollowFound, LabelPart, TickSymptom, WritePaper
from tenaz.pictures.drawing.paper import check_path
from tenaz.pictures.find.model import FindPicture
from tenaz.tui.base.hands import Hands
from tenaz.tui.pages.find import FindPage
from tenaz.tui.prompts.find import label_prompt, parts_prompt, symptom_prompt
from tenaz.tui.screens.prompt import Prompt
from tenaz.tui.session.starting import Starting
from tenaz.tui.session.workspace import Workspace


class FindController:
    """On the Find page, where a machine's faults are worked out."""

    def __init__(self, work: Workspace, hands: Hands, starting: Starting) -> None:
        self._work = work
        self._hands = hands
        self._starting = starting

    @property
    def _find(self) -> FindPage:
        return self._work.pages.of(FindPage)

    def work_on_parts(self) -> None:
        """Modules, cores, cooler, supply: what was done, or (a simulated rig) is done."""
        in_sight = self._work.pages.shown is self._find
        self._find.ask_work(self._work, self._hands, self._find.path.act_for_pointed() if in_sight else "")

    def label_part(self) -> None:
        """A label on a part: good, bad, suspect, replaced, with words."""

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.give(LabelPart(text))

        self._hands.ask(label_prompt(self._find.path.label_for_pointed()), take)

    def tick_symptom(self) -> None:
        """What was noticed, one thing at a time."""

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.give(TickSymptom(text.strip().split(" ")[0] if text.strip() != "anew" else ""))

        self._hands.ask(symptom_prompt(self._work.view.rig), take)

    def write_claim(self) -> None:
        """What to order or claim, of the part pointed at, else of the likeliest."""
        from tenaz.papers.claims import ENDINGS, claim_paper  # noqa: PLC0415 - paper is needed where it is written
        from tenaz.workshop.reports.letterhead import our_head  # noqa: PLC0415

        picture = self._find.path.picture
        if picture is None or picture.rig.name != self._work.view.rig.name:
            self._hands.complain("Nothing was worked out yet: p›f shows the question path, then r›c writes the sheet.")
            return
        try:
            paper = claim_paper(picture, self._claimed(picture), datetime.now(UTC), our_head())
        except Refused as refused:
            self._hands.complain(str(refused))
            return

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.give(WritePaper(paper, typed_path(text)))

        title = f"what to order or claim: {paper.suspect.show()}"
        name = f"{picture.rig.name}-{paper.suspect.part}-{paper.suspect.place}".rstrip("-").replace(" ", "_") + ".pdf"
        hint = f"a file ending in {', '.join(ENDINGS)}"
        self._hands.ask(Prompt(title, hint, name, lambda text: check_path(typed_path(text), ENDINGS)), take)

    def _claimed(self, picture: FindPicture) -> Suspect:
        find = self._find.path
        words = find.label_for_pointed().split()
        if find.pointed is None:
            return picture.verdict.suspect
        if words[0] == "module":
            return Suspect(Part.MODULE, " ".join(words[1:]))
        return find.pointed

    def follow(self, order: FollowFound) -> None:
        """Do what comes next: on a real rig the work is asked for first, and written down when it is done."""
        view = self._work.view
        if not order.work or not view.bench.real:
            self._starting.start(order)
            return

        def take(text: str | None) -> None:
            if text is not None:
                self._starting.start(FollowFound(text, order.eased, order.load, order.reason), priced=True)

        self._hands.ask(parts_prompt(view, self._find.fitting(self._work), order.work, first=True), take)
