"""A text as a square code for a telephone."""

import io

import segno

QUIET = 2
"""Modules of quiet around it; readers get by with less than the standard's four where the ground is light."""


def square_rows(text: str) -> tuple[str, ...]:
    """Rows of letters, each two modules high, to be shown dark on light."""
    code = segno.make(text, error="l", micro=False)
    matrix = [[bool(dark) for dark in row] for row in code.matrix_iter(border=QUIET)]
    if len(matrix) % 2:
        matrix.append([False] * len(matrix[0]))
    signs = {(False, False): " ", (True, False): "▀", (False, True): "▄", (True, True): "█"}
    return tuple(
        "".join(signs[pair] for pair in zip(upper, lower, strict=True))
        for upper, lower in zip(matrix[::2], matrix[1::2], strict=True)
    )


def square_svg(text: str) -> str:
    """As a picture to stand in a page."""
    drawn = io.BytesIO()
    segno.make(text, error="m", micro=False).save(drawn, kind="svg", xmldecl=False, svgns=False, scale=4, border=4)
    return drawn.getvalue().decode()
