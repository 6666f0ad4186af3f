"""A card on paper: A5 or A4, vectors and real text, legible in black and white."""

from __future__ import annotations

import io
import unicodedata
from collections.abc import Iterable, Sequence
from functools import cache
from typing import Any
from xml.etree import ElementTree as ET
from xml.sax.saxutils import escape

from arabic_reshaper import reshape
from bidi import get_display
from reportlab import rl_config
from reportlab.graphics import renderPDF, shapes
from reportlab.lib.enums import TA_CENTER
from reportlab.lib.pagesizes import A4, A5
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    BaseDocTemplate,
    CondPageBreak,
    Flowable,
    Frame,
    KeepTogether,
    PageBreak,
    PageTemplate,
    Paragraph,
    Spacer,
    Table,
    TableStyle,
)
from svglib.svglib import svg2rlg

from reamer.figures.svg import FONTS, cut
from reamer.formats.card import Card, Row, StateCard, StationCard, Told

PAPERS = {"a5": A5, "a4": A4}
FACE, BOLD, OTHER = "Reamer", "Reamer-Bold", "Reamer-Other"
LINES = TableStyle(
    [
        ("FONT", (0, 0), (-1, -1), FACE),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LEFTPADDING", (0, 0), (-1, -1), 0),
        ("RIGHTPADDING", (0, 0), (-1, -1), 4),
        ("TOPPADDING", (0, 0), (-1, -1), 1),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5),
        ("LINEBELOW", (0, 0), (-1, -2), 0.3, "#999999"),
    ]
)
PLAIN = TableStyle(LINES.getCommands()[:-1])
CUT = TableStyle([*PLAIN.getCommands()[:2], ("BOX", (0, 0), (-1, -1), 0.8, "#000000", None, (3, 2))])


@cache
def _faces() -> frozenset[int]:
    """Register the faces that ship with Reamer, once.

    returns: the characters that the application's own face has
    Source: none.
    """
    files = (
        (FACE, "atkinson-hyperlegible-next-regular"),
        (BOLD, "atkinson-hyperlegible-next-bold"),
        (OTHER, "dejavu-sans"),
    )
    for name, file in files:
        pdfmetrics.registerFont(TTFont(name, str(FONTS / f"{file}.ttf")))
    own = TTFont(FACE, str(FONTS / f"{files[0][1]}.ttf"))
    # What a page begins with, so that no other face is named in the file.
    rl_config.canvas_basefontname = shapes.STATE_DEFAULTS["fontName"] = FACE
    pdfmetrics.registerFontFamily(FACE, normal=FACE, bold=BOLD, italic=FACE, boldItalic=BOLD)
    return frozenset(own.face.charToGlyph)


def _runs(text: str) -> list[tuple[bool, str]]:
    """A text cut where the face must change: whether a run is in the other face, and the run as it is seen, its letters
    joined and from left to right."""
    own = _faces()
    made: list[tuple[bool, str]] = []
    for c in unicodedata.normalize("NFC", text):
        other = ord(c) not in own and not c.isspace()
        # A space between words of another script belongs to them: they are laid out as one.
        if c == " " and made and made[-1][0]:
            other, c = True, "\u00a0"
        if made and made[-1][0] == other:
            made[-1] = (other, made[-1][1] + c)
        else:
            made.append((other, c))
    return [(other, _seen(run) if other else run) for other, run in made]


def _seen(run: str) -> str:
    """A run of another script as it is seen; what belongs after it stays there."""
    if all(unicodedata.bidirectional(c) not in ("R", "AL") for c in run):
        return run
    bare = run.rstrip("\u00a0")
    return str(get_display(reshape(bare))) + run[len(bare) :]


class Styles:
    """The few ways in which text stands on a page, for one size of paper."""

    def __init__(self, size: float) -> None:
        """size: of the running text [pt]"""

        def style(name: str, scale: float = 1.0, bold: bool = False, **more: Any) -> ParagraphStyle:
            font = BOLD if bold else FACE
            return ParagraphStyle(name, fontName=font, fontSize=size * scale, leading=size * scale * 1.22, **more)

        self.text, self.small = style("text"), style("small", 0.82)
        self.head, self.title = style("head", 1.9, True, spaceAfter=2), style("title", 2.4, True)
        self.part = style("part", 1.0, True, spaceBefore=5, spaceAfter=1.5)
        self.answer = style("answer", 1.35, True, spaceBefore=3, spaceAfter=3, borderPadding=3)
        self.label = style("label", 0.9, textColor="#444444")
        self.centre = style("centre", 0.82, alignment=TA_CENTER)


def _p(text: str, style: ParagraphStyle) -> Paragraph:
    """A paragraph of plain text: nothing in it is markup."""
    text = "".join(c for c in text if c.isprintable() or c == "\n")
    runs = _runs(text)
    made = "".join(f'<font name="{OTHER}">{escape(r)}</font>' if other else escape(r) for other, r in runs)
    return Paragraph(made.replace("\n", "<br/>"), style)


class Drawn(Flowable):
    """A figure of Reamer's as vectors, its words as text, scaled to a width."""

    def __init__(self, svg: str, width: float, tall: float = 0.0) -> None:
        """svg: the figure; width: to be drawn at [pt]; tall: at the most [pt], 0 for as tall as it is"""
        super().__init__()
        root = ET.fromstring(svg)
        wide, high = float(root.get("width", "1")), float(root.get("height", "1"))
        self.scale = min(width / wide, tall / high) if tall else width / wide
        self.width, self.height = wide * self.scale, high * self.scale
        space = "{http://www.w3.org/2000/svg}"
        self.texts = root.findall(f"{space}text")
        for t in (*self.texts, *root.findall(f"{space}title")):
            root.remove(t)
        _faces()
        drawing = svg2rlg(io.BytesIO(ET.tostring(root)))
        if drawing is None:
            raise ValueError("a figure of Reamer's own could not be read")
        # It comes in points, three quarters of the figure's own pixels.
        drawing.scale(self.width / drawing.width, self.height / drawing.height)
        self.drawing = drawing

    def wrap(self, *_: float) -> tuple[float, float]:
        """How much room it takes [pt]."""
        return self.width, self.height

    def draw(self) -> None:
        """Draw it."""
        renderPDF.draw(self.drawing, self.canv, 0, 0)
        for t in self.texts:
            size = float(t.get("font-size", "13")) * self.scale
            x, y = float(t.get("x", "0")) * self.scale, self.height - float(t.get("y", "0")) * self.scale
            bold = t.get("font-weight") == "700"
            self._line(t.text or "", x, y, size, bold, t.get("text-anchor", "start"))

    def _line(self, said: str, x: float, y: float, size: float, bold: bool, anchor: str) -> None:
        style = ParagraphStyle("figure", fontName=BOLD if bold else FACE, fontSize=size, leading=size * 1.2)
        made = _p(said, style)
        high, wide = made.wrap(1e4, 1e4)[1], _width(said, style)
        left = x - wide / 2 if anchor == "middle" else x - wide if anchor == "end" else x
        made.drawOn(self.canv, left, y - high + pdfmetrics.getAscent(style.fontName, size))


def _width(said: str, style: ParagraphStyle) -> float:
    return sum(
        float(pdfmetrics.stringWidth(run, OTHER if other else style.fontName, style.fontSize))
        for other, run in _runs(said)
    )


class _Document(BaseDocTemplate):
    """Pages with the card's name, its version and the page below."""

    def __init__(self, out: io.BytesIO, made: Card, paper: tuple[float, float], styles: Styles) -> None:
        edge = 9 * mm
        super().__init__(
            out,
            pagesize=paper,
            leftMargin=edge,
            rightMargin=edge,
            topMargin=edge,
            bottomMargin=edge + 14,
            title=made.title,
            creator="Reamer",
            subject="Arithmetic on what was entered",
        )
        self.made, self.styles, self.edge, self.paper = made, styles, edge, paper
        wide, tall = paper[0] - 2 * edge, paper[1] - 2 * edge - 14
        frame = Frame(edge, edge + 14, wide, tall, leftPadding=0, rightPadding=0, topPadding=0, bottomPadding=0)
        self.addPageTemplates(PageTemplate("page", [frame], onPage=self.foot))

    def foot(self, canvas: Canvas, _: BaseDocTemplate) -> None:
        """What stands at the foot of each page."""
        m = self.made
        canvas.saveState()
        canvas.setLineWidth(0.4)
        canvas.line(self.edge, self.edge + 10, self.paper[0] - self.edge, self.edge + 10)
        told = f"{cut(m.title, 24)} · version {m.version}" + (f" · {m.made}" if m.made else "")
        left = _p(told, self.styles.small)
        left.wrap(self.paper[0] - 2 * self.edge, 40)
        left.drawOn(canvas, self.edge, self.edge + 8 - left.height)
        canvas.setFont(FACE, self.styles.small.fontSize)
        canvas.drawRightString(
            self.paper[0] - self.edge, self.edge, f"the person at the anchor decides · {canvas.getPageNumber()}"
        )
        canvas.restoreState()


def pdf(made: Card, paper: str = "a5", only: Sequence[str] = (), who: tuple[str, str] | None = None) -> bytes:
    """A card as PDF.

    made: the card; paper: a5 or a4; only: ids of the drops whose pages are wanted, none for the whole card; who: the id
    and the name of the one person whose acts are wanted, in place of the whole
    returns: the file's bytes
    Source: none, drawn with ReportLab.
    """
    _faces()
    size = PAPERS[paper]
    styles = Styles(7.6 if paper == "a5" else 9.2)
    out, wide = io.BytesIO(), size[0] - 18 * mm
    flow: list[Flowable] = []
    wanted = [s for s in made.stations if not only or s.drop in only]
    if who is not None:
        flow = _of_one(made, wanted, who, styles)
        flow += _some("Read this", made.cautions, styles)
        _Document(out, made, size, styles).build(flow)
        return out.getvalue()
    if only:
        # Some pages by themselves do not hide what the whole plan has.
        flow.append(_p(f"Pages of a card. The whole plan: {made.count}.", styles.text))
    else:
        flow += [*_overview(made, styles, wide), PageBreak()]
    for s in wanted:
        flow += [*_station(s, styles, wide, size[1]), PageBreak()]
    flow += _strips(wanted, styles, wide)
    flow += _last(made, styles, wide)
    _Document(out, made, size, styles).build(flow)
    return out.getvalue()


def _rows(rows: Iterable[Row], styles: Styles, wide: float, share: float = 0.3) -> list[Flowable]:
    cells = [[_p(k, styles.label), _p(v, styles.text)] for k, v in rows]
    return [Table(cells, colWidths=[wide * share, wide * (1 - share)], style=LINES)] if cells else []


def _some(title: str, lines: Sequence[str], styles: Styles, mark: str = "") -> list[Flowable]:
    """A heading and lines under it; the heading stays with the first."""
    head = ParagraphStyle("kept", parent=styles.part, keepWithNext=1)
    return [_p(title, head), *(_p(f"{mark}{x}", styles.text) for x in lines)] if lines else []


def _findings(told: Sequence[Told], styles: Styles) -> list[Flowable]:
    """Findings, those that stand first; what is accepted by name apart."""
    made: list[Flowable] = []
    for title, some in (
        ("What was found", [t for t in told if t.state != "accepted"]),
        ("Accepted by name", [t for t in told if t.state == "accepted"]),
    ):
        for n, t in enumerate(some):
            said = f"{t.severity.upper()}{', overruled' if t.state == 'overruled' else ''}: {t.title}"
            head = [_p(title, styles.part)] if n == 0 else []
            bold = ParagraphStyle("found", parent=styles.text, fontName=BOLD)
            made.append(KeepTogether([*head, _p(said, bold), _p(t.reason, styles.text)]))
            made += [_p(m, styles.small) for m in t.marks]
    return made


def _overview(made: Card, styles: Styles, wide: float) -> list[Flowable]:
    flow: list[Flowable] = [_p(made.title, styles.title)]
    flow += [_p(made.where, styles.text)] if made.where else []
    told: list[Flowable] = [_p(made.height, styles.answer), _p(made.count, styles.text)]
    told += _some("Second check", made.check, styles)
    told += _some("Ropes to carry", made.carry, styles)
    told += _some("Stays behind", (made.leave,), styles)
    told += _some("Spare", (made.spare,), styles)
    told += _some("No way back", made.returns, styles)
    told += _some("The day", made.day, styles)
    if made.stations:
        strip = Drawn(made.profile, wide * 0.24)
        flow.append(Table([[strip, told]], colWidths=[wide * 0.25, wide * 0.75], style=PLAIN))
        head = ["", "", "there", "pull by", ""]
        cells = [[_p(x, styles.label) for x in head]]
        for s, (_, there, by) in zip(made.stations, made.times, strict=True):
            row = (f"{s.number}", f"{s.name}, {s.height}", there, by, s.count)
            cells.append([_p(x, styles.text) for x in row])
        flow.append(Table(cells, colWidths=[wide * x for x in (0.06, 0.31, 0.2, 0.1, 0.33)], style=LINES, repeatRows=1))
    else:
        flow += told
    return [*flow, *_findings(made.told, styles)]


def _station(s: StationCard, styles: Styles, wide: float, tall: float) -> list[Flowable]:
    flow: list[Flowable] = [_p(f"{s.number} · {s.name} · {s.height}", styles.head), _p(s.count, styles.text)]
    for state in s.states:
        flow += _state(state, styles, wide, tall)
    who = [("who goes", ", ".join(s.order)), ("backed up by", "; ".join(s.backups)), ("last measured", s.measured)]
    who += [("water", s.water)]
    flow += _rows([(k, v) for k, v in who if v], styles, wide)
    flow += _findings(s.told, styles)
    flow += _some("Watch for", s.hazards, styles, "– ")
    flow += _some("Act by act", (f"Not checked: {s.barred}",) if s.barred else (), styles)
    return [*flow, *_acts(s, styles, wide)]


EACH = 8


def _acts(s: StationCard, styles: Styles, wide: float) -> list[Flowable]:
    """The acts, down two columns at a time, some to a block: a block is never torn."""
    if not s.acts:
        return []
    told: list[Flowable] = []
    for a in s.acts:
        said = f"{a.number} · {a.said}" if not a.draft else f"{a.number} · DRAFT: {a.said} {a.draft}"
        told.append(_p(said + (f" – {a.pause}" if a.pause else ""), styles.small))
    blocks = [[told[n : n + EACH], told[n + EACH : n + 2 * EACH] or ""] for n in range(0, len(told), 2 * EACH)]
    head = _p("Act by act, down the left, then down the right of each block", styles.part)
    return [CondPageBreak(90), head, Table(blocks, colWidths=[wide / 2, wide / 2], style=LINES)]


def _of_one(made: Card, stations: Sequence[StationCard], who: tuple[str, str], styles: Styles) -> list[Flowable]:
    """What one person does at each station, with what everybody does; numbers as in the whole order."""
    flow: list[Flowable] = [_p(f"What {who[1]} does", styles.title), _p(f"The whole plan: {made.count}.", styles.text)]
    for s in stations:
        flow += [CondPageBreak(60), _p(f"{s.number} · {s.name} · {s.height}", styles.head), _p(s.count, styles.text)]
        flow += [_p(f"{x.title}: {x.answer}" if x.title else x.answer, styles.text) for x in s.states]
        flow += [_p(f"Backed up: {b}", styles.text) for b in s.backups if b.startswith(f"{who[1]}: ")]
        flow += _some("Act by act", (f"Not checked: {s.barred}",) if s.barred else (), styles)
        for a in s.acts:
            if a.of in ("", who[0]):
                said = f"{a.number} · {'DRAFT: ' if a.draft else ''}{a.said}" + (f" {a.draft}" if a.draft else "")
                flow.append(_p(said + (f" – {a.pause}" if a.pause else ""), styles.text))
    return flow


def _state(state: StateCard, styles: Styles, wide: float, tall: float) -> list[Flowable]:
    flow: list[Flowable] = [_p(state.title, styles.part)] if state.title else []
    flow.append(_p(state.answer, styles.answer))
    figure = Drawn(state.cutaway, wide * 0.72, tall * 0.4)
    above = Drawn(state.above, wide * 0.26) if state.above else ""
    flow.append(Table([[figure, above]], colWidths=[wide * 0.73, wide * 0.27], style=PLAIN))
    flow += _rows(state.rows, styles, wide)
    flow += _some("Rigging", state.rigging, styles, "– ")
    flow += _some("Before the pull", state.before, styles, "– ")
    return flow + _some("May catch", state.catches, styles, "– ")


def _strips(stations: Sequence[StationCard], styles: Styles, wide: float) -> list[Flowable]:
    """One strip a station, to cut out."""
    flow: list[Flowable] = []
    for n, s in enumerate(stations):
        head = [_p("To cut out, one for each station", styles.part)] if n == 0 else []
        rows = [[_p(f"{s.number}", styles.head), _rows(s.strip, styles, wide - 50, 0.2)]]
        box = Table(rows, colWidths=[36, wide - 40], style=CUT)
        flow.append(KeepTogether([*head, box, Spacer(1, 5)]))
    return [*flow, PageBreak()] if flow else []


def _last(made: Card, styles: Styles, wide: float) -> list[Flowable]:
    """The party, cautions and legend."""
    flow: list[Flowable] = []
    if made.party:
        flow.append(_p("The party", styles.part))
        flow += _rows(
            [(n, ", ".join(x for x in (role, f"carries {kg}" if kg else "") if x)) for n, role, kg in made.party],
            styles,
            wide,
        )
    flow += _some("Read this", made.cautions, styles)
    return [*flow, _p("How to read it", styles.part), *_rows(made.legend, styles, wide, 0.36)]
