"""The two themes, and the style of each role in them."""

from functools import cache

from rich.style import Style
from textual.theme import Theme

from tenaz.charts.marks import Role
from tenaz.charts.roles import DARK, DARK_GROUND, LIGHT, LIGHT_GROUND


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


SOOT = _theme("soot", DARK_GROUND, DARK, dark=True)
CHALK = _theme("chalk", LIGHT_GROUND, LIGHT, dark=False)
_ROLES = {SOOT.name: (DARK, DARK_GROUND), CHALK.name: (LIGHT, LIGHT_GROUND)}


@cache
def role_styles(theme: str) -> dict[Role, Style]:
    """The style of each role in a theme."""
    roles, ground = _ROLES.get(theme, _ROLES[SOOT.name])
    return {role: Style(color=colour, bgcolor=ground, bold=role is Role.LIT) for role, colour in roles.items()}


def filled(theme: str, role: Role) -> Style:
    """Ground-coloured text on a field of the role's colour: what must be seen from a metre away."""
    roles, ground = _ROLES.get(theme, _ROLES[SOOT.name])
    return Style(color=ground, bgcolor=roles[role], bold=True)
