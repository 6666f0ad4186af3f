"""What a block holds by its weight alone, and how a post is tied."""

from __future__ import annotations

import math

from reamer.core.anchor.holding import Holds, unheld
from reamer.core.answer.findings import Says, say
from reamer.core.answer.say import TOWARD, Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.model import Mass, Post, Rated, sure
from reamer.core.plan.limits import limits_m
from reamer.core.tables import ENDS, RangeEnd, row


def slide_kn(mass_kg: float, friction: float, slope_rad: float) -> float:
    """The pull at which a block begins to slide.

    F = (μ·cos β − sin β)·m·g/1000, not less than 0

    mass_kg: m, less the water's if it lies in it [kg]; friction: μ on its bed [-]; slope_rad: β down toward the pull
    [rad]
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
    return (
        (math.inf if held > 0 else 0.0) if height_m <= 0 else mass_kg * row("loads", "g").low * held / height_m / 1000
    )


def mass_holds(mass: Mass, of: Post | Rated, key: str, book: Book) -> Holds:
    """What a block holds by its weight: the lesser of sliding and toppling; sliding alone where it is not known whether
    it topples.

    mass: its box, bed and pull; of: the thing that it is what it holds of; key: the part's; book: how numbers are made
    returns: low, high [kN] and, where unknown, why
    Source: HB, statics; HB and J, table of materials.
    """
    figures = {"its box": (mass.long_m, mass.wide_m, mass.high_m), "the slope of its bed": (mass.slope_deg,)}
    blank = [what for what, each in figures.items() if any(f.kind == "unknown" for f in each)]
    if mass.bed == "unknown":
        blank.append("what it lies on")
    if blank:
        return unheld(f"unknown: {' and '.join(blank)}")
    low, high = (_holds_at(end, mass, of, key, book) for end in ENDS)
    return Holds(low, high)


def _holds_at(end: RangeEnd, mass: Mass, of: Post | Rated, key: str, book: Book) -> Number:
    """What a block holds at one end of its range."""
    g, slope, name = row("loads", "g"), math.radians(sure(mass.slope_deg).value), of.name
    wet = mass.under_water == "yes" or (mass.under_water == "unknown" and end == "low")
    m = _mass_at(end, mass, wet, (of, key), book)
    bed = row("materials", f"mass.bed.{'wet or loose' if wet and mass.bed == 'dry rock' else mass.bed}")
    mu = bed.at(end)
    terms = [
        from_row("mu", bed, mu, "share"),
        Term("beta", "slope of its bed toward the pull", slope, "angle", "entered", typed=typed(of, "holds/slope_deg")),
        computed("m", "its mass", m),
        from_row("g", g, g.low, "share"),
    ]
    what, formula = f"pull at which {name} slides, {end} end", "max(0, (mu*cos(beta) - sin(beta))*m*g/1000)"
    slides = slide_kn(m.value, mu, slope)
    ends = [book.number(f"{key}.slides.{end}", what, formula, terms, slides, "force", TOWARD[end])]
    if not topples_unknown(mass):
        ends += _topples_at(end, mass, m, (of, key), book)
    formula, each = "min(F, T)" if len(ends) > 1 else "F", zip("FT", ("sliding", "toppling"), ends, strict=False)
    terms = [computed(s, n, x) for s, n, x in each]
    least = min(x.value for x in ends)
    return book.number(f"{key}.{end}", f"{name} by its weight, {end} end", formula, terms, least, "force", TOWARD[end])


def _mass_at(end: RangeEnd, mass: Mass, wet: bool, part: tuple[Post | Rated, str], book: Book) -> Number:
    """A block's mass, less the water's if it lies in it."""
    rock, water, box = (row("materials", f"mass.{k}") for k in ("rock", "water", "box"))
    (of, key), i = part, ENDS.index(end)
    sides = [limits_m(sure(f))[i] for f in (mass.long_m, mass.wide_m, mass.high_m)]
    kilos = sides[0] * sides[1] * sides[2] * box.low * (rock.low - (water.high if wet else 0.0))
    terms = [
        Term(s, f"{n} of its box, {end} end", v, "fine length", "entered", typed=typed(of, f"holds/{at}"))
        for s, n, at, v in zip("abc", ("length", "width", "height"), ("long_m", "wide_m", "high_m"), sides, strict=True)
    ]
    terms += [from_row("v", box, box.low, "share"), from_row("r", rock, rock.low, "count")]
    if wet:
        terms.append(from_row("w", water, water.high, "count"))
    what, formula = f"mass of {of.name}{' in water' if wet else ''}, {end} end", f"a*b*c*v*{'(r - w)' if wet else 'r'}"
    return book.number(f"{key}.mass.{end}", what, formula, terms, kilos, "mass", TOWARD[end])


def _topples_at(end: RangeEnd, mass: Mass, m: Number, part: tuple[Post | Rated, str], book: Book) -> list[Number]:
    """The pull at which a block topples over its front edge; none where the webbing lies at its base."""
    (of, key), i, g = part, ENDS.index(end), row("loads", "g")
    slope = math.radians(sure(mass.slope_deg).value)
    z, b = limits_m(sure(mass.height_m))[1 - i], limits_m(sure(mass.depth_m))[i]
    centre = limits_m(sure(mass.high_m))[1 - i if slope > 0 else i] / 2
    held = max(0.0, b / 2 * math.cos(slope) - centre * math.sin(slope))
    if z <= 0 < held:
        return []
    z = max(z, 0.01)
    terms = [
        computed("m", "its mass", m),
        from_row("g", g, g.low, "share"),
        Term("d", "depth of its base along the pull", b, "fine length", "entered", typed=typed(of, "holds/depth_m")),
        Term("h", "height of its centre", centre, "fine length", "entered", typed=typed(of, "holds/high_m")),
        Term("beta", "slope of its bed toward the pull", slope, "angle", "entered", typed=typed(of, "holds/slope_deg")),
        Term(
            "z", "height of the webbing above its base", z, "fine length", "entered", typed=typed(of, "holds/height_m")
        ),
    ]
    formula, value = "max(0, m*g*(d/2*cos(beta) - h*sin(beta))/z/1000)", topple_kn(m.value, b, z, centre, slope)
    what = f"pull at which {of.name} topples, {end} end"
    return [book.number(f"{key}.topples.{end}", what, formula, terms, value, "force", TOWARD[end])]


def topples_unknown(mass: Mass) -> bool:
    """Whether it is not known when a block topples.

    mass: its box, bed and pull
    returns: true while the height of the webbing or the depth of the base is unknown
    Source: none, a look-up.
    """
    return mass.height_m.kind == "unknown" or mass.depth_m.kind == "unknown"


def post_findings(post: Post, margin: float | None) -> Says[None]:
    """What is to be said of a tree, and where on a post the webbing sits best.

    post: the post; margin: low end of what it holds over what is asked of it, None if unknown
    returns: nothing
    Source: P, common practice, no source; J, table of materials.
    """
    if post.what == "tree":
        least = row("materials", "tree.thick")
        if post.girth_m.kind == "known" and limits_m(post.girth_m)[0] / math.pi < least.low:
            yield say(
                "tree.thin",
                "Shortfall",
                "anchor",
                "{post} is thin for a tree that holds one person",
                "It is {thick} thick at the least; {least} is wanted.",
                post=post.name,
                thick=Number(limits_m(post.girth_m)[0] / math.pi, "fine length", "down"),
                least=Number(least.low, "fine length", "up"),
            )
        if post.sound == "no":
            yield say(
                "tree.sound",
                "Shortfall",
                "anchor",
                "{post} is not alive, well rooted and healthy",
                "A dead or loose tree is no anchor.",
                post=post.name,
            )
        elif post.sound == "unknown":
            yield say(
                "tree.sound",
                "Not checked",
                "anchor",
                "Whether {post} is alive, well rooted and healthy is unknown",
                "Look at its crown, its bark and its roots, and push it.",
                post=post.name,
            )
    doubtful = row("materials", "post.doubtful")
    if margin is not None and margin < doubtful.low and post.webbing_at == "high":
        yield say(
            "post.high",
            "Caution",
            "anchor",
            "Tie {post} low",
            "It holds little more than is asked of it; low down it is thickest and the leverage least.",
            post=post.name,
        )
    elif margin is not None and margin >= 2 * doubtful.low and post.webbing_at == "low":
        yield say(
            "post.low",
            "Note",
            "anchor",
            "{post} is strong enough to tie it higher",
            "A higher ring makes starts and pulls easier.",
            post=post.name,
        )
