"""A report's editions as leaves: a page for the client in a language, and all of it for the archive."""

from tenaz.core.base.plain_text import plain
from tenaz.papers.reports.language import Language
from tenaz.papers.reports.report import Edition, Fact, Picture, Report
from tenaz.papers.reports.said import Chapter, Day
from tenaz.pictures.drawing.inked import inked
from tenaz.press.leaf import Block, Leaf, Letterhead, Say, Signing, Table, Typed

FACT_PARTS = (3.2, 6.2, 1.6)
SETTINGS = "settings"
LISTS = ("margins", "scores")
PICTURED = {"edges found": "climb of"}
"""Sections whose pictures begin otherwise than they."""
RIGHT = "Those that a figure rests on stand at its right; m: a measure."
SIMULATED = "SIMULATED RIG: says nothing of a real one"


def leaf_of(report: Report, edition: Edition, language: Language) -> Leaf:
    """One edition of it."""
    return client_leaf(report, language) if edition is Edition.CLIENT else archive_leaf(report)


def client_leaf(report: Report, language: Language) -> Leaf:
    """A page in plain words, with a place to sign; one that was kept by an older Tenaz in the words of then."""
    owner = language.heading("owner", owner=report.owner) if report.owner else ""
    day = Day(report.at_utc.date())
    blocks: list[Block] = [Say(words.heading, words.text, words.red) for words in report.client]
    for chapter in report.told:
        blocks += _chapter(chapter, language)
    name = f": {report.head.technician}" if report.head.technician else ""
    blocks.append(Signing((language.heading("technician", name=name), language.heading("client"))))
    return Leaf(
        title=language.heading("title", rig=report.rig),
        dated=language.heading("dated", number=str(report.number), day=day, owner=owner),
        at_utc=report.at_utc,
        blocks=tuple(blocks),
        head=report.head,
        note=language.heading("simulated") if report.simulated else "",
        verdict=language.heading("proven" if report.proven else "not_proven"),
        proven=report.proven,
        language=language.code,
        page_words=language.heading("page", at="{at}", of="{of}"),
        author=report.head.technician or report.head.name,
        subject=language.heading("subject", rig=report.rig),
        letter_pt=9.6,
    )


def _chapter(chapter: Chapter, language: Language) -> list[Block]:
    heading = language.heading(chapter.heading)
    found: list[Block] = []
    text = " ".join(language.text(one) for one in chapter.sentences)
    lines = "\n".join(language.text(one) for one in chapter.sentences) if chapter.heading == "watch" else text
    if lines:
        found.append(Say(heading, lines, chapter.red))
    table = chapter.table
    if table is not None and table.rows:
        columns = tuple(language.heading(one) for one in table.columns)
        rows = tuple(tuple(language.text(cell) for cell in row) for row in table.rows)
        figures = tuple(range(1, len(columns))) if chapter.heading == "warm" else ()
        parts = (1.4, *(1.0,) * (len(columns) - 1)) if columns else (1.0, 3.2)
        found.append(Table("" if found else heading, columns, rows, parts, figures))
    return found


def archive_leaf(report: Report) -> Leaf:
    """All of it: what was moved, every figure with what it rests on, pictures, and at its end one whole sheet."""
    blocks: list[Block] = []
    if report.since:
        blocks.append(Say("since the report before", "\n".join(report.since)))
    if report.moved is not None:
        blocks.append(report.moved)
    blocks.append(Say("trials", RIGHT))
    waiting = list(report.pictures)
    for section in report.sections:
        if section != SETTINGS or report.sheet is None:
            blocks.append(_facts(section, report.of(section)))
        drawn = [one for one in waiting if one.title.startswith(PICTURED.get(section, section))]
        waiting = [one for one in waiting if one not in drawn]
        blocks += [drawing_of(one) for one in drawn]
    blocks += [drawing_of(one) for one in waiting]
    if report.sheet is not None:
        blocks.append(report.sheet)
    elif report.setpoint:
        blocks.append(Typed("the sheet, to be typed in or read again", tuple(report.setpoint.split("\n"))))
    still = f"NOT YET PROVEN, not to be handed over. Still to run: {'; '.join(report.owed)}."
    return Leaf(
        title=f"Archive of {report.title}",
        dated=f"{report.at_utc:%d %b %Y %H:%M} UTC · {report.made_with}",
        at_utc=report.at_utc,
        blocks=tuple(blocks),
        head=report.head if report.head.name else Letterhead(),
        note=SIMULATED if report.simulated else "",
        verdict="Everything that was asked for has been shown at these settings." if report.proven else still,
        proven=report.proven,
        author=report.head.technician or report.head.name,
        subject=f"Every figure of report {report.number} with the trials that it rests on",
        attached=("the sheet as TOML, to be read in again", report.setpoint) if report.setpoint else None,
    )


def _facts(section: str, facts: tuple[Fact, ...]) -> Table:
    rows = tuple((one.name, f"{one.value} {one.unit}".strip(), one.rests_on) for one in facts)
    return Table(section, (), rows, FACT_PARTS, wide=True)


def drawing_of(picture: Picture) -> Block:
    """A kept picture, with what it says for who cannot see it; a list may be broken between two pages, a chart not."""
    what = f"{plain(picture.title)}: a picture; its figures stand in the tables"
    return inked("" if picture.title in LISTS else picture.title, picture.cells, what, picture.title in LISTS)
