"""A figure as SVG, put together as XML and nothing else; and its raster."""

from __future__ import annotations

from pathlib import Path
from xml.etree import ElementTree as ET

import resvg_py

from reamer.core.model import Rope

FONT = "Atkinson Hyperlegible Next"
FONTS = Path(__file__).parent / "fonts"
INK, QUIET, RULE = "#1d2830", "#5f6a70", "#dcd3c2"
PAPER, STRIP, ROCK = "#fbf8f1", "#ebe4d5", "#cfc0ab"
SHORT, OPEN, CARE, ACCENT = "#9f2018", "#34507f", "#7a5607", "#c2741c"

# Each rope's stripe, so that nothing hangs on its colour: dashes, their ends and their width.
STRIPES: dict[str, tuple[str, str, float]] = {
    "plain": ("", "butt", 0.0),
    "dashes": ("6 6", "butt", 1.6),
    "dots": ("0.1 6", "round", 2.2),
    "bars": ("2 5", "butt", 4.5),
    "twin line": ("", "butt", 1.2),
    "long dash": ("16 5", "butt", 1.6),
}


class Figure:
    """An SVG as it is drawn, in pixels from the upper left."""

    def __init__(self, width: float, height: float, title: str) -> None:
        """width, height: of the figure [px]; title: what it shows."""
        self.root = ET.Element(
            "svg",
            {
                "xmlns": "http://www.w3.org/2000/svg",
                "width": f"{width:g}",
                "height": f"{height:g}",
                "viewBox": f"0 0 {width:g} {height:g}",
                "font-family": f"'{FONT}', 'Atkinson Hyperlegible Next Variable', sans-serif",
                "font-size": "13",
                "role": "img",
            },
        )
        ET.SubElement(self.root, "title").text = title
        self.box(0, 0, width, height, PAPER)

    def box(self, x: float, y: float, width: float, height: float, fill: str, **more: str) -> None:
        """A filled rectangle.

        x, y: its upper left corner; width, height: of it [px]; fill: its colour; more: attributes
        returns: nothing
        Source: none.
        """
        self._add("rect", {"x": _n(x), "y": _n(y), "width": _n(width), "height": _n(height), "fill": fill, **more})

    def path(self, d: str, stroke: str = INK, width: float = 1.4, fill: str = "none", **more: str) -> None:
        """A path.

        d: its data; stroke: its colour; width: of the stroke [px]; fill: its inside; more: attributes
        returns: nothing
        Source: none.
        """
        self._add("path", {"d": d, "stroke": stroke, "stroke-width": _n(width), "fill": fill, **more})

    def text(
        self,
        x: float,
        y: float,
        said: str,
        size: float = 13,
        fill: str = INK,
        bold: bool = False,
        anchor: str = "start",
    ) -> None:
        """A line of text.

        x, y: where its base line starts [px]; said: the text; size: of the letters [px]; fill: colour; bold: or not;
        anchor: start, middle or end
        returns: nothing
        Source: none.
        """
        given = {"x": _n(x), "y": _n(y), "font-size": _n(size), "fill": fill, "text-anchor": anchor}
        if bold:
            given["font-weight"] = "700"
        self._add("text", given).text = "".join(c for c in said if c.isprintable())

    def rope(self, d: str, rope: Rope | None, width: float = 6.0) -> None:
        """A rope: its colour within a dark rim, and its own stripe.

        d: the path it lies along; rope: whose looks, None for one that is gone; width: of it [px]
        returns: nothing
        Source: none.
        """
        dash, cap, wide = STRIPES[rope.stripe if rope is not None else "plain"]
        self.path(d, "#1b1b1b", width + 1.4, **{"stroke-opacity": "0.55"})
        self.path(d, rope.colour if rope is not None else "#777777", width)
        if wide:
            more = {"stroke-linecap": cap, **({"stroke-dasharray": dash} if dash else {})}
            self.path(d, "#fffdf6", wide, **more)

    def _add(self, name: str, given: dict[str, str]) -> ET.Element:
        return ET.SubElement(self.root, name, given)

    def __str__(self) -> str:
        """The figure as a file's content."""
        return ET.tostring(self.root, encoding="unicode", xml_declaration=False)


def _n(value: float) -> str:
    return f"{value:.2f}".rstrip("0").rstrip(".")


# A figure taller than this is drawn a pixel for each of its own: two would take more room than there may be.
TALL = 4000


def png(svg: str) -> bytes:
    """A figure as pixels, with the face that ships with Reamer.

    svg: the figure
    returns: the PNG, two pixels for each of a figure's own unless it is very tall
    Source: none, drawn by resvg.
    """
    dirs = [str(FONTS)]
    zoom = 1 if float(ET.fromstring(svg).get("height", "0")) > TALL else 2
    made = resvg_py.svg_to_bytes(svg, zoom=zoom, font_dirs=dirs, font_family=FONT, sans_serif_family=FONT)
    return bytes(made)


def cut(text: str, most: int) -> str:
    """A text that is not longer than so many characters.

    text: any; most: characters
    returns: the text, its end left out where it is longer
    Source: none.

    >>> cut("Under the Ferns", 10)
    'Under the…'
    """
    return text if len(text) <= most else text[: most - 1].rstrip() + "…"
