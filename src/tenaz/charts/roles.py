"""Colours of the roles: a warm dark workshop, and a light one of the same family."""

from tenaz.charts.marks import Role

DARK_GROUND = "#191512"
LIGHT_GROUND = "#f4ede3"

DARK = {
    Role.TEXT: "#e9dfd2",
    Role.FAINT: "#a1968b",
    Role.FRAME: "#554b43",
    Role.LIT: "#dba63f",
    Role.HELD: "#66b89e",
    Role.FAILED: "#f07c4f",
    Role.UNKNOWN: "#a89d92",
    Role.MEASURED: "#8ab0cf",
    Role.GUARD: "#7d6a3c",
}
"""Soot and iron for ground, brass lit, verdigris held, ember failed, ash unknown, steel being measured."""

LIGHT = {
    Role.TEXT: "#2a2320",
    Role.FAINT: "#6a6059",
    Role.FRAME: "#c9beb1",
    Role.LIT: "#7b5809",
    Role.HELD: "#1f6655",
    Role.FAILED: "#a6360d",
    Role.UNKNOWN: "#6a6059",
    Role.MEASURED: "#325676",
    Role.GUARD: "#b79a4a",
}

READ_AS_TEXT = tuple(role for role in Role if role not in (Role.FRAME, Role.GUARD))
"""Roles that carry words; the others only draw lines and shade."""
