"""What the palette finds: commands, canvases and knobs, by our words and the trade's; or what is near."""

from functools import partial

from textual.command import DiscoveryHit, Hit, Hits, Provider

from tenaz.core.words.actions import ACTIONS
from tenaz.core.words.finding import ALL, Meant, find
from tenaz.core.words.knobs import KNOBS
from tenaz.core.words.word import About
from tenaz.tui.base.commands import COMMANDS


class Palette(Provider):
    """Of what makes sense now."""

    async def discover(self) -> Hits:
        """All of it, before anything is typed."""
        for title, help, run, _ in sorted(self.app.get_system_commands(self.screen), key=lambda one: one[0]):
            yield DiscoveryHit(title, run, help=help)

    async def search(self, query: str) -> Hits:
        """What a text can mean, the likeliest first."""
        matcher, found = self.matcher(query), 0
        called = {one.word.name: one for one in find(query, ACTIONS) if one.fits >= LEAST}
        names = {command.help: command.name for command in COMMANDS}
        for title, help, run, _ in self.app.get_system_commands(self.screen):
            meant = called.get(names.get(title, ""))
            score = max(matcher.match(title), meant.fits if meant else 0.0)
            if score > 0:
                found += 1
                yield Hit(score, matcher.highlight(title), run, text=title, help=_with(help, meant))
        for meant in find(query, KNOBS):
            if meant.fits >= LEAST:
                found += 1
                name = meant.word.name
                take = partial(self.app.run_action, f"order('take_named', '{name}')")
                yield Hit(meant.fits, f"take {meant.word.ours} in hand", take, help=meant.word.means)
        if not found:
            near = ", ".join(dict.fromkeys(one.word.ours for one in find(query, ALL)))
            words = f"nothing here is called so; near it: {near}" if near else "nothing here is called so"
            yield Hit(0.1, words, lambda: None, help="? lists all keys, tenaz words all words")


LEAST = 0.9
"""How well a word of the trade must fit: as it is called, or a part of that."""


def _with(help: str | None, meant: Meant | None) -> str | None:
    if meant is None or meant.word.about is not About.ACTION:
        return help
    return f"{help} · {meant.word.ours}: {', '.join(meant.word.trade[:3])}"
