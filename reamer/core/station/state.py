"""One state of one station, assessed."""

from __future__ import annotations

from dataclasses import dataclass, replace

from reamer.core.acts.hanging import ALONE, Hangs, most_at_once
from reamer.core.anchor.ice import Ice
from reamer.core.anchor.patterns import Bench
from reamer.core.anchor.reaches import reaches
from reamer.core.anchor.several import SeveralView
from reamer.core.anchor.two_posts import TwoPostsView
from reamer.core.answer.codes import Severity
from reamer.core.answer.findings import Finding, Heard, Says, say, tally, value, worst_first
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence, words
from reamer.core.load.aids import AidLoad, Aside, aids
from reamer.core.load.anchors import LoadPath
from reamer.core.load.asked import Load, rider_load, two_riders
from reamer.core.load.part import Part
from reamer.core.load.path import load_path
from reamer.core.model import Bights, BlockedCord, BlockedSame, ElasticRelease, Joined, Ring
from reamer.core.reach.ends import Reach
from reamer.core.reach.reach import reach
from reamer.core.reach.riding import riding_findings
from reamer.core.reach.water import Water, water_findings
from reamer.core.retrieval.blocks import block_findings
from reamer.core.retrieval.pull import Moved, Pull, over_edge, pull_findings, pull_of
from reamer.core.retrieval.retrieval import Retrieval, block_side, retrieval, retrieval_findings
from reamer.core.retrieval.side import answer
from reamer.core.retrieval.snags import caught
from reamer.core.rope.fit import all_rings, through_ring
from reamer.core.rope.joins import join_at_ring
from reamer.core.rope.rigged import strands
from reamer.core.rope.strands import SYSTEM_NAMES, Strand
from reamer.core.section.lengths import Bounded
from reamer.core.section.lines import Lines, edge_of
from reamer.core.station.drawing import Geometry, geometry_of
from reamer.core.station.lie import Lie, lie_of

VERDICT = "No shortfall found in what was checked."


@dataclass(frozen=True, slots=True)
class DropAssessment:
    """One drop: what to draw, what to say first, reach and load path, findings worst first.

    verdict: the most that may be said of it, "" where there is a shortfall or nothing could be checked.
    pull: whether the rope comes down; retrieval: the side to pull, what comes first, what may catch; water: what to pay
    out over moving water; aids: loads on deviations and traverse lines;
    aside: what holds a rider to a landing off to the side; several, two, ice: the anchor as computed, of several
    points, of two posts, or of ice
    cuts: by webbing id what this state takes, None where unknown; wide: what is said once for the plan and holds here
    too
    hangs: who hangs here at once besides whoever rides, by the acts
    state: whom it serves; last: the same drop as the last person finds it, where the station has two states. Findings,
    tally and verdict are then those of both.
    """

    id: str
    name: str
    number: int
    height: Number | None
    system: str
    answer: Sentence
    taut: Bounded | None
    draped: Bounded | None
    reach: tuple[Reach, ...]
    parts: tuple[Part, ...]
    angle: Number | None
    cut: Number | None
    bench: Bench | None
    several: SeveralView | None
    two: TwoPostsView | None
    ice: Ice | None
    pull: Pull
    retrieval: Retrieval
    water: Water | None
    aids: tuple[AidLoad, ...]
    aside: Aside | None
    geometry: Geometry
    findings: tuple[Finding, ...]
    tally: dict[Severity, int]
    verdict: str
    state: str
    cuts: tuple[tuple[str, Number | None], ...] = ()
    wide: tuple[Finding, ...] = ()
    hangs: Hangs = ALONE
    last: DropAssessment | None = None


def assess_state(look: Look, inspected: tuple[Finding, ...] = ()) -> DropAssessment:
    """One state of one station, with all that is said of it.

    look: the station; inspected: what is said of what was found in place
    returns: the assessment of the drop in this state
    Source: see the functions it calls.
    """
    heard = Heard(look.drop.id, look.state.serves if len(look.station.states) > 1 else "")
    made = heard.of(_asked(look))
    findings = worst_first((*inspected, *heard.findings))
    return replace(
        made,
        findings=findings,
        tally=tally_of(findings, heard.wide),
        verdict=verdict_of(findings, made.reach, made.parts),
        wide=tuple(heard.wide),
    )


def _asked(look: Look) -> Says[DropAssessment]:
    """The questions that a guide asks, from the rock down to the rope that is pulled."""
    lie = yield from lie_of(look)  # how do rope and tie lie on the rock?
    load = yield from two_riders(look, (yield from rider_load(look)))  # what comes on it?
    hanging = yield from strands(look)  # what hangs from the ring?
    path = yield from load_path(look, hanging, load, lie.ground)  # does every part hold?
    held, aside = yield from aids(look, load, lie.height)  # what holds rope or rider off the plumb line?
    yield from caught(look, hanging)  # what must pass what stays in?
    reached, water = yield from _reach(look, hanging, lie, load)  # does it reach?
    yield from riding_findings(look, hanging, path.ring, lie.lengths)  # what does a rider meet?
    yield from fits(look, hanging, path.ring)  # do block and join stay at the ring?
    pull = yield from comes_down(look, hanging, lie.nominal)  # does it come down, and past what may catch?
    down = retrieval(look, hanging, pull, lie.nominal)
    wrap = path.wrap
    angle = wrap.angle if wrap else path.several.angle if path.several else None
    cut = wrap.cut if wrap else path.several.cut if path.several else path.two.cut if path.two else None
    return DropAssessment(
        id=look.drop.id,
        name=look.drop.name,
        number=look.index + 1,
        height=lie.height,
        system=SYSTEM_NAMES[look.system.kind],
        answer=answer(look.system, down.side, look.ctx),
        taut=lie.lengths.get("taut"),
        draped=lie.lengths.get("draped"),
        reach=reached,
        parts=path.parts,
        angle=angle,
        cut=cut,
        bench=wrap.bench if wrap else None,
        several=path.several,
        two=path.two,
        ice=path.ice,
        pull=pull,
        retrieval=down,
        water=water,
        aids=held,
        aside=aside,
        geometry=_drawn(look, lie, path),
        findings=(),
        tally={},
        verdict="",
        state=look.state.serves,
        cuts=path.cuts,
        hangs=most_at_once(look.ctx, look.index, look.state.serves == "last"),
    )


def _reach(look: Look, hanging: list[Strand], lie: Lie, load: Load) -> Says[tuple[tuple[Reach, ...], Water | None]]:
    """Whether every strand reaches, and over moving water how it is set."""
    if lie.by_bound is None or not lie.lengths:
        return (), None
    reached = yield from reach(look, hanging, lie.by_bound, lie.lengths, load)
    return reached, (yield from water_findings(look, reached, lie.lengths))


def fits(look: Look, hanging: list[Strand], ring: Ring | None) -> Says[None]:
    """Whether the block, the join and the rope fit the ring.

    look: the station; hanging: its strands; ring: what the rope runs through
    returns: nothing
    Source: see the functions it calls.
    """
    system, rig = look.system, look.rig
    rings, asks = all_rings(rig, ring, look.ctx.rings), system.kind in ("doubled", "joined", "lowered")
    match system:
        case BlockedSame() | BlockedCord() if hanging:
            yield from block_findings(look, system, hanging[0].rope, ring)
        case Bights() if system.block_holds.kind == "unknown":
            why = "The tables have nothing for it. Enter what you have pulled yourselves."
            yield say("block.unchecked", "Not checked", "block", "What the chain of bights holds is not known", why)
        case ElasticRelease() if hanging:
            device = look.device(system.device)
            if device is not None and device.rating_kn.kind == "unknown":
                title, why = "What {device} holds is not known", "Everyone hangs on it. Enter its rating under Shed."
                yield say("block.unchecked", "Not checked", "block", title, why, device=device.name)
        case Joined() if len(hanging) == 2 and rig.kind != "none" and (ring is not None or rig.ring is None):
            at = look.feature(rig.anchor) if rig.kind == "direct" else None
            over = ring.name if ring is not None else at.name if at is not None else "what it runs round"
            asked = yield from join_at_ring(look, system, (hanging[0].rope, hanging[1].rope), ring, over)
            asks = asks and not asked
    # Where a block or a join is asked for the opening, that is said there.
    yield from through_ring(hanging, rings, asks)


def comes_down(look: Look, hanging: list[Strand], nominal: Lines | None) -> Says[Pull]:
    """Whether the rope comes down: on the right side, and past what may catch.

    look: the station; hanging: its strands; nominal: its lines
    returns: the pull
    Source: see the functions it calls.
    """
    yield from block_side(look, hanging)
    if look.state.serves == "party":
        return value(pulled(look, hanging, nominal))  # whoever goes last pulls
    pull = yield from pulled(look, hanging, nominal)
    yield from retrieval_findings(look, hanging, pull)
    return pull


def pulled(look: Look, hanging: list[Strand], nominal: Lines | None) -> Says[Pull]:
    """Whether the rope comes down, and what would help.

    look: the station; hanging: its strands; nominal: its lines
    returns: the pull
    Source: as for pull_of.
    """
    rig, edge = look.rig, edge_of(nominal.terrain) if nominal else None
    out = reaches(rig, look.ctx).out_m
    pull = pull_of(look, hanging, nominal, Moved()) if not look.fixes else None
    if pull is None or pull.band in ("hard", "stuck"):
        ringed = rig.kind != "none" and rig.ring is not None
        moved = over_edge(nominal, edge[0] if edge else None, out) if ringed else Moved()
        pull = pull_of(look, hanging, nominal, moved)
    if look.system.kind != "none" and rig.kind != "none" and nominal is not None:
        back = edge is not None and out is not None and out < edge[0] and edge[1] in ("coarse", "sharp")
        yield from pull_findings(look, pull, back)
    return pull


def _drawn(look: Look, lie: Lie, path: LoadPath) -> Geometry:
    """What there is to draw; alike for all that is compared at one drop while what it is made from is."""
    given = (lie.terrain, lie.nominal, path.wrap, look.drop.landing, look.station.features, look.rig, lie.height)
    return look.once(("geometry",), given, lambda own: geometry_of(look, lie, path, own))


def verdict_of(findings: tuple[Finding, ...], reached: tuple[Reach, ...], parts: tuple[Part, ...]) -> str:
    """The most that may be said of a drop.

    findings: about it; reached: its strands; parts: of its load path
    returns: the verdict, "" where there is a shortfall, or where nothing could be checked
    Source: none.
    """
    checked = any(r.spare for r in reached) or any(p.verdict != "Not checked" for p in parts)
    return "" if not checked or any(f.severity == "Shortfall" for f in findings) else VERDICT


def tally_of(findings: tuple[Finding, ...], wide: tuple[Finding, ...] | list[Finding]) -> dict[Severity, int]:
    """A drop's own tally: what is not checked or short here counts here too where it is said once for the plan.

    findings: the drop's; wide: what is said once for the plan and holds here
    returns: severity -> count
    Source: none, counting.
    """
    here = {(f.code, words(f.title)): f for f in wide if f.severity in ("Shortfall", "Not checked")}
    return tally([*findings, *here.values()])
