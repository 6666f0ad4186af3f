"""What length a rope really has, what a strand needs, how far it stretches."""

from __future__ import annotations

from reamer.core.model import Known, Rope, Unknown
from reamer.core.say import Number
from reamer.core.section import limits_m
from reamer.core.tables import row
from reamer.core.working import Book, Term, from_row

G = row("loads", "g").low


def shrink_family(kind: str) -> str:
    """Which row of the shrinkage table a kind of rope takes.

    kind: the rope's kind
    returns: the row's key
    Source: J, our judgement for pull cord.
    """
    return "shrinkage." + ("cord" if kind == "pull cord" else "low-stretch" if kind == "low-stretch" else "dynamic")


def length_m(base_m: float, error_m: float, shrinkage: float, damage_m: float) -> float:
    """The length a rope really has at one end of its range.

    L = (base + error)·(1 − shrinkage) − damage

    base_m: measured or nominal length [m]; error_m: limit of error, negative at the low end [m]
    shrinkage: share lost since first wet [-]; damage_m: tied out of use [m]
    returns: real length, not under 0 [m]
    Source: P, common practice, no source; shrinkage first, then damage.

    >>> length_m(35.0, 0.0, 0.10, 0.0)
    31.5
    """
    return max(0.0, (base_m + error_m) * (1 - shrinkage) - damage_m)


def real_length(rope: Rope, book: Book) -> tuple[Number, Number] | Unknown:
    """Low and high end of a rope's real length.

    rope: the rope; book: where the workings go
    returns: low and high [m], or why it is unknown
    Source: P, common practice, no source; shrinkage J.
    """
    measured = rope.measured_m.kind == "known"
    base = rope.measured_m if measured else rope.nominal_m
    if base.kind == "unknown":
        return Unknown(kind="unknown", why=f"{rope.name} has no length")
    if any(d.takes_m.kind == "unknown" for d in rope.damage):
        return Unknown(kind="unknown", why=f"how much of {rope.name} its damage takes is unknown")
    cuts = [d for d in rope.damage if d.use == "longest sound piece"]
    if any(d.at_m.kind == "unknown" for d in cuts):
        return Unknown(kind="unknown", why=f"where {rope.name} is damaged is unknown")
    damage = sum(limits_m(d.takes_m)[1] for d in rope.damage)
    shrink = row("ropes", shrink_family(rope.kind))
    low_shrink = 0.0 if rope.wet_since_measured == "no" else shrink.high
    high_shrink = shrink.low if rope.wet_since_measured == "yes" else 0.0
    what = f"{'measured' if measured else 'nominal'} length of {rope.name}"
    numbers = []
    for end, limit, share in (("low", limits_m(base)[0], low_shrink), ("high", limits_m(base)[1], high_shrink)):
        terms = [Term("L0", what, base.value, "length", f"entered: {base.method}"),
                 error_term("e", base, limit)]
        if share:
            terms.append(from_row("s", shrink, share, "share"))
        else:
            terms.append(Term("s", "shrinkage: not wet since" if end == "low" else "shrinkage: none at the high end",
                              0.0, "share", "entered"))
        whole, length = "(L0 + e)*(1 - s)", length_m(base.value, limit - base.value, share, 0.0)
        if cuts:
            # The longest piece between the ends and the damaged places, each place off by its own limit of error.
            side = 0 if end == "low" else 1
            marks = sorted((c.at_m.value for c in cuts))
            off = sum(abs(limits_m(c.at_m)[side] - c.at_m.value) for c in cuts) * (-1 if end == "low" else 1)
            terms += [*(Term(f"a{i}", f"damaged place {i}, from end A", m, "length", "entered") for i, m in enumerate(marks, 1)),
                      Term("x", "how far these places may be off", off, "fine length", "entered")]
            symbols = ["0", *(f"a{i}" for i in range(1, len(marks) + 1)), whole]
            places = [0.0, *marks, length]
            whole = "max(" + ", ".join(f"{y} - {x}" for x, y in zip(symbols, symbols[1:])) + ") + x"
            length = max(y - x for x, y in zip(places, places[1:])) + off
        terms.append(Term("dmg", "rope tied out of use at damaged places", damage, "fine length", "entered"))
        numbers.append(book.number(
            f"rope.{rope.id}.{end}", f"{rope.name}, real length, {end} end", f"max(0, {whole} - dmg)", terms,
            max(0.0, length - damage), "length", "down" if end == "low" else "up"))
    return numbers[0], numbers[1]


def error_term(symbol: str, figure: Known, limit_m: float) -> Term:
    """How far a figure may be off, as a term: its method's limit, or its own.

    symbol: as in the formula; figure: a known length [m]; limit_m: the figure at its limit [m]
    returns: the term
    Source: J, the table of methods, or whoever entered the figure's own error.
    """
    if figure.error is not None:
        return Term(symbol, "limit of error entered with the figure", limit_m - figure.value, "fine length", "entered")
    return Term(symbol, f"limit of error of {figure.method}", limit_m - figure.value, "fine length", row("methods", figure.method).cited)


def stopper_m(diameter_mm: float) -> float:
    """Rope that a stopper and its tail take.

    s = 25·d/1000 + tail

    diameter_mm: d, the rope's diameter [mm]
    returns: length [m]
    Source: J, knot table; tail P.

    >>> stopper_m(9.2)
    1.23
    """
    return row("knots", "rope used.stopper").high * diameter_mm / 1000 + row("ropes", "stopper.tail").high


def stretch_m(length_m: float, elongation: float, force_kn: float, rating_kn: float) -> float:
    """How much a loaded strand lengthens.

    ΔL = L·ε·F/F_ref

    length_m: L, loaded length [m]; elongation: ε at the rating's load, as a share [-]
    force_kn: F on the strand [kN]; rating_kn: F_ref, the rating's load on one strand [kN]
    returns: lengthening [m]
    Source: HB, linear stretch, from memory.
    Holds for: loads near the rating's.

    >>> round(stretch_m(40, 0.08, 80 * G / 1000, 80 * G / 1000), 2)
    3.2
    """
    return length_m * elongation * force_kn / rating_kn


def rating_kg(kind: str) -> float:
    """The mass on one strand at which a rope's elongation is stated.

    kind: the rope's kind
    returns: mass [kg]; of a twin rope half the pair's
    Source: STD, EN 892 and EN 1891, from memory.

    >>> rating_kg("dynamic twin")
    40.0
    """
    if kind.startswith("dynamic"):
        return row("ropes", "mass.dynamic").low / (2 if kind == "dynamic twin" else 1)
    return row("ropes", "mass.low-stretch").low
