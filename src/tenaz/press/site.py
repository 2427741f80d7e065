"""The workshop as one page that any browser reads, on a telephone too, and that needs nothing beside it: no script, no
picture, no other address.
"""

from dataclasses import dataclass

from tenaz.press.leaf_html import template


@dataclass(frozen=True, slots=True)
class SiteRig:
    """A rig: what it is, where it stands, what runs or waits, and what else is told of it, each under a word."""

    anchor: str
    name: str
    what: str
    state: str
    failed: bool = False
    running: str = ""
    waits_for: str = ""
    told: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True, slots=True)
class Site:
    """All of it: a title, when it was written, the rigs."""

    title: str
    dated: str
    rigs: tuple[SiteRig, ...]


def as_page(site: Site) -> str:
    """The page; text stays text, whatever signs it has."""
    told: str = template("site.html").render(site=site)
    return told
