"""The guide's page of pages, made of what they tell of themselves."""

from tenaz.tui.base.commands import BY_ACTION, foot_of
from tenaz.tui.base.menus import PAGE, keys_of, path_of
from tenaz.tui.pages.strip import ALL

HEAD = """# Pages

The strip under the rail shows all of them, the one in sight between brackets. `⇥` goes to the next, `⇧⇥` back, a click
anywhere; `Esc` goes back to the one before. `o›x` writes what is shown as SVG or PDF, under a head with rig, date and
the values that are set. The panel at the right says of the dialled values, beside every page, whether they are safe.
"""


def pages_text() -> str:
    """The page as Markdown."""
    parts = [HEAD]
    for page in ALL:
        told = page.help
        parts.append(f"## {page.name} (`{path_of(PAGE + page.name)}`)\n\n{told.shows}\n")
        parts.append("| sign | |\n|---|---|")
        parts += [f"| `{sign}` | {words} |".replace("`|`", "`\\|`") for sign, words in told.marks]
        own = [f"`{keys}` {word}" for keys, word in foot_of(page.name)]
        more = [f"`{keys_of(action)}` {BY_ACTION[action].help}" for action in told.keys]
        parts.append(f"\n{' · '.join((*own, *more))}\n")
        if told.sums:
            parts.append(f"*{told.sums}*\n")
    return "\n".join(parts)
