"""The two themes, and the style of each role in them."""

from functools import cache

from rich.style import Style
from textual.theme import Theme

from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.drawing.roles import DARK, DARK_8, DARK_16, DARK_GROUND, LIGHT, LIGHT_16, LIGHT_GROUND
from tenaz.probe.alone import alone


def _theme(name: str, ground: str, roles: dict[Role, str], dark: bool) -> Theme:
    return Theme(
        name=name,
        primary=roles[Role.LIT],
        secondary=roles[Role.MEASURED],
        accent=roles[Role.LIT],
        success=roles[Role.HELD],
        warning=roles[Role.LIT],
        error=roles[Role.FAILED],
        foreground=roles[Role.TEXT],
        background=ground,
        surface=ground,
        panel=ground,
        dark=dark,
        variables={
            "frame": roles[Role.FRAME],
            "faint": roles[Role.FAINT],
            "input-cursor-background": roles[Role.LIT],
            "input-selection-background": roles[Role.FRAME],
        },
    )


SOOT = _theme("dark", DARK_GROUND, DARK, dark=True)
CHALK = _theme("light", LIGHT_GROUND, LIGHT, dark=False)
SOOT_16 = _theme("dark of 16", "#000000", DARK_16, dark=True)
CHALK_16 = _theme("light of 16", "#ffffff", LIGHT_16, dark=False)
SOOT_8 = _theme("dark of 8", "#000000", DARK_8, dark=True)
THEMES = (SOOT, CHALK, SOOT_16, CHALK_16, SOOT_8)
_ROLES = {
    SOOT.name: (DARK, DARK_GROUND),
    CHALK.name: (LIGHT, LIGHT_GROUND),
    SOOT_16.name: (DARK_16, "#000000"),
    CHALK_16.name: (LIGHT_16, "#ffffff"),
    SOOT_8.name: (DARK_8, "#000000"),
}


def theme_for(name: str, colour_system: str | None) -> str:
    """The theme of a name (dark, light) for a terminal of so many colours."""
    if colour_system == "standard" and alone():
        return SOOT_8.name
    dark, light = (SOOT_16, CHALK_16) if colour_system == "standard" else (SOOT, CHALK)
    return light.name if name == CHALK.name else dark.name


def other(theme: str) -> str:
    """The light theme beside a dark one, and the other way round."""
    if theme == SOOT_8.name:
        return theme
    pairs = {SOOT.name: CHALK.name, SOOT_16.name: CHALK_16.name}
    return pairs.get(theme) or {light: dark for dark, light in pairs.items()}.get(theme, SOOT.name)


@cache
def role_styles(theme: str) -> dict[Role, Style]:
    """The style of each role in a theme."""
    roles, ground = _ROLES.get(theme, _ROLES[SOOT.name])
    return {role: Style(color=colour, bgcolor=ground, bold=role is Role.LIT) for role, colour in roles.items()}


def filled(theme: str, role: Role) -> Style:
    """Ground-coloured text on a field of the role's colour: what must be seen from a metre away."""
    roles, ground = _ROLES.get(theme, _ROLES[SOOT.name])
    return Style(color=ground, bgcolor=roles[role], bold=True)
