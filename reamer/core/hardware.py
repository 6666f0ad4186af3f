"""Connectors and sewn slings in the load path: how they are loaded, how they are rigged, what they then hold."""

from __future__ import annotations

import math
from dataclasses import replace

from reamer.core.anchor import wet_share
from reamer.core.findings import Findings
from reamer.core.loads import Asked
from reamer.core.model import Ring, Sling, SlingLink, Webbing
from reamer.core.part import Part, given, part
from reamer.core.patterns import retention, retention_graded
from reamer.core.say import Number
from reamer.core.tables import row
from reamer.core.working import Book, Term, from_row

LOADED = {"long axis": "", "cross": ", cross-loaded", "gate open": ", gate open", "unknown": ", its lie unknown"}
RIGGED = {"straight": "straight", "overhand": "knotted with an overhand", "basket": "in a basket",
          "basket double": "in a double basket", "shortened": "wrapped to shorten it", "girth": "girth-hitched"}


def slips(name: str) -> str:
    """Why a knot that closes a loop of HMPE counts for nothing.

    name: of what it is tied in
    returns: the reason in words
    Source: P, table of pull tests.
    """
    return f"an overhand that closes a loop of {name} slips: HMPE is too slippery for it"


def slip_finding(name: str, knot: str, key: str, found: Findings) -> None:
    """Say that a knot which closes a loop of HMPE slips, and at what.

    name: of what it is tied in; knot: as the tables name it; key: the part's; found: where the finding goes
    returns: nothing
    Source: P, table of pull tests.
    """
    seen = row("pull_tests", {"ring bend": "HMPE ring bend", "double fisherman's": "HMPE single fisherman"}.get(knot, "HMPE overhand"))
    found.add("webbing.knot", "Shortfall", key, "A {knot} does not hold in {webbing}", "HMPE is too slippery for it: a loop so closed slips at {low} to {high}. Use nylon, or a sewn sling.",
              numbers={"low": Number(seen.low, "force", "down"), "high": Number(seen.high, "force", "up")}, words={"webbing": name, "knot": knot})


def connector_part(key: str, ring: Ring, loaded: str, want: Asked, found: Findings, book: Book) -> Part:
    """A connector by the way it is loaded; where nobody said, by the least of its ratings.

    key: the part's; ring: the connector; loaded: long axis, cross, gate open or unknown; a closed ring has one way only
    want: what is asked of it; found, book: where findings and workings go
    returns: the part [kN]
    Source: whoever rates it; EN 12275 for what the ratings mean, from memory.
    """
    if ring.kind in ("ring", "plate"):
        loaded = "long axis"
    name = ring.name + LOADED[loaded]
    ways = {"long axis": ring.rating_kn, "cross": ring.cross_kn, "gate open": ring.open_kn}
    if ring.kind == "link":
        del ways["gate open"]  # screwed shut
    if loaded != "long axis":
        says = "How {ring} lies is unknown" if loaded == "unknown" else "{ring} is loaded {how}"
        found.add("connector.lie", "Not checked" if loaded == "unknown" else "Caution", key, says,
                  "Only along its long axis does a connector hold its first rating. Turn it, or use a closed ring.",
                  words={"ring": ring.name, "how": "across" if loaded == "cross" else "with its gate open"})
    if loaded != "unknown":
        rating = ways.get(loaded)
        if rating is None:
            return part(key, name, want, None, None, "a link that screws shut has no gate to stand open", book)
        return part(key, name, want, *given(key, name, rating, book), book)
    blank = [c for c in ways.values() if c.kind == "unknown"]
    if blank:
        return part(key, name, want, None, None, f"how it lies is unknown, and not every rating of it is known: {blank[0].why}", book)
    least = min(ways.values(), key=lambda c: c.low_kn)
    return part(key, name, want, *given(key, name, least, book), book)


def sling_part(key: str, sling: Sling, link: SlingLink, wet: str, want: Asked, book: Book) -> Part:
    """A sewn sling in its configuration.

    C = k·R·w·cos(θ/2), the cosine for baskets only

    key: the part's; sling: its rating R of the whole loop, straight; link: how it is rigged; wet: yes, no or unknown
    want: what is asked of it; book: where workings go
    returns: the part [kN]
    Source: P, table of slings; in HMPE and aramid P and HB, table of knots.
    """
    name = f"{sling.name}, {RIGGED[link.use]}"
    if sling.rating_kn.kind == "unknown" or sling.fibre == "unknown":
        what = f"rating of {sling.name}" if sling.rating_kn.kind == "unknown" else f"fibre of {sling.name}"
        return part(key, name, want, None, None, f"the {what} is unknown", book, textile=True)
    basket = link.use.startswith("basket")
    if basket and link.angle_deg.kind == "unknown":
        return part(key, name, want, None, None, "the angle between the legs is unknown", book, textile=True)
    factor = row("slings", link.use)
    if sling.fibre in ("HMPE", "aramid") and link.use in ("overhand", "girth"):
        factor = retention_graded("overhand" if link.use == "overhand" else "girth hitch", sling.fibre)
    kept = wet_share(sling.fibre, wet)
    wet_row = row("materials", f"wet.{sling.fibre}")
    ends = []
    for i, end in enumerate(("low", "high")):
        k = factor.low if end == "low" else factor.high
        rating = sling.rating_kn.low_kn if end == "low" else sling.rating_kn.high_kn
        terms = [from_row("k", factor, k, "ratio"), Term("R", f"rating of {sling.name}, the whole loop", rating, "force", sling.rating_kn.source),
                 Term("w", f"{wet_row.name}; gets wet: {wet}", kept[i], "share", wet_row.cited)]
        value, formula = k * rating * kept[i], "k*R*w"
        if basket:
            angle = math.radians(link.angle_deg.value)
            terms.append(Term("theta", "angle between the legs", angle, "angle", f"entered: {link.angle_deg.method}"))
            value, formula = value * math.cos(angle / 2), formula + "*cos(theta/2)"
        ends.append(book.number(f"{key}.{end}", f"{name}, {end} end", formula, terms, value, "force", "down" if end == "low" else "up"))
    return part(key, name, want, ends[0], ends[1], "", book, textile=True)


def webbing_part(key: str, webbing: Webbing, wet: str, school: str, want: Asked, book: Book) -> Part:
    """Webbing doubled between two overhands.

    C = n·S·w·ρ, one of the two strands at the low end

    key: the part's; webbing: as it lies in the shed; wet: yes, no or unknown; school: of retention
    want: what is asked of it; book: where workings go
    returns: the part [kN]
    Source: HB and P, table of knots; P for the strands that carry.
    """
    name = f"{webbing.name}, doubled between two overhands"
    if webbing.strength_kn.kind == "unknown" or webbing.fibre == "unknown":
        what = f"strength of {webbing.name}" if webbing.strength_kn.kind == "unknown" else f"fibre of {webbing.name}"
        return part(key, name, want, None, None, f"the {what} is unknown", book, textile=True)
    if webbing.fibre == "HMPE":
        return replace(part(key, name, want, None, None, slips(webbing.name), book, textile=True), said=True)
    knot = retention("overhand", webbing.fibre, school)
    wet_row, kept = row("materials", f"wet.{webbing.fibre}"), wet_share(webbing.fibre, wet)
    ends = []
    for i, end in enumerate(("low", "high")):
        n, strand = (1, webbing.strength_kn.low_kn) if end == "low" else (2, webbing.strength_kn.high_kn)
        rho = knot.low if end == "low" else knot.high
        ends.append(book.number(f"{key}.{end}", f"{name}, {end} end", "n*S*w*rho", [
            Term("n", "strands of two that carry", n, "count", "P: common practice, no source"),
            Term("S", f"one strand of {webbing.name}, unknotted", strand, "force", webbing.strength_kn.source),
            Term("w", f"{wet_row.name}; gets wet: {wet}", kept[i], "share", wet_row.cited), from_row("rho", knot, rho, "share")],
            n * strand * kept[i] * rho, "force", "down" if end == "low" else "up"))
    return part(key, name, want, ends[0], ends[1], "", book, textile=True)
