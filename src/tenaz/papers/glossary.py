"""The words of the program as a page: made from the table that everything is found by."""

from tenaz.core.words.finding import ALL
from tenaz.core.words.word import About

HEAD = """\
# Words

One word for one thing, in code, on the screen and in files; beside it what the trade says. The words of open
standards (MT/s, tCL, VDD, rank, SPD, machine check) and of science (right-censored, posterior, Clopper–Pearson) are
used as they are. All of them are understood wherever something is typed: knobs (`f`, `tenaz climb --knob`), loads,
outcomes, complaints, work on parts, and in `/`, which finds anything; `tenaz words TEXT` tells what one means.

This page is made from the table in `src/tenaz/core/words/`.
"""
TITLES = {
    About.THING: "What things are called", About.KNOB: "Knobs", About.LOAD: "Loads",
    About.OUTCOME: "How a trial ends", About.SYMPTOM: "What is noticed of a rig",
    About.ACTION: "What one does in the workbench", About.ACT: "Work on parts",
}  # fmt: skip


def glossary_text() -> str:
    """The page, as it stands in docs/glossary.md."""
    return HEAD + "".join(f"\n## {title}\n\n{_table(about)}" for about, title in TITLES.items())


def _table(about: About) -> str:
    rows = ["| ours | what it is | the trade |", "|---|---|---|"]
    for word in ALL:
        if word.about is about:
            ours = word.ours if word.ours == word.name or about is About.ACTION else f"{word.ours} (`{word.name}`)"
            rows.append(f"| {ours} | {word.means} | {', '.join(word.trade) or '–'} |")
    return "\n".join(rows) + "\n"
