// A leaf: a narrow column of headings, a wide one of text, one family of letters. All that stands on it is data.
#let leaf = json("leaf.json")
#let ink = rgb("#2b2722")
#let faint = rgb("#6d6357")
#let line-ink = rgb("#b9ab97")
#let lit = rgb("#7a5300")
#let red = rgb("#a1260d")
#let green = rgb("#2f6b3c")
#let body-size = leaf.letter_pt * 1pt
#let small = 7.5pt
#let head-part = 34mm
#let gap = 5mm

#set document(
  title: leaf.title,
  author: if leaf.author == "" { () } else { leaf.author },
  description: leaf.subject,
  keywords: ("Tenaz",),
  date: datetime(year: leaf.day.year, month: leaf.day.month, day: leaf.day.day),
)
#set text(font: "DejaVu Sans", size: body-size, fill: ink, lang: leaf.language, hyphenate: false)
#set par(leading: 0.65em, spacing: 0.95em)
#set page(
  paper: leaf.paper,
  flipped: leaf.across,
  margin: (x: 18mm, top: 16mm, bottom: 18mm),
  footer: context {
    let words = leaf.page_words
      .replace("{at}", str(counter(page).get().first()))
      .replace("{of}", str(counter(page).final().first()))
    set text(size: small, fill: faint)
    line(length: 100%, stroke: 0.4pt + line-ink)
    v(-0.4em)
    grid(columns: (1fr, auto), leaf.title + " · " + leaf.dated, words)
  },
)
#show heading: it => text(size: body-size, weight: "bold", fill: lit, it.body)

// The workshop's head.
#let letterhead(head) = {
  let told = (head.address, head.contact).filter(one => one != "")
  if head.name == "" and head.mark == "" { return }
  grid(
    columns: (auto, 1fr, auto),
    column-gutter: gap,
    align: (left + horizon, left + horizon, right + horizon),
    if head.mark != "" { image(head.mark, height: 13mm, alt: head.name) },
    text(size: 13pt, weight: "bold", head.name),
    text(size: small, fill: faint, told.join(linebreak())),
  )
  v(-0.3em)
  line(length: 100%, stroke: 1pt + ink)
  v(0.2em)
}

#let beside(name, body) = grid(
  columns: (head-part, 1fr),
  column-gutter: gap,
  if name != "" { heading(level: 2, name) },
  body,
)
#let above(name, body) = {
  if name != "" { block(sticky: true, below: 0.7em, heading(level: 2, name)) }
  body
}
#let between = v(if leaf.letter_pt > 9 { 1.15em } else { 0.85em }, weak: true)

#let cell(words) = text(words)
#let rows-of(it) = {
  let count = calc.max(it.columns.len(), ..it.rows.map(row => row.len()), 1)
  let parts = if it.parts.len() == count { it.parts.map(part => part * 1fr) } else { (1fr,) * count }
  let size = if it.wide { 7.2pt } else { 0.95 * body-size }
  set text(size: size)
  set par(leading: 0.5em)
  table(
    columns: parts,
    inset: (x, y) => (left: if x == 0 { 0pt } else { 3pt }, right: 3pt, y: if leaf.letter_pt > 9 { 3pt } else { 2.2pt }),
    stroke: (x, y) => (bottom: 0.3pt + line-ink),
    align: (x, y) => if x in it.figures { right } else { left },
    ..if it.columns.len() > 0 {
      (table.header(..it.columns.map(name => text(fill: faint, size: 0.94 * size, name))),)
    } else { () },
    ..it.rows.map(row => row + ("",) * (count - row.len())).flatten().map(cell)
  )
}

#let drawn(it) = layout(room => {
  let aspect = 0.6035
  let most = if it.breaks { 100pt } else { (room.height - 30mm) / calc.max(it.rows.len(), 1) / 1.28 }
  let size = calc.min(if leaf.across { 9pt } else { 7.6pt }, room.width / calc.max(it.width, 1) / aspect, most)
  let step = size * aspect
  let high = size * 1.28
  let line-of(row) = block(width: step * it.width, height: high, above: 0pt, below: 0pt, {
    for run in row {
      place(
        dx: step * run.at,
        text(font: "DejaVu Sans Mono", size: size, fill: rgb(run.ink), top-edge: "ascender", run.text),
      )
    }
  })
  let all = for row in it.rows { line-of(row) }
  if it.breaks { all } else { figure(alt: it.alt, align(left, all)) }
})

#let signed(it) = {
  v(1fr)
  grid(
    columns: (1fr,) * it.places.len(),
    column-gutter: 10mm,
    ..it.places.map(words => {
      v(14mm)
      line(length: 100%, stroke: 0.6pt + ink)
      v(-0.5em)
      text(size: small, fill: faint, words)
    })
  )
}

#let block-of(it) = {
  if it.kind == "say" {
    let body = it.text.split("\n").map(words => par(
      if it.red { text(fill: red, weight: "bold", words) } else { words },
    )).join()
    between
    beside(it.heading, body)
  } else if it.kind == "table" {
    between
    if it.wide { above(it.heading, rows-of(it)) } else { beside(it.heading, rows-of(it)) }
  } else if it.kind == "drawing" {
    between
    block(breakable: it.breaks, above(it.heading, drawn(it)))
  } else if it.kind == "figure" {
    between
    block(breakable: false, above(it.heading, layout(room =>
      image(it.svg, width: 100%, height: room.height - 40mm, fit: "contain", alt: it.alt))))
  } else if it.kind == "typed" {
    between
    above(it.heading, {
      set text(font: "DejaVu Sans Mono", size: 7.2pt)
      set par(leading: 0.55em)
      for words in it.lines { text(if words == "" { " " } else { words }); linebreak() }
    })
  } else if it.kind == "signing" {
    signed(it)
  }
}

#letterhead(leaf.head)
#block(below: 0.6em, text(size: 15pt, weight: "bold", heading(level: 1, text(size: 15pt, fill: ink, leaf.title))))
#text(size: small, fill: faint, leaf.dated)
#if leaf.note != "" { block(above: 0.8em, text(size: small, weight: "bold", fill: red, leaf.note)) }
#if leaf.verdict != "" {
  let tone = if leaf.proven { green } else { red }
  block(above: 1em, below: 1.2em, width: 100%, stroke: (left: 3pt + tone), inset: (left: 8pt, y: 3pt),
    text(weight: "bold", fill: tone, size: 9.6pt, leaf.verdict))
}
#if leaf.attached != none { pdf.attach("attached.txt", relationship: "supplement", mime-type: "application/toml", description: leaf.attached) }
#for it in leaf.blocks { block-of(it) }
