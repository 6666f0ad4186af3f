"""One station as figures: the drop cut through, to scale, with what hangs where; and its anchor seen from above."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from reamer.core.anchor.patterns import Bench
from reamer.core.anchor.several import SeveralView
from reamer.core.answer.say import Number, UnitSystem, spoken
from reamer.core.assess import Assessment
from reamer.core.model import Plan, Rope
from reamer.core.station.state import DropAssessment
from reamer.figures.svg import ACCENT, INK, PAPER, QUIET, ROCK, SHORT, Figure, cut

WIDTH, HEIGHT, LABELS, APART = 420.0, 330.0, 168.0, 27.0
# Pixels a metre at the most: a short drop is not blown up.
MOST, SIDE, ABOVE = 60.0, 4.5, 200.0


# Where a place in the section, out and up [m], lies in the figure [px].
At = Callable[[float, float], tuple[float, float]]


@dataclass(frozen=True, slots=True)
class _Label:
    """What is said of a place in the drawing, in one line or two."""

    x: float
    y: float
    first: str
    second: str = ""
    colour: str = QUIET


def cutaway(plan: Plan, d: DropAssessment, units: UnitSystem = "metric") -> str:
    """One drop cut through, both axes to one scale: rock, tie, ring, strands with their ends, how high it is.

    plan: the plan; d: the drop as assessed, in one of its states; units: of the figures
    returns: the SVG
    Source: none, drawn from what was computed.
    """
    made, g = Figure(WIDTH, HEIGHT, f"{d.name}, cut through"), d.geometry
    points = [(t.x_m, t.z_m) for t in g.terrain]
    if g.missing or len(points) < 2:
        made.text(20, HEIGHT / 2, "Not drawn: " + ", ".join(g.missing or ("no section",)) + ".", 13, QUIET)
        return str(made)
    ends = [(e.x_m, e.z_m) for r in d.reach if (e := r.free or r.ridden) is not None]
    every = [*points, *g.taut, *ends]
    left, right = min(x for x, _ in every) - 0.8, max(x for x, _ in every) + 0.8
    top, foot = max(z for _, z in every) + 0.8, min(z for _, z in every) - 0.5
    scale = min(MOST, (WIDTH - LABELS - 16) / (right - left), (HEIGHT - 24) / (top - foot))

    def at(x: float, z: float) -> tuple[float, float]:
        return 8 + (x - left) * scale, 12 + (top - z) * scale

    surface = [at(*p) for p in points]
    ground = surface[-1][1]
    line = [(0.0, surface[0][1]), *surface, (WIDTH - LABELS, ground)]
    made.path(f"{_d(line)}V{HEIGHT}H0Z", "none", 0, ROCK)
    made.path(_d(line), INK, 1.8)
    if g.landing in ("pool", "moving water", "wading"):
        x = surface[-1][0]
        for n in range(3):
            made.path(f"M{x + 6 + 22 * n:.1f} {ground + 9:.1f}q5 -5 10 0t10 0", QUIET, 1.6)
    if g.tie:
        made.path(_d([at(*p) for p in g.tie]), INK, 3)
        x, y = at(*g.tie[0])
        half = max(5.0, (g.post_radius_m or 0.12) * scale)
        made.box(x - half, y - max(14.0, 2 * half), 2 * half, max(14.0, 2 * half), INK)
    labels = _strands(made, plan, d, at, units)
    if g.ring is not None:
        x, y = at(*g.ring)
        made.path(circle(x, y, 5), INK, 2.4, PAPER)
        labels.append(_Label(x, y, "ring", g.post_name))
    for c in g.contacts:
        if c.turn.value >= 0.035:
            x, y = at(c.x_m, c.z_m)
            sharp = c.edge if c.edge != "unknown" else "sharpness not known"
            labels.append(_Label(x, y, f"{c.kind}, turns {spoken(c.turn, units)}", sharp))
    high = spoken(d.height, units) if d.height is not None else "height not known"
    labels.append(_Label(surface[-1][0], ground, f"{g.landing}", high))
    _told(made, labels)
    return str(made)


def _strands(made: Figure, plan: Plan, d: DropAssessment, at: At, units: UnitSystem) -> list[_Label]:
    """Every strand beside the others, as far as it hangs, with its end."""
    looks, labels = {r.id: r for r in plan.shed.ropes}, []
    hung = [r for r in d.reach if (r.free or r.ridden) is not None and len(r.points) > 1]
    for n, r in enumerate(hung):
        end = r.free or r.ridden
        if end is None:
            continue
        shift = 2 + n * 2 * SIDE
        way = [p for p in r.points if p[1] >= end.z_m - 1e-6]
        if way[-1] != (end.x_m, end.z_m):
            way.append((end.x_m, end.z_m))
        path = [(x + shift, y) for x, y in (at(*p) for p in way)]
        made.rope(_d(path), looks.get(r.rope), 5)
        x, y = path[-1]
        if r.knotted:
            made.path(circle(x, y, 4), INK, 1.6, _colour(looks.get(r.rope)))
        else:
            made.path(f"M{x - 6:.1f} {y:.1f}h12", INK, 1.8)
        spare = spare_words(r.spare, units) if r.spare is not None else r.why
        knot = "knotted" if r.knotted else "open end"
        colour = SHORT if r.spare is not None and r.spare.value < 0 else QUIET
        labels.append(
            _Label(x, y, f"{cut(r.name, 14)} {r.end.upper()}, {r.role}", f"{knot}, {spare}" if spare else knot, colour)
        )
    return labels


def spare_words(spare: Number, units: UnitSystem = "metric") -> str:
    """What is left over at worst, or how much is missing.

    spare: as computed [m]; units: of the figure
    returns: for example ``spare 4.0 m`` or ``8.0 m short``
    Source: none, text only.

    >>> spare_words(Number(-7.95, "length", "down"))
    '8.0 m short'
    """
    if spare.value >= 0:
        return f"spare {spoken(spare, units)}"
    return f"{spoken(Number(-spare.value, 'length', 'up'), units)} short"


def circle(x: float, y: float, r: float) -> str:
    """A circle as a path's data.

    x, y: its middle; r: its radius [px]
    returns: the data
    Source: none.
    """
    return f"M{x - r:.1f} {y:.1f}a{r:.1f} {r:.1f} 0 1 0 {2 * r:.1f} 0a{r:.1f} {r:.1f} 0 1 0 {-2 * r:.1f} 0"


def _colour(rope: Rope | None) -> str:
    return rope.colour if rope is not None else QUIET


def _told(made: Figure, labels: list[_Label]) -> None:
    """The labels in a column, each led to its place, none on another."""
    x, last = WIDTH - LABELS + 10, -APART
    room = HEIGHT - 16 - APART * (len(labels) - 1)
    for label in sorted(labels, key=lambda w: w.y):
        y = max(last + APART, min(label.y, room))
        last, room = y, room + APART
        made.path(f"M{label.x + 7:.1f} {label.y:.1f}L{x - 14:.1f} {y:.1f}H{x - 4:.1f}", QUIET, 0.8)
        made.text(x, y + 3, cut(label.first, 27), 11, INK, True)
        if label.second:
            made.text(x, y + 15, cut(label.second, 29), 10.5, label.colour)


def _d(points: Sequence[tuple[float, float]]) -> str:
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in points)


def profile(a: Assessment) -> str:
    """Every drop in one line from top to bottom, heights to one scale, with the stations' numbers.

    a: the assessment
    returns: the SVG; a drop whose height is not known is drawn short and broken
    Source: none, drawn from what was computed.
    """
    wide, tall, least = 130.0, 430.0, 15.0
    made = Figure(wide, tall, "every drop from top to bottom")
    heights = [max(0.0, d.height.value) if d.height is not None else 0.0 for d in a.drops]
    spare = max(0.0, tall - 30 - least * len(heights))
    scale = spare / max(1.0, sum(heights))
    x, y, step = 34.0, 14.0, 60.0 / max(1, len(heights))
    line = [(0.0, y), (x, y)]
    for d, h in zip(a.drops, heights, strict=True):
        made.text(x + 12, y + 11, f"{d.number}", 11, INK, True)
        if d.height is None:
            made.path(f"M{x + 4:.1f} {y + 4:.1f}v{least - 6}", QUIET, 1.2, **{"stroke-dasharray": "2 2"})
        y += least + h * scale
        line += [(x, y), (x + step, y)]
        x += step
    made.path(f"{_d(line)}V{tall}H0Z", "none", 0, ROCK)
    made.path(_d(line), INK, 1.8)
    return str(made)


def from_above(d: DropAssessment) -> str | None:
    """The anchor seen from above: the post with its tie, or the points with their legs, and the ring; the edge lies to
    the right.

    d: the drop as assessed, in one of its states
    returns: the SVG; None where nothing of it is computed
    Source: none, drawn from what was computed.
    """
    made = Figure(ABOVE, ABOVE, f"{d.name}, the anchor from above")
    if d.bench is not None:
        ring = _post(made, d.bench)
    elif d.several is not None:
        ring = _points(made, d.several)
    else:
        return None
    made.path(circle(*ring, 6), INK, 2.4, PAPER)
    made.text(ABOVE - 8, ABOVE - 8, "the edge lies this way", 11, QUIET, anchor="end")
    return str(made)


def _post(made: Figure, b: Bench) -> tuple[float, float]:
    """One post with its tie; where its ring hangs [px]."""
    scale = (ABOVE - 50) / (b.radius_m + max(b.ring_m, b.reach_m) + 0.1)

    def at(x: float, y: float) -> tuple[float, float]:
        return 20 + (x + b.radius_m) * scale, ABOVE / 2 - y * scale

    r, middle, focal, ring = b.radius_m * scale, at(0, 0), at(b.reach_m, 0), at(b.ring_m, 0)
    made.path(circle(*middle, r), INK, 1.6, ROCK)
    (x1, y1), (x2, y2) = at(b.touch_x_m, b.touch_y_m), at(b.touch_x_m, -b.touch_y_m)
    tie = f"M{focal[0]:.1f} {focal[1]:.1f}L{x1:.1f} {y1:.1f}A{r:.1f} {r:.1f} 0 1 0 {x2:.1f} {y2:.1f}Z"
    made.path(tie, INK, 3.2)
    for n in range(b.turns):
        made.path(circle(*middle, r + 4 + 4 * n), INK, 1.6)
    for spot in b.knots:
        x, y = at(spot.x_m, spot.y_m)
        made.box(x - 4, y - 4, 8, 8, ACCENT)
    made.path(_d([focal, ring]), INK, 3.2)
    return ring


def _points(made: Figure, s: SeveralView) -> tuple[float, float]:
    """Several points with their legs; where the ring hangs [px]."""
    xs, ys = ([leg.at[i] for leg in s.legs] + [s.rest[i]] for i in (0, 1))
    scale = (ABOVE - 60) / max(0.3, max(xs) - min(xs), max(ys) - min(ys))

    def at(x: float, y: float) -> tuple[float, float]:
        return 30 + (x - min(xs)) * scale, ABOVE / 2 - (y - (max(ys) + min(ys)) / 2) * scale

    ring = at(s.rest[0], s.rest[1])
    for leg in s.legs:
        x, y = at(leg.at[0], leg.at[1])
        made.path(_d([(x, y), ring]), INK, 3)
        made.box(x - 4, y - 4, 8, 8, INK)
        made.text(max(4, x - 24), y - 9 if y < ABOVE / 2 else y + 18, cut(leg.name, 16), 11)
    return ring
