"""What a thing that is tied to holds, as a part of the load path."""

from __future__ import annotations

from dataclasses import dataclass, replace

from reamer.core.anchor.holding import Holds, Named, given, unheld
from reamer.core.anchor.legs import rope_stiffness_kn
from reamer.core.anchor.mass import mass_holds, post_findings, topples_unknown
from reamer.core.anchor.removal import Catch
from reamer.core.answer.findings import Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import TOWARD, Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, from_row
from reamer.core.load.asked import Asked, Load, asked
from reamer.core.load.part import Part, part
from reamer.core.model import Feature, Known, Range, Rated, Rope
from reamer.core.rope.knots import family, joining_knot, retention, slip_finding, slips_closed
from reamer.core.rope.wet import wet_term
from reamer.core.tables import ENDS, RangeEnd, row

# Stands in a ring's place where the rope runs straight through a thread; no ring of the shed can have this id.
THREAD = "the-thread-itself-without-any-ring-on-it"


@dataclass(frozen=True, slots=True)
class At:
    """What every kind of anchor's parts are worked out from: the station, the load on its anchor, the rope's first
    piece, out and up, None if unknown, and the ropes that are ridden."""

    look: Look
    load: Load
    runs: tuple[float, float] | None
    ridden: list[Rope]

    def asked(self, of: Named, share: float | Number = 1.0) -> Asked:
        """What is asked of a part that carries such a share of the load.

        of: the part; share: of the load on the anchor
        returns: demand and requirement [kN]
        Source: see asked.
        """
        return asked(of, self.load, share, self.look.policies.margin, self.look.book)

    def missing(self, key: str, title: str, reason: str) -> Says[None]:
        """Say that something which is named is not there.

        key: the part's; title, reason: the finding's
        returns: nothing
        Source: none.
        """
        yield say("anchor.missing", "Not checked", key, title, reason)

    def unfit(self, key: str, name: str, why: str) -> Says[None]:
        """Say that something is of a kind that cannot be rigged so.

        key: the part's; name: of the thing; why: so
        returns: nothing
        Source: P, common practice, no source.
        """
        title = "{name} is not of a kind that can be rigged so"
        yield say("anchor.kind", "Shortfall", key, title, "{what}", name=name, what=why)

    @property
    def catch(self) -> Catch:
        """Who falls when a point fails, and on what rope."""
        return Catch(self.load.static.value if self.load.static else None, rope_stiffness_kn(self.ridden))


def feature_part(key: str, feature: Feature, want: Asked, here: At) -> Says[Part]:
    """A thing that is tied to, with what is to be said of its kind.

    key: the part's; feature: post, rated anchor or ice thread; want: what is asked of it; here: the station
    returns: the part [kN]
    Source: see holds_of.
    """
    look, of = here.look, Named(key, feature.name, textile=of_textile(feature))
    slips = feature.kind == "rated" and (yield from _found_slips(feature, key, look))
    made = part(of, want, holds_of(feature, key, look.wet, look.book), look.book)
    if made.verdict != "Shortfall" and of_textile(feature) and _uncounted(feature):
        made = part(of, want, unheld(f"how many strands of {feature.name} are good is unknown"), look.book)
    if feature.kind != "post":
        return replace(made, said=feature.kind == "ice thread" or slips)
    margin = made.low.value / want.required.value if made.low and want.required and want.required.value > 0 else None
    yield from post_findings(feature, margin)
    if feature.holds.kind == "mass" and made.low is not None and topples_unknown(feature.holds):
        title = "Whether {part} topples is unknown"
        why = "It is judged by sliding alone: the height of the webbing or the depth of its base is not entered."
        yield say("anchor.unknown", "Not checked", key, title, why, part=feature.name)
    return made


def _found_textile(feature: Rated, key: str, wet: str, book: Book) -> Holds:
    """Textile found in place, or a thread: its good strands, wet where it may be, and the knot that closes each."""
    good, own = feature.good_strands, feature.holds
    if good.kind == "unknown" and feature.what == "textile":
        return unheld(f"how many strands of {feature.name} are good is unknown")
    if good.kind == "known" and good.value < 1:
        return _nothing_good(feature, good, key, book)
    if own.kind == "unknown":
        return given(Named(key, feature.name), own, typed(feature, "holds"), book)
    if good.kind == "unknown":
        return _whole_thread(feature, own, (key, wet), book)
    # An unknown fibre may be one that water weakens; an unknown knot is counted as any knot.
    fibre = "nylon" if feature.fibre == "unknown" else feature.fibre
    # In HMPE only a triple fisherman's holds: an unknown knot is counted as that, and said to be unknown.
    tied = "triple fisherman's" if fibre == "HMPE" and feature.knot == "unknown" else feature.knot
    knot = None if tied in ("sewn", "unknown") else retention(tied, fibre, "graded")
    if tied == "unknown":
        knot = row("knots", f"retention.general.{family(fibre)}")
    if tied != "sewn" and (knot is None or (fibre == "HMPE" and tied != "triple fisherman's")):
        return unheld(f"a {tied} is not to be used in {fibre}")
    most = row("pull_tests", "HMPE triple fisherman") if fibre == "HMPE" and tied != "sewn" else None

    def one(end: RangeEnd) -> Number:
        n, c, wet_ = good.value, own.at(end), wet_term(feature.fibre, wet, end)
        strands = "strands looked at all round and found good"
        terms = [
            Term("n", strands, n, "count", f"entered: {good.method}", typed=typed(feature, "good_strands")),
            Term("C", "one of its strands", c, "force", own.source, typed=typed(feature, "holds")),
            wet_,
        ]
        value, formula = n * c * wet_.value * (1.0 if knot is None else knot.at(end)), "n*C*w"
        if knot is not None:
            terms, formula = [*terms, from_row("rho", knot, knot.at(end), "share")], "n*C*w*rho"
        if most is not None:
            terms.append(from_row("h", most, most.low, "force"))
            value, formula = min(value, n * most.low / 2), f"min({formula}, n*h/2)"
        name = f"good strands of {feature.name}, {end} end"
        return book.number(f"{key}.{end}", name, formula, terms, value, "force", TOWARD[end])

    return Holds(one("low"), one("high"))


def _nothing_good(feature: Rated, good: Known, key: str, book: Book) -> Holds:
    """Textile of which somebody looked at every strand and found none good: it holds nothing."""
    terms = [
        Term(
            "n",
            "strands looked at all round and found good",
            good.value,
            "count",
            f"entered: {good.method}",
            typed=typed(feature, "good_strands"),
        )
    ]
    low, high = (
        book.number(
            f"{key}.{end}", f"good strands of {feature.name}, {end} end", "n*0", terms, 0.0, "force", TOWARD[end]
        )
        for end in ENDS
    )
    return Holds(low, high)


def _uncounted(feature: Feature) -> bool:
    """Whether nobody has counted the good strands of a thing."""
    return feature.kind == "rated" and feature.good_strands.kind == "unknown"


def _whole_thread(feature: Rated, own: Range, where: tuple[str, str], book: Book) -> Holds:
    """A thread of which nobody has counted the strands: what is said of it is said of the whole, dry."""
    key, wet = where

    def one(end: RangeEnd) -> Number:
        c, wet_ = own.at(end), wet_term(feature.fibre, wet, end)
        terms = [Term("C", f"{feature.name}, all of it", c, "force", own.source, typed=typed(feature, "holds")), wet_]
        name = f"{feature.name}, {end} end"
        return book.number(f"{key}.{end}", name, "C*w", terms, c * wet_.value, "force", TOWARD[end])

    return Holds(one("low"), one("high"))


def holds_of(feature: Feature, key: str, wet: str, book: Book) -> Holds:
    """What a thing that is tied to holds by itself.

    feature: post, rated anchor or ice thread; key: the workings' prefix; wet: yes, no or unknown; book: where workings
    go
    returns: low, high [kN] and, where unknown, why
    Source: whoever gives it; a block's weight HB and J. Of ice it is never computed.
    """
    if feature.kind == "ice thread":
        return unheld("the strength of ice is not computed")
    if feature.kind == "rated" and of_textile(feature):
        return _found_textile(feature, key, wet, book)
    if feature.holds.kind == "mass":
        return mass_holds(feature.holds, feature, key, book)
    return given(Named(key, feature.name), feature.holds, typed(feature, "holds"), book)


def thread_cord(cord: Rope, closed_by: str, want: Asked, here: At) -> Says[Part]:
    """A loop of cord through ice: two strands, joined by a double (in HMPE triple) fisherman's, the rope or a ring on
    it.

    cord: of the shed; closed_by: the knot, as entered; want: what is asked of it; here: the station
    returns: the part [kN]
    Source: HB and P, table of knots; HMPE P, table of pull tests.
    """
    knot, look, own = joining_knot(cord, closed_by), here.look, cord.strength_kn
    of, slipping = Named("webbing", f"{cord.name}, a loop through the ice", textile=True), slips_closed(cord, closed_by)
    kept = retention(knot, cord.fibre, look.policies.retention) if cord.fibre != "unknown" and knot else None
    why = f"the tables have no strength for a {knot} in {cord.fibre}"
    if slipping:
        yield from slip_finding(cord.name, slipping, "webbing")
        why = f"a {slipping} is not to be used in HMPE"
    elif own.kind == "unknown":
        why = f"the strength of {cord.name} is unknown"
    elif cord.fibre == "unknown":
        why = f"the fibre of {cord.name} is unknown"
    elif knot is None:
        why = f"which knot closes the loop of {cord.name} is unknown"
    if own.kind == "unknown" or kept is None or slipping:
        return replace(part(of, want, unheld(why), look.book), said=bool(slipping))

    def one(end: RangeEnd) -> Number:
        wet, rho, strand = wet_term(cord.fibre, look.wet, end), kept.at(end), own.at(end)
        terms = [
            Term("S", f"one strand of {cord.name}", strand, "force", own.source, typed=typed(cord, "strength_kn")),
            wet,
            from_row("rho", kept, rho, "share"),
        ]
        value, formula = 2 * strand * wet.value * rho, "2*S*w*rho"
        if cord.fibre == "HMPE":
            most = row("pull_tests", "HMPE triple fisherman")
            terms.append(from_row("h", most, most.low, "force"))
            value, formula = min(value, most.low), "min(2*S*w*rho, h)"
        return look.book.number(f"webbing.{end}", f"{of.name}, {end} end", formula, terms, value, "force", TOWARD[end])

    return part(of, want, Holds(one("low"), one("high")), look.book)


def _found_slips(feature: Rated, key: str, look: Look) -> Says[bool]:
    """Whether textile or a thread of HMPE is closed by a knot that slips in it; says so if it is, or may be."""
    if feature.what not in ("textile", "thread") or feature.knot == "sewn":
        return False
    slips = feature.fibre == "HMPE" and feature.knot in ("ring bend", "overhand", "double fisherman's")
    unknown = feature.fibre == "unknown"
    if slips:
        yield from slip_finding(feature.name, feature.knot, key)
    elif unknown or (feature.fibre == "HMPE" and feature.knot == "unknown"):
        title = "Whether the knot in {name} slips is not checked"
        why = "In HMPE all but a triple fisherman's slip, and nobody has said which knot it is."
        if unknown:
            why = "Its fibre is unknown: it is counted as nylon, and in HMPE all but a triple fisherman's slip."
        yield say("anchor.unknown", "Not checked", key, title, why, name=feature.name)
    return slips


def of_textile(feature: Feature) -> bool:
    """Whether rock may cut a thing that is tied to.

    feature: post, rated anchor or ice thread
    returns: whether it is of textile
    Source: none, its kind.
    """
    return feature.kind == "rated" and feature.what in ("textile", "thread")
