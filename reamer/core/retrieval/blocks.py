"""Whether a block stays on its side of the ring, and whether it comes loose again."""

from __future__ import annotations

from reamer.core.answer.codes import Severity
from reamer.core.answer.findings import Fix, Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.verdict import Verdict
from reamer.core.model import BlockedSame, Blocking, Ring, Rope
from reamer.core.rope.stops import stopped
from reamer.core.tables import row


def block_findings(look: Look, system: Blocking, rope: Rope, ring: Ring | None) -> Says[None]:
    """What is to be said of a block on its ring.

    look: the station; system: blocked; rope: the one the block is tied in; ring: what it bears on
    returns: nothing
    Source: J, table of knots; P, common practice, no source, for how blocks let go and jam.
    """
    place, made = look.system_as(BlockedSame), stopped(system, rope, ring, look.book)
    if ring is None:
        why = "Not checked: what it bears on is not a ring of the shed."
        yield say("block.unchecked", "Not checked", "block", "The block is not checked", why)
        return
    if made.cause == "bare hitch":
        title, why = "A {block} is no block without a carabiner", "It is tied on a carabiner that the ring cannot pass."
        yield say("block.passes", "Shortfall", "block", title, why, block=system.block, fix=_clip(look))
    elif made.cause == "carabiner":
        yield from _carabiner(made, ring)
    else:
        yield from _knot_block(look, system, rope, ring, made)
    if system.block == "clove hitch" and system.carabiner:
        title = "A clove hitch moves before it grips, and jams after load"
        why = "Set it hard by hand, above all in stiff or slippery rope. A stone hitch on the carabiner does neither."
        fix = Fix(Sentence("Tie a stone hitch"), (place.at(lambda s: s.block).set("stone hitch"),))
        yield say("block.jams", "Caution", "block", title, why, fix=fix)
    if system.block_holds.kind == "unknown":
        # A block's own hold is only what somebody has tested.
        seen, title = row("loads", "block.sees"), "What the block holds on its ring is not known"
        why = "In the field a block sees up to {seen}; each needs its own tested capacity. Enter yours when you have"
        most = Number(seen.high, "force", "up")
        yield say("block.unchecked", "Not checked", "block", title, why + " pulled it.", seen=most)


def _clip(look: Look) -> Fix:
    """A carabiner clipped in the block."""
    edit = look.system_as(BlockedSame).at(lambda s: s.carabiner).set(True)
    return Fix(Sentence("Clip a carabiner in it"), (edit,))


def _carabiner(made: Verdict, ring: Ring) -> Says[None]:
    """Whether the carabiner that stops a block passes what it is to be stopped by. Source: J, table of knots."""
    if made.holds == "unknown":
        title, why = "Whether a carabiner passes {ring} is not known", "Not checked: its opening is unknown."
        yield say("block.passes", "Not checked", "block", title, why, ring=ring.name)
    elif made.holds == "no":
        yield say(
            "block.passes",
            "Shortfall",
            "block",
            "A carabiner passes {ring}",
            "Its opening is {open}; a carabiner on its narrow side passes {wide}. Nothing stops the block: hang a"
            " smaller ring.",
            open=Number(ring.opening_mm.known or 0.0, "diameter"),
            wide=Number(row("knots", "carabiner.wide").low, "diameter"),
            ring=ring.name,
        )


def _knot_block(look: Look, system: Blocking, rope: Rope, ring: Ring, made: Verdict) -> Says[None]:
    """A knot that bears on a ring: whether it passes, and whether it jams."""
    severity: Severity = "Not checked"
    code, title, why = "block.unchecked", "Whether the {block} passes {ring} is not known", "Not checked: {why}."
    fix: Fix | None = _clip(look)
    width, ratio = None, None
    if made.holds == "unknown":
        fix = None
    elif made.holds == "no":
        how = "passes" if made.cause == "passes" else "may be forced through"
        code, severity, title = "block.passes", "Shortfall", f"The {{block}} {how} {{ring}}"
        why = "It is {width} wide ({by}), {ratio} the opening. A knot that bears on a ring needs a carabiner"
        why += " clipped through it."
        width, ratio = made.width, made.ratio
    elif system.block == "figure eight" and rope.kind.startswith("dynamic"):
        code, severity, title = "block.jams", "Caution", "A figure eight in soft rope may jam into {ring}"
        why = "In thin dynamic rope it was seen to set so hard that it would not have come down. A carabiner left in it"
        why += " keeps it from welding."
    else:
        return
    yield say(
        code,
        severity,
        "block",
        title,
        why,
        block=system.block,
        ring=ring.name,
        rope=rope.name,
        why=made.why,
        width=width,
        ratio=ratio,
        by=made.by or None,
        working=ratio,
        fix=fix,
    )
