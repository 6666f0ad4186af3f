"""Findings: what the assessment has to say, each with its severity, its numbers and, where there is one, its fix."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any, Literal

from reamer.core.say import Number, Sentence
from reamer.core.say import words as say_words

Severity = Literal["Shortfall", "Not checked", "Caution", "Note"]
SEVERITIES: tuple[Severity, ...] = ("Shortfall", "Not checked", "Caution", "Note")

# Stable codes and what each is about. docs/findings.md explains every one; a test holds the two together.
CODES = {
    "section.unknown": "a figure of the section is missing",
    "section.recess": "the landing lies back under the last lip",
    "edge.unknown": "how sharp an edge is nobody has said",
    "edge.sharp": "a rope that is ridden or lowered on bears on a sharp edge",
    "ring.beyond": "the tie reaches to or past the landing",
    "anchor.none": "no anchor is chosen",
    "anchor.missing": "the rig names a part that is not there",
    "anchor.kind": "the rig is tied to a thing of a kind that cannot be tied to so",
    "anchor.unknown": "what the post or anchor holds is unknown",
    "anchor.weak": "the post or anchor holds less than is asked of it",
    "legs.unknown": "how several points share the load is not known",
    "legs.mixed": "one loop through several points is of more than one material",
    "legs.angle": "the legs of an anchor of several points stand wide",
    "legs.removal": "what happens when one of several points fails is not known",
    "legs.cascade": "when one point fails the rest may not hold the fall",
    "legs.drop": "when one point fails the focal point falls far",
    "load.hanging": "somebody who is to hang at the station is not in the party",
    "tree.thin": "a tree is too thin to hold one person",
    "tree.sound": "a tree is not sound, or nobody has said that it is",
    "post.high": "a doubtful post that is tied high",
    "post.low": "a strong post that is tied low",
    "ice.strength": "the strength of ice is never computed",
    "ice.meets": "the two holes of an ice thread do not meet, or it is not known",
    "ice.kind": "the ice is white and aerated, or unknown",
    "ice.freezes": "a rope straight through ice that may freeze in",
    "ice.found": "an ice thread found in place of which not all can be seen",
    "ice.backup": "an ice thread's backup is missing, unknown or on the cord",
    "inspection.answer": "what was found in place has a fault that was seen",
    "inspection.none": "nobody has looked at what was found in place",
    "inspection.open": "what was found in place was looked at, but its state or the decision is open",
    "inspection.bad": "something is used that was found bad or is to be replaced",
    "inspection.backup": "something is to be backed up",
    "inspection.worn": "what was found in place is worn and is to be used",
    "inspection.old": "a record of what was found in place is old, or nobody knows how old",
    "webbing.unknown": "what the webbing holds is unknown",
    "webbing.weak": "the webbing holds less than is asked of it",
    "webbing.angle": "the legs of the wrap stand wide",
    "webbing.cut": "no piece of this webbing is long enough for the station, or the sling is too short",
    "webbing.stock": "the shed has too little of this webbing for the whole descent",
    "webbing.knot": "this knot does not hold in this webbing",
    "webbing.overhand": "an overhand at the focal point that only weakens the wrap",
    "webbing.girth": "a girth hitch where a wrap would keep the strength",
    "webbing.bend": "the knot that joins the webbing would keep more at the back of the post",
    "webbing.abrades": "webbing on coarse or sharp rock with nothing beside it",
    "webbing.surface": "how sharp the post is where the webbing sits nobody has said",
    "part.single": "a part whose loss alone would drop the rider, and that nobody has accepted",
    "ring.unknown": "the ring's rating is unknown",
    "ring.thin": "the ring's bar is thinner than what bends over it",
    "ring.small": "the ring's opening is smaller than the rope that runs through it",
    "ring.weak": "the ring holds less than is asked of it",
    "connector.lie": "a connector is loaded other than along its long axis, or nobody has said how it lies",
    "link.unknown": "what a sling or connector of the anchor holds is unknown",
    "link.weak": "a sling or connector of the anchor holds less than is asked of it",
    "device.none": "nobody has said what somebody rides on",
    "device.unknown": "what a device holds is unknown",
    "device.weak": "a device holds less than is asked of it",
    "tether.none": "nobody has said what somebody clips in with",
    "tether.unknown": "what a tether holds is unknown",
    "tether.weak": "a tether holds less than is asked of it",
    "tether.fall": "a fall onto a tether may break it, or what it would do is unknown",
    "rope.unknown": "what the rope holds is unknown",
    "rope.weak": "the rope holds less than is asked of it",
    "rope.nominal": "the rope's length is the label's, never measured since it may have shrunk",
    "rope.length": "the rope's length is unknown",
    "rope.too-short": "a strand is shorter than its own knots",
    "rope.passed": "a knot that isolates damage lies on the way of a rider or of the ring, or it is not known",
    "rope.outside": "an end that is ridden or pulled lies past the rope's damage",
    "device.range": "a device is not stated for this rope, or nobody has said for which",
    "device.kind": "a device is used for what it is not made for",
    "device.thin": "a thin single strand wants added friction",
    "block.side": "the block lies on the side of the ring from which it does not hold",
    "block.unchecked": "how the block fits its ring, or what it holds there, is not known",
    "block.passes": "the block passes its ring, or may be forced through",
    "block.jams": "the block may jam, or moves before it grips",
    "block.weak": "the block holds less than is asked of it",
    "join.passes": "the join may be drawn into the ring from the side that is not pulled",
    "join.unchecked": "at what load the join slips is unknown",
    "join.slips": "the join slips at less than comes on it",
    "join.advised": "a knot that is advised against joins two ropes",
    "join.weak": "the bend that joins two ropes holds less than is asked of it",
    "join.tails": "the join's tails are short",
    "join.pull": "the join slips at less than the pull",
    "pull.side": "the strand that is pulled lies outside the other, or how they hang is not known",
    "pull.join-side": "joined ropes pulled from the side the join is not on",
    "pull.next": "the end that is pulled is not the one the next station threads",
    "pull.cracks": "cracks or flakes under the line may catch the rope, or nobody has looked",
    "pull.current": "rope in a current",
    "pull.textile": "rope pulled, or moving under weight, over textile",
    "pull.undone": "whether what is undone from below lets go is not checked",
    "pull.unknown": "whether the rope will pull is not known",
    "pull.hard": "the rope is hard to pull, or expected to stick",
    "system.none": "no rope system is chosen",
    "system.missing": "the system names a rope that is not in the shed",
    "system.twice": "one rope is used twice at once",
    "system.together": "two people ride at once on strands that nothing blocks",
    "system.alone": "a system that wants somebody at the top, for a party of one",
    "system.cord-ridden": "a pull cord is ridden",
    "system.thin-through": "the thinner rope runs through the ring",
    "system.middle": "how far the middle mark is off is unknown",
    "system.ends": "a stopper names an end that does not hang here",
    "release.convert": "a rope that nobody can pull has no state for the last person",
    "release.jams": "a tie-off that cannot be let out after an extreme load",
    "release.school": "a strand that cannot be let out, where the guide's choice asks for it",
    "release.reserve": "the reserve is too short to lower somebody from anywhere",
    "release.join": "the knot that joins a second rope to the reserve must pass the tie-off",
    "release.left": "nothing brings the party's rope down after the last person",
    "bights.tied": "the alternating bights are not as practice wants them",
    "system.advanced": "a system for those who have practised it",
    "lower.open": "the belayer's end of a lowering rope is open",
    "reach.short": "a strand does not reach",
    "reach.unknown": "whether a strand reaches is not checked",
    "reach.water": "an end over moving water hangs in the current or too far above it",
    "reach.water-fixed": "a strand over moving water that cannot be set from the top",
    "reach.on-site": "a strand over moving water whose length must be found on site",
    "reach.pull-out": "the strand that is pulled hangs out of reach over moving water",
    "reach.stance": "whether the next station is within reach of a tether from a hanging stance",
    "reach.aside": "the landing lies off to the side",
    "deviation.unknown": "what a deviation's anchor must hold, or holds, is unknown",
    "deviation.weak": "a deviation's anchor holds less than is asked of it",
    "deviation.remove": "somebody must take a deviation out, or it is pulled through",
    "deviation.catches": "a knot or carabiner must pass a deviation that stays in",
    "traverse.unknown": "what a traverse line's anchors must hold, or hold, is unknown",
    "traverse.weak": "a traverse line's anchor holds less than is asked of it",
    "traverse.short": "the traverse line's rope is too short to be retrieved doubled, or it is not known",
    "end.open": "an open end may hang above the landing",
    "end.seen": "an open end must be seen down before anybody rides",
    "end.water": "a knot in an end over moving water",
    "end.dips": "stretch draws a ridden end under water",
    "end.stretch": "how far a ridden strand stretches is unknown",
    "load.unknown": "the load on the station is unknown",
    "person.unknown": "a person's weight is unknown",
    "party.none": "nobody is in the party",
    "figure.own": "figures of the guide's own stand in place of a table's",
    "figure.bold": "own figures raise what parts hold or lower what is asked of them",
    "margin.low": "the guide's own margin is lower than the table's",
    "plan.empty": "the plan has no drops",
}


Settled = Literal["at home", "at the edge", "from below"]
SETTLED: tuple[Settled, ...] = ("at home", "at the edge", "from below")
# Who can settle a finding, where that is not somebody at home with the plan, the kit and a telephone.
AT_THE_EDGE = frozenset({
    "section.recess", "edge.unknown", "edge.sharp", "tree.sound", "tree.thin", "ice.strength", "ice.meets", "ice.kind", "ice.freezes", "ice.found", "ice.backup", "inspection.answer", "inspection.none",
    "inspection.open", "inspection.bad", "inspection.backup", "inspection.worn", "inspection.old", "webbing.surface", "anchor.unknown", "post.high", "post.low", "block.jams", "rope.passed",
    "reach.on-site", "end.water", "end.dips", "deviation.remove", "pull.textile", "connector.lie", "load.hanging"})
FROM_BELOW = frozenset({"pull.cracks", "pull.current", "pull.undone", "end.seen", "reach.aside"})


def settled(code: str) -> Settled:
    """Who can settle a finding.

    code: the finding's
    returns: at home, at the edge, or only from below
    Source: J, our judgement.
    """
    return "at the edge" if code in AT_THE_EDGE else "from below" if code in FROM_BELOW else "at home"


@dataclass(frozen=True, slots=True)
class Subject:
    """What a finding is about: a drop's id ("" for the whole plan), the part's key ("" for the whole drop), and the state of
    the station it holds for, where it has two."""

    drop: str
    part: str = ""
    state: str = ""


@dataclass(frozen=True, slots=True)
class Edit:
    """One value to set in the plan: the path from its root, and the value."""

    path: tuple[str | int, ...]
    value: Any


@dataclass(frozen=True, slots=True)
class Fix:
    """Edits that would settle a finding, in words; applied with one act and undone with one."""

    label: Sentence
    edits: tuple[Edit, ...]


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing to know: a stable code, how serious, about what, in words whose numbers lead to workings. ``settled``: who can
    settle it; ``drops``: of one that is said once for the plan, where it holds."""

    code: str
    severity: Severity
    subject: Subject
    title: Sentence
    reason: Sentence
    working: str = ""
    fix: Fix | None = None
    settled: Settled = "at home"
    drops: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        if self.code not in CODES:
            raise KeyError(self.code)


@dataclass(slots=True)
class Findings:
    """Where one drop's findings are gathered. ``fixes``: whether to look for those that have to be tried out; ``wide``: what is said
    once for the plan."""

    drop: str
    state: str = ""
    fixes: bool = True
    found: list[Finding] = field(default_factory=list)
    wide: list[Finding] = field(default_factory=list)

    def add(self, code: str, severity: Severity, part: str, title: str, reason: str, *,
            numbers: dict[str, Number] | None = None, words: dict[str, str] | None = None, working: str = "",
            fix: Fix | None = None, once: bool = False) -> None:
        """Add one finding; title and reason are templates over the same numbers and words. ``once``: it is said once for the plan,
        however many stations it holds at."""
        numbers, words = numbers or {}, words or {}
        (self.wide if once else self.found).append(Finding(code, severity, Subject(self.drop, part, self.state), Sentence(title, numbers, words),
                                                           Sentence(reason, numbers, words), working, fix, settled(code)))

    def worst_first(self) -> tuple[Finding, ...]:
        """All, worst first, otherwise in the order of the work."""
        return tuple(sorted(self.found, key=lambda f: SEVERITIES.index(f.severity)))


def said_once(wide: list[Finding]) -> tuple[Finding, ...]:
    """Findings that hold at many stations, each said once: of those alike in code and title the worst, with the stations it holds at.

    wide: of all drops, in their order
    returns: one a code and title as it reads, about the plan
    Source: none, gathering.
    """
    groups: dict[tuple[str, str], list[Finding]] = {}
    for f in wide:
        groups.setdefault((f.code, say_words(f.title)), []).append(f)
    made = []
    for same in groups.values():
        worst = min(same, key=lambda f: SEVERITIES.index(f.severity))
        bare = [Sentence(s.template, {k: Number(n.value, n.quantity, n.toward) for k, n in s.numbers.items()}, s.words) for s in (worst.title, worst.reason)]
        drops = tuple(dict.fromkeys(f.subject.drop for f in same))
        made.append(replace(worst, subject=Subject("", worst.subject.part), title=bare[0], reason=bare[1], working="", fix=worst.fix if len(drops) == 1 else None, drops=drops))
    return tuple(made)


def tally(findings: tuple[Finding, ...] | list[Finding]) -> dict[Severity, int]:
    """How many findings there are of each severity.

    findings: any
    returns: severity -> count, every severity present
    Source: none, counting.
    """
    return {s: sum(1 for f in findings if f.severity == s) for s in SEVERITIES}
