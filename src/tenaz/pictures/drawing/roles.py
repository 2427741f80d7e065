"""Colours of the roles: a warm dark workshop, and a light one of the same family."""

from tenaz.pictures.drawing.marks import Role

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

DARK_16 = {
    Role.TEXT: "#ffffff",
    Role.FAINT: "#aaaaaa",
    Role.FRAME: "#555555",
    Role.LIT: "#ffff55",
    Role.HELD: "#55ff55",
    Role.FAILED: "#ff5555",
    Role.UNKNOWN: "#aaaaaa",
    Role.MEASURED: "#55ffff",
    Role.GUARD: "#aa5500",
}
LIGHT_16 = {
    Role.TEXT: "#000000",
    Role.FAINT: "#555555",
    Role.FRAME: "#aaaaaa",
    Role.LIT: "#aa5500",
    Role.HELD: "#00aa00",
    Role.FAILED: "#aa0000",
    Role.UNKNOWN: "#555555",
    Role.MEASURED: "#0000aa",
    Role.GUARD: "#aa5500",
}
"""For a terminal of sixteen colours: just those that it has, so that none falls together with another."""

DARK_8 = {
    Role.TEXT: "#aaaaaa",
    Role.FAINT: "#aa00aa",
    Role.FRAME: "#0000aa",
    Role.LIT: "#aa5500",
    Role.HELD: "#00aa00",
    Role.FAILED: "#aa0000",
    Role.UNKNOWN: "#aa00aa",
    Role.MEASURED: "#00aaaa",
    Role.GUARD: "#0000aa",
}
"""Names of the eight colours of a console whose palette was set to those of ``DARK``: what is sent, not what is seen.
Bold letters take the second eight there, so these must do; a guard band is drawn as the frame is.
"""

READ_AS_TEXT = tuple(role for role in Role if role not in (Role.FRAME, Role.GUARD))
"""Roles that carry words; the others only draw lines and shade."""
