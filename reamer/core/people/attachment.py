"""How a person is attached: the third hand against the device, the knot on the sling, what suits a stance."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from reamer.core.answer.context import Context
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.typed import typed
from reamer.core.answer.verdict import Verdict
from reamer.core.answer.working import Book, Term
from reamer.core.model import Loop, Person, Rope, ThirdHand
from reamer.core.tables import row

Stand = Literal["fits", "reaches", "too short", "slips", "unknown", "none"]
# How a third hand stands that holds nobody.
HOLDS_NOTHING: tuple[Stand, ...] = ("reaches", "too short", "slips")


@dataclass(frozen=True, slots=True)
class Grip:
    """A third hand on the strands of one station: whether it stays clear of the device. All in metres above the belay
    loop but ``reach`` (of the hitch from where it is clipped) and ``clear`` (what stays to the device).

    wraps: the fewest that let it stay clear, None where none do or it is not known; grips: whether it does, whatever
    stays to the device; why: what is not known, or why it slips
    """

    stand: Stand
    clipped: Number | None
    reach: Number | None
    top: Number | None
    device: Number | None
    clear: Number | None
    wraps: int | None
    grips: Verdict
    why: str


def width_mm(diameters: tuple[float, ...]) -> float:
    """How wide what a hitch is wrapped round is.

    D = d for one strand, 1.64·mean for two side by side

    diameters: of the strands, one or two [mm]
    returns: D [mm]
    Source: HB, a band round two circles; of unequal strands their mean, J.

    >>> width_mm((10.0,)), round(width_mm((9.0, 9.0)), 2)
    (10.0, 14.76)
    """
    mean = sum(diameters) / len(diameters)
    return mean if len(diameters) == 1 else row("people", "hitch.two").high * mean


def hitch_reach_m(knot: str, laid_m: float, wraps: float, wide_mm: float, cord_mm: float) -> float:
    """How far a third hand reaches from where it is clipped.

    autoblock [ℓ − nπ(D + d_c)]/2, klemheist ℓ − nπ(D + d_c)

    knot: autoblock or klemheist; laid_m: ℓ, half the loop's circumference [m]; wraps: n; wide_mm, cord_mm: D and d_c
    [mm]
    returns: the reach, negative where the loop is too short for its wraps [m]
    Source: J, our judgement.

    >>> round(hitch_reach_m("autoblock", 0.60, 4, 14.76, 6.0), 3)
    0.17
    """
    left = laid_m - wraps * math.pi * (wide_mm + cord_mm) / 1000
    return left / 2 if knot == "autoblock" else left


def grips(name: str, hitch: ThirdHand, loop: Loop, ropes: tuple[Rope, ...]) -> Verdict:
    """Whether a third hand grips the strands it is tied round.

    name: whose; hitch, loop: how it is tied, and of what; ropes: of the strands, one or two
    returns: the verdict; cause: ``wraps``, ``thick``, ``HMPE``, or ``unusual`` where it grips but its cord is outside
    what is common; the worst that is known comes before what is not
    Source: P, table of people; for HMPE common practice, no source.
    """
    code, least, cord = "hitch.grips", row("people", "hitch.wraps").low, loop.diameter_mm.known
    wraps, strands = hitch.wraps.known, [r.diameter_mm.known for r in ropes]
    thin = min((d for d in strands if d is not None), default=None)
    if wraps is not None and wraps < least:
        return Verdict(code, "no", "wraps", why=f"it has fewer than {least:g} wraps")
    if cord is not None and thin is not None and cord > thin + 1e-9:
        return Verdict(code, "no", "thick", why=f"{loop.name} is thicker than a strand it is tied round")
    if loop.fibre == "HMPE" and loop.made_for_hitch != "yes":
        return Verdict(code, "no", "HMPE", why=f"{loop.name} is of HMPE, which slips and melts")
    blank = next(
        (
            what
            for unknown, what in (
                (wraps is None, "how many wraps it has"),
                (cord is None, f"the diameter of {loop.name}"),
                (None in strands, "the diameter of a strand it is tied round"),
                (loop.fibre == "unknown", f"what {loop.name} is made of"),
            )
            if unknown
        ),
        "",
    )
    if blank or cord is None or thin is None:
        return Verdict(code, "unknown", "unknown", why=f"{blank} is unknown")
    thick = max(d for d in strands if d is not None)
    common, share = row("people", "hitch.cord"), row("people", "hitch.ratio")
    usual = common.low <= cord <= common.high and share.low * thick <= cord + 1e-9 and cord <= share.high * thin + 1e-9
    return Verdict(code, "yes", "" if usual else "unusual")


def gripped(ctx: Context, person: Person, ropes: tuple[Rope, ...], book: Book) -> Grip:
    """Whether a person's third hand stays clear of their device on some strands.

    top = where it is clipped + carabiner + reach + 2n·d_c, at least 0.05 m under the device's lower edge

    ctx: the plan's context; person: whose; ropes: of the strands it grips, one or two; book: how numbers are made
    returns: the grip; unknown where anything it stands on is
    Source: J, our judgement.
    """
    hitch = person.hitch
    if hitch is None:
        return _not("none", f"nobody has entered a third hand of {person.name}")
    loop = next((x for x in ctx.plan.shed.loops if x.id == hitch.loop), None)
    why = _blank(person, loop, ropes)
    made = grips(person.name, hitch, loop, ropes) if loop is not None else UNASKED
    if why or loop is None:
        return _not("slips", made.why, made) if made.holds == "no" else _not("unknown", why, made)
    wraps, clipped = int(hitch.wraps.known or 0), hitch.clipped_m.known or 0.0
    carabiner, device = hitch.carabiner_m.known or 0.0, person.attachment.device_m.known or 0.0
    laid, cord = loop.length_m.known or 0.0, loop.diameter_mm.known or 0.0
    wide = width_mm(tuple(r.diameter_mm.known or 0.0 for r in ropes))

    def top_m(n: int) -> tuple[float, float]:
        far = hitch_reach_m(hitch.knot, laid, n, wide, cord)
        return far, clipped + carabiner + far + 2 * n * cord / 1000

    reach, top = top_m(wraps)
    least = row("people", "hitch.clear")
    of = _Measures(laid, wraps, wide, cord, clipped, carabiner, device)
    said, high, left = _workings(person, loop, of, (reach, top), book)
    clear = device - top
    fewest = next((n for n in range(3, 13) if top_m(n)[0] > 0 and top_m(n)[1] <= device - least.high), None)
    short = reach <= 0 or laid <= row("people", "hitch.shortest").high + 1e-9
    stand: Stand = "too short" if short else "fits" if clear >= least.high - 1e-9 else "reaches"
    if made.holds == "no":
        stand = "slips"
    elif stand == "fits" and made.holds == "unknown":
        stand = "unknown"
    at = Number(clipped, "fine length"), said, high, Number(device, "fine length", "down"), left
    return Grip(stand, *at, fewest, made, made.why)


@dataclass(frozen=True, slots=True)
class _Measures:
    """What a third hand stands on: laid length, wraps, width of the strands, cord, where it is clipped, its carabiner,
    the device's lower edge."""

    laid: float
    wraps: int
    wide: float
    cord: float
    clipped: float
    carabiner: float
    device: float


def _workings(
    person: Person, loop: Loop, of: _Measures, made: tuple[float, float], book: Book
) -> tuple[Number, Number, Number]:
    """Reach, highest point, and what stays to the device, with their workings."""
    key, at, (reach, top) = f"hitch.{person.id}", f"party/#{person.id}", made
    wraps, cord = (
        Term("n", "wraps", of.wraps, "count", "entered", typed=(f"{at}/hitch/wraps",)),
        Term("dc", "the cord", of.cord, "diameter", "entered", typed=typed(loop, "diameter_mm")),
    )
    terms = [
        Term("l", f"laid length of {loop.name}", of.laid, "fine length", "entered", typed=typed(loop, "length_m")),
        wraps,
        Term("D", "width of the strands", of.wide, "diameter", "HB: a band round them"),
        cord,
    ]
    half = "/2" if person.hitch is not None and person.hitch.knot == "autoblock" else ""
    formula = f"(l - n*pi*(D + dc)/1000){half}"
    said = book.number(f"{key}.reach", "reach of the third hand", formula, terms, reach, "fine length", "up")
    terms = [
        Term(
            "c",
            "where it is clipped, above the belay loop",
            of.clipped,
            "fine length",
            "entered",
            typed=(f"{at}/hitch/clipped_m",),
        ),
        Term("k", "its carabiner", of.carabiner, "fine length", "entered", typed=(f"{at}/hitch/carabiner_m",)),
        Term("r", "its reach", reach, "fine length", "", said.working),
        wraps,
        cord,
    ]
    formula, name = "c + k + r + 2*n*dc/1000", "its highest point"
    high = book.number(f"{key}.top", name, formula, terms, top, "fine length", "up")
    terms = [
        Term(
            "e",
            "the device's lower edge, above the belay loop",
            of.device,
            "fine length",
            "entered",
            typed=(f"{at}/attachment/device_m",),
        ),
        Term("t", "highest point of the third hand", top, "fine length", "", high.working),
    ]
    name = "what stays to the device"
    return said, high, book.number(f"{key}.clear", name, "e - t", terms, of.device - top, "fine length", "down")


UNASKED = Verdict("hitch.grips", "unknown", "unknown")


def _not(stand: Stand, why: str, made: Verdict = UNASKED) -> Grip:
    return Grip(stand, None, None, None, None, None, None, made, why)


def _blank(person: Person, loop: Loop | None, ropes: tuple[Rope, ...]) -> str:
    """What is not known of a third hand, "" where all is."""
    hitch = person.hitch
    if hitch is None or loop is None:
        return f"the loop of {person.name}’s third hand is not in the shed"
    blank = [
        (hitch.wraps, "how many wraps it has"),
        (hitch.clipped_m, "where it is clipped"),
        (person.attachment.device_m, "how far up the device sits"),
        (loop.length_m, f"the length of {loop.name}"),
        (loop.diameter_mm, f"the diameter of {loop.name}"),
        *((r.diameter_mm, f"the diameter of {r.name}") for r in ropes),
    ]
    return next((f"{what} is unknown" for figure, what in blank if figure.kind == "unknown"), "" if ropes else "?")


def knot_high(ctx: Context, person: Person) -> bool | None:
    """Whether the knot for the device sits above half of the sling, so that the tether cannot be unclipped while
    weighted.

    ctx: the plan's context; person: whose
    returns: true or false, None where it is not known or they hang from no sling
    Source: P, table of people.
    """
    tether = next((t for t in ctx.plan.shed.tethers if t.id == person.tether), None)
    at = person.attachment.device_m.known
    if tether is None or at is None or tether.made_of != "sewn sling" or person.attachment.way == "sewn chain":
        return None
    long = tether.length_m.known
    return None if long is None else at > row("people", "sling.knot").high * long + 1e-9


def advised(person: Person, hanging: bool) -> Sentence:
    """What suits a stance, and what does not, of a person's attachment.

    person: whose; hanging: whether it is a hanging stance
    returns: the advice
    Source: P, common practice, no source.
    """
    if person.attachment.way == "unknown":
        return Sentence("Nobody has said how {name} is attached.", {}, {"name": person.name})
    if hanging:
        return Sentence("A short one: it is loaded as soon as it is clipped, and the device is within reach.")
    if person.attachment.way in ("double-length nylon sling", "sewn chain"):
        return Sentence("On a ledge a long one: stay below the master point, tight; a short sling lengthens it.")
    return Sentence("On a ledge let it out as far as the edge, and keep it tight.")
