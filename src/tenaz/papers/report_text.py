"""A report as text, and as one page of HTML that needs nothing beside it."""

from html import escape

from tenaz.core.base.plain_text import plain, plain_lines
from tenaz.papers.report import Edition, Fact, Picture, Report, Words, blocks
from tenaz.pictures.drawing.cells import wrapped
from tenaz.pictures.drawing.cells_html import cells_to_html
from tenaz.pictures.drawing.roles import LIGHT_GROUND

COLUMNS = 100
STYLE = f"""
:root {{ color-scheme: light; }}
body {{ background: {LIGHT_GROUND}; color: #2b2722; font: 16px/1.5 Georgia, serif; max-width: 62em; margin: 2em auto;
  padding: 0 1.5em; }}
h1 {{ font-size: 1.6em; margin: 0; }} h2 {{ font-size: 1.1em; margin: 1.6em 0 .3em; border-bottom: 1px solid #b9ab97; }}
.dated {{ color: #6d6357; margin: 0 0 1em; }}
.red {{ color: #a1260d; font-weight: bold; border-left: .4em solid #a1260d; padding-left: .6em; }}
table {{ border-collapse: collapse; width: 100%; font-size: .92em; }}
td {{ padding: .15em .8em .15em 0; vertical-align: top; border-bottom: 1px solid #e2d8c8; }}
td.on {{ color: #6d6357; font-size: .9em; }}
pre {{ font: 12px/1.35 monospace; overflow-x: auto; }}
@page {{ size: A4; margin: 18mm; }}
@media print {{ body {{ margin: 0; font-size: 11pt; }} h2, tr {{ break-inside: avoid; }} }}
"""


def as_text(report: Report, edition: Edition) -> str:
    """For whatever shows letters."""
    lines = [plain(report.title), plain(report.dated), ""]
    for block in blocks(report, edition):
        match block:
            case Words(heading=heading, text=text):
                lines += [plain(heading)] if heading else []
                for line in plain_lines(text).split("\n"):
                    lines += wrapped(line, COLUMNS) or [""]
            case Picture(title=title):
                lines += [plain(title), block.cells.text()]
            case (section, facts):
                lines += [plain(section), *map(_line, facts)]
        lines.append("")
    return "\n".join(lines)


def _line(fact: Fact) -> str:
    on = f"   [{fact.rests_on}]" if fact.trials else ""
    return plain(f"  {fact.name}: {fact.value} {fact.unit}".rstrip() + on)


def as_html(report: Report, edition: Edition) -> str:
    """One page."""
    title = escape(plain(report.title))
    parts = [f"<h1>{title}</h1>", f'<p class="dated">{escape(plain(report.dated))}</p>']
    for block in blocks(report, edition):
        match block:
            case Words():
                parts.append(_words(block))
            case Picture():
                parts.append(f"<h2>{escape(plain(block.title))}</h2>\n<pre>{cells_to_html(block.cells)}</pre>")
            case (section, facts):
                rows = "\n".join(_row(fact) for fact in facts)
                parts.append(f"<h2>{escape(plain(section))}</h2>\n<table>{rows}</table>")
    body = "\n".join(parts)
    return (
        f'<!doctype html>\n<html lang="en">\n<meta charset="utf-8">\n<title>{title}</title>\n<style>{STYLE}</style>\n'
        f"<body>\n{body}\n</body>\n</html>\n"
    )


def _words(block: Words) -> str:
    heading = f"<h2>{escape(plain(block.heading))}</h2>\n" if block.heading else ""
    text = escape(plain_lines(block.text))
    if "\n" in block.text:
        return f"{heading}<pre>{text}</pre>"
    return f"{heading}<p{' class=' + chr(34) + 'red' + chr(34) if block.red else ''}>{text}</p>"


def _row(fact: Fact) -> str:
    value = escape(plain(f"{fact.value} {fact.unit}".strip()))
    name, on = escape(plain(fact.name)), escape(plain(fact.rests_on))
    return f'<tr><td>{name}</td><td>{value}</td><td class="on">{on}</td></tr>'
