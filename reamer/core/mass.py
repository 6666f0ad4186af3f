"""Anchors that hold by their weight, by growing, or by ice: what can be worked out of them, and what is refused."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.findings import Findings
from reamer.core.model import IceThread, Mass, Post
from reamer.core.say import Number
from reamer.core.section import limits_m
from reamer.core.tables import row
from reamer.core.working import Book, Term, computed, from_row


@dataclass(frozen=True, slots=True)
class Ice:
    """An ice thread's geometry: how long each hole is and how deep they meet. ``meets`` is false where they do not; ``just``: only
    if the spacing is no wider than it should be."""

    first: Number | None
    second: Number | None
    depth: Number | None
    meets: bool
    why: str
    just: bool = False


def slide_kn(mass_kg: float, friction: float, slope_rad: float) -> float:
    """The pull at which a block begins to slide.

    F = (μ·cos β − sin β)·m·g/1000, not less than 0

    mass_kg: m, less the water's if it lies in it [kg]; friction: μ on its bed [-]; slope_rad: β down toward the pull [rad]
    returns: F [kN]
    Source: HB, block on a slope.

    >>> round(slide_kn(2600, 0.4, 0.0), 2)
    10.2
    """
    return max(0.0, (friction * math.cos(slope_rad) - math.sin(slope_rad)) * mass_kg * row("loads", "g").low / 1000)


def topple_kn(mass_kg: float, depth_m: float, height_m: float, centre_m: float = 0.0, slope_rad: float = 0.0) -> float:
    """The pull at which a block begins to topple.

    F = m·g·((b/2)·cos β − h·sin β)/z/1000, not less than 0

    mass_kg: m, less the water's if it lies in it [kg]; depth_m: b of its base along the pull [m]
    height_m: z of the webbing above the base; on the ground it never topples by the pull [m]
    centre_m: h, height of its centre of mass [m]; slope_rad: β down toward the pull [rad]
    returns: F [kN]
    Source: HB, moments about the front edge.

    >>> round(topple_kn(2000, 1.0, 0.5), 1), round(topple_kn(2000, 1.0, 0.5, 0.4, math.radians(10)), 1)
    (19.6, 16.6)
    """
    held = max(0.0, depth_m / 2 * math.cos(slope_rad) - centre_m * math.sin(slope_rad))
    return (math.inf if held > 0 else 0.0) if height_m <= 0 else mass_kg * row("loads", "g").low * held / height_m / 1000


def holes_m(spacing_m: float, first_rad: float, second_rad: float) -> tuple[float, float, float]:
    """Lengths of two holes drilled to meet in ice, and the depth at which they do.

    a = b·sin β/sin(α + β), c = b·sin α/sin(α + β), depth = a·sin α

    spacing_m: b between the holes [m]; first_rad, second_rad: α, β to the surface, α + β < π [rad]
    returns: a, c and the depth [m]
    Source: HB, law of sines.

    >>> [round(x, 3) for x in holes_m(0.21, math.radians(50), math.radians(60))]
    [0.194, 0.171, 0.148]
    """
    both = math.sin(first_rad + second_rad)
    a = spacing_m * math.sin(second_rad) / both
    return a, spacing_m * math.sin(first_rad) / both, a * math.sin(first_rad)


def mass_holds(mass: Mass, name: str, key: str, book: Book) -> tuple[Number | None, Number | None, str]:
    """What a block holds by its weight: the lesser of sliding and toppling; sliding alone where it is not known whether it topples.

    mass: its box, bed and pull; name, key: of the part; book: where workings go
    returns: low, high [kN] and, where unknown, why
    Source: HB, statics; HB and J, table of materials.
    """
    figures = {"its box": (mass.long_m, mass.wide_m, mass.high_m), "the slope of its bed": (mass.slope_deg,)}
    blank = [what for what, each in figures.items() if any(f.kind == "unknown" for f in each)]
    if mass.bed == "unknown":
        blank.append("what it lies on")
    if blank:
        return None, None, f"unknown: {' and '.join(blank)}"
    rock, water, box, g = (row("materials", "mass.rock"), row("materials", "mass.water"), row("materials", "mass.box"), row("loads", "g"))
    made = []
    for i, end in enumerate(("low", "high")):
        sides = [limits_m(f)[i] for f in (mass.long_m, mass.wide_m, mass.high_m)]
        wet = mass.under_water == "yes" or (mass.under_water == "unknown" and end == "low")
        bed = row("materials", f"mass.bed.{'wet or loose' if wet and mass.bed == 'dry rock' else mass.bed}")
        density = rock.low - (water.high if wet else 0.0)
        kilos = sides[0] * sides[1] * sides[2] * box.low * density
        terms = [Term(s, f"{n} of its box, {end} end", v, "fine length", "entered") for s, n, v in zip("abc", ("length", "width", "height"), sides, strict=True)]
        terms += [from_row("v", box, box.low, "share"), from_row("r", rock, rock.low, "count")]
        if wet:
            terms.append(from_row("w", water, water.high, "count"))
        m = book.number(f"{key}.mass.{end}", f"mass of {name}{' in water' if wet else ''}, {end} end", f"a*b*c*v*{'(r - w)' if wet else 'r'}",
                        terms, kilos, "mass", "down" if end == "low" else "up")
        mu, slope = (bed.low, bed.high)[i], math.radians(mass.slope_deg.value)
        slides = book.number(f"{key}.slides.{end}", f"pull at which {name} slides, {end} end", "max(0, (mu*cos(beta) - sin(beta))*m*g/1000)", [
            from_row("mu", bed, mu, "share"), Term("beta", "slope of its bed toward the pull", slope, "angle", "entered"),
            computed("m", "its mass", m), from_row("g", g, g.low, "share")], slide_kn(kilos, mu, slope), "force", "down" if end == "low" else "up")
        ends = [slides]
        if not topples_unknown(mass):
            z, b = limits_m(mass.height_m)[1 - i], limits_m(mass.depth_m)[i]
            centre = limits_m(mass.high_m)[1 - i if slope > 0 else i] / 2
            held = max(0.0, b / 2 * math.cos(slope) - centre * math.sin(slope))
            if z > 0 or held <= 0:
                z = max(z, 0.01)
                ends.append(book.number(f"{key}.topples.{end}", f"pull at which {name} topples, {end} end", "max(0, m*g*(d/2*cos(beta) - h*sin(beta))/z/1000)", [
                    computed("m", "its mass", m), from_row("g", g, g.low, "share"), Term("d", "depth of its base along the pull", b, "fine length", "entered"),
                    Term("h", "height of its centre", centre, "fine length", "entered"), Term("beta", "slope of its bed toward the pull", slope, "angle", "entered"),
                    Term("z", "height of the webbing above its base", z, "fine length", "entered")], topple_kn(kilos, b, z, centre, slope), "force", "down" if end == "low" else "up"))
        made.append(book.number(f"{key}.{end}", f"{name} by its weight, {end} end", "min(F, T)" if len(ends) > 1 else "F",
                                [computed(s, n, x) for s, n, x in zip("FT", ("sliding", "toppling"), ends)],
                                min(x.value for x in ends), "force", "down" if end == "low" else "up"))
    return made[0], made[1], ""


def topples_unknown(mass: Mass) -> bool:
    """Whether it is not known when a block topples.

    mass: its box, bed and pull
    returns: true while the height of the webbing or the depth of the base is unknown
    Source: none, a look-up.
    """
    return mass.height_m.kind == "unknown" or mass.depth_m.kind == "unknown"


def ice_geometry(thread: IceThread, book: Book) -> Ice:
    """Whether an ice thread's two holes meet within the screw's length.

    thread: its spacing and angles; book: where workings go
    returns: the geometry [m]
    Source: HB, law of sines.
    """
    blank = [what for what, f in (("the screw's length", thread.screw_m), ("the spacing", thread.spacing_m), ("an angle", thread.first_deg),
                                  ("an angle", thread.second_deg)) if f.kind == "unknown"]
    if blank:
        return Ice(None, None, None, False, f"{blank[0]} is unknown")
    alpha, beta = math.radians(thread.first_deg.value), math.radians(thread.second_deg.value)
    if alpha + beta >= math.pi - 1e-9:
        return Ice(None, None, None, False, "the holes lean away from each other and never meet")
    screw, spacing = thread.screw_m.value, limits_m(thread.spacing_m)[1]
    a, c, depth = holes_m(spacing, alpha, beta)
    terms = [Term("b", "spacing of the holes, high end", spacing, "fine length", f"entered: {thread.spacing_m.method}"),
             Term("alpha", "first hole to the surface", alpha, "angle", f"entered: {thread.first_deg.method}"),
             Term("beta", "second hole to the surface", beta, "angle", f"entered: {thread.second_deg.method}")]
    first = book.number("ice.first", "length of the first hole", "b*sin(beta)/sin(alpha + beta)", terms, a, "fine length", "up")
    second = book.number("ice.second", "length of the second hole", "b*sin(alpha)/sin(alpha + beta)", terms, c, "fine length", "up")
    at = book.number("ice.depth", "depth at which they meet", "a*sin(alpha)", [computed("a", "length of the first hole", first), terms[1]],
                     depth, "fine length", "down")
    meets = max(a, c) <= screw + 1e-9
    exact = holes_m(thread.spacing_m.value, alpha, beta)
    # Holes that meet when the spacing is exact meet: its error is no more than a reason to drill a little closer.
    just = not meets and max(exact[:2]) <= screw + 1e-9
    return Ice(first, second, at, meets or just, "" if meets or just else "the screw is too short for them to meet", just)


def post_findings(post: Post, margin: float | None, found: Findings) -> None:
    """What is to be said of a tree, and where on a post the webbing sits best.

    post: the post; margin: low end of what it holds over what is asked of it, None if unknown; found: where findings go
    returns: nothing
    Source: P, common practice, no source; J, table of materials.
    """
    if post.what == "tree":
        least = row("materials", "tree.thick")
        if post.girth_m.kind == "known" and limits_m(post.girth_m)[0] / math.pi < least.low:
            found.add("tree.thin", "Shortfall", "anchor", "{post} is thin for a tree that holds one person",
                      "It is {thick} thick at the least; {least} is wanted.", words={"post": post.name},
                      numbers={"thick": Number(limits_m(post.girth_m)[0] / math.pi, "fine length", "down"), "least": Number(least.low, "fine length", "up")})
        if post.sound == "no":
            found.add("tree.sound", "Shortfall", "anchor", "{post} is not alive, well rooted and healthy", "A dead or loose tree is no anchor.", words={"post": post.name})
        elif post.sound == "unknown":
            found.add("tree.sound", "Not checked", "anchor", "Whether {post} is alive, well rooted and healthy is unknown",
                      "Look at its crown, its bark and its roots, and push it.", words={"post": post.name})
    doubtful = row("materials", "post.doubtful")
    if margin is not None and margin < doubtful.low and post.webbing_at == "high":
        found.add("post.high", "Caution", "anchor", "Tie {post} low", "It holds little more than is asked of it; low down it is thickest and the leverage least.",
                  words={"post": post.name})
    elif margin is not None and margin >= 2 * doubtful.low and post.webbing_at == "low":
        found.add("post.low", "Note", "anchor", "{post} is strong enough to tie it higher", "A higher ring makes starts and pulls easier.", words={"post": post.name})


def ice_findings(thread: IceThread, ice: Ice, found: Findings) -> None:
    """What is to be said of an ice thread. Its strength is never computed.

    thread: as drilled; ice: its geometry; found: where findings go
    returns: nothing
    Source: P, common practice, no source.
    """
    found.add("ice.strength", "Not checked", "anchor", "The strength of ice is not computed",
              "Nobody can say it from a plan: drill in solid, even-coloured ice, back it up for all but the last, look at it each time.", once=True)
    if not ice.meets:
        found.add("ice.meets", "Not checked" if ice.first is None and "never" not in ice.why else "Shortfall", "anchor", "The two holes do not meet" if "unknown" not in ice.why
                  else "Whether the two holes meet is not known", "So drilled, {why}.", words={"why": ice.why})
    if ice.just:
        found.add("ice.meets", "Caution", "anchor", "The two holes only just meet", "A little wider apart, and the screw is too short. Drill them a little closer.")
    if thread.ice != "solid":
        found.add("ice.kind", "Shortfall" if thread.ice == "white, aerated" else "Not checked", "anchor",
                  "White, aerated ice is not used" if thread.ice == "white, aerated" else "What the ice is like is unknown",
                  "Solid ice of one colour, a slight bulge; clear away what is loose.")
    if thread.cord is None and thread.wet_cold != "no":
        found.add("ice.freezes", "Shortfall" if thread.wet_cold == "yes" else "Not checked", "anchor", "A rope straight through ice freezes in when it is wet and cold",
                  "Leave a cord, or be sure that the ice is dry or the cold slight.")
    if thread.in_place != "no" and thread.seen_whole != "yes":
        found.add("ice.found", "Shortfall" if thread.seen_whole == "no" else "Not checked", "anchor", "A thread found in place is used only when all of it can be seen",
                  "Without wear or burn marks along its whole length; otherwise drill another.")
    if thread.backed_up != "to the rope":
        title = {"to the cord": "The backup is clipped to the cord", "to the rope, slack": "The backup is slack", "no": "The thread has no backup", "unknown": "Whether the thread is backed up is unknown"}[thread.backed_up]
        found.add("ice.backup", "Not checked" if thread.backed_up == "unknown" else "Shortfall", "anchor", title,
                  "A screw clipped to the rope, without slack and without load, so that everyone but the last tests the thread; the last person takes it out.")
