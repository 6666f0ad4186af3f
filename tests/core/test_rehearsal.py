"""Who is held by what: against an independent search on a graph of parts, against the laws of a rehearsal, against the
orders that are taught, and against every hazard that a guide must be stopped from planning."""

import copy
import itertools
import math
import unittest
from xml.etree import ElementTree as ET

import networkx as nx
from hypothesis import given
from hypothesis import strategies as st

from reamer.core.acts.holding import counted, independent, paths
from reamer.core.acts.orders import begin
from reamer.core.answer.context import context
from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.model import ActName
from reamer.core.people.attachment import HOLDS_NOTHING, gripped, hitch_reach_m, width_mm
from reamer.core.people.backups import KINDS, backups_of, compare_backups
from reamer.core.plan.edits import apply
from reamer.core.plan.party import order_of, proposed_order
from reamer.core.reading import read_plan
from reamer.core.rehearsal.faults import exposed, faults
from reamer.core.rehearsal.fixes import fixes
from reamer.core.rehearsal.hazards import seen
from reamer.core.rehearsal.moves import moves
from reamer.core.rehearsal.rehearsal import matrix_of, rehearsal, state_of, station_run, what_if
from reamer.core.rehearsal.words import SAID
from reamer.demos import DEMOS, buttress, canyon, gully
from reamer.figures.attachment import attachment
from reamer.figures.svg import png
from tests import LONG, law
from tests.builders import iced, known, rope, unknown
from tests.core.test_any_plan import plans
from tests.core.test_codes import THROUGH, TRAVERSE, edits, without
from tests.outside import Outside
from tests.rehearsing import LANDINGS, LOWERED, SYSTEMS, backed, descent_of, party, person, run, run_of, third

PATHS = Outside("how many independent parts hold somebody, act by act", "the least cut of a graph", "networkx")


BAD = ("falls", "rope lost", "cannot be pulled")


def network(scene, world, who):
    """The parts between rock and one person's harness as a graph, from the state itself and the table of what is fixed.
    Parts are nodes; what must all hold stands in a row, what holds beside it in parallel. Whose hand holds stands in
    the row too: a node for them, behind what holds them, with nodes of its own."""
    g = nx.DiGraph()
    _attach(g, scene, world, who, "harness", ())
    return g


def _attach(g, scene, world, who, end, asking):
    """Every way from the rock to one end."""

    def row(start, *nodes):
        # Nodes of its own where a row starts at a person: what others stand on is no way round them.
        nx.add_path(g, [start, *((end, start, n) for n in nodes), end])

    def owner(by, stage):
        """Where a row starts that somebody's hand is in: the rock, or that person where a pull takes them along."""
        body = world.people[by]
        low = body.spot == "landing" or body.at > stage.index
        if (low and stage.below != "hanging") or (not low and stage.stance == "ground"):
            return "rock"
        if by in asking:
            return None
        node = (end, "held", by)
        if node not in g:
            g.add_node(node)
            _attach(g, scene, world, by, node, (*asking, who, by))
        return node

    def base(k, rope, screw=False):
        stage = scene.stages[k]
        if screw:
            return [f"screw.{k}"]
        keys = [f"part.{x}.{k}" for x in stage.unaccepted] + [f"point.{x}.{k}" for x in stage.accepted]
        return [
            x for x in keys if rope or not x.split(".")[1].startswith(("ring", "tie", "block", "bights", "release"))
        ]

    def onto(strands, k, p):
        """What stands in a row from the rock to some strands in one device, each way of it."""
        stage, now = scene.stages[k], world.stations[k]
        if now.which < 0 or now.done & {"pulling", "pulled"}:
            return
        way = stage.ways[now.which]
        tied = "threaded" in now.done and set(way.knots) <= now.done
        some = sorted(f"rope.{s.rope}:{s.end}" for s in strands)
        join = [f"join.{k}"] if way.kind == "joined" else []
        bases = [base(k, True)] + ([base(k, True, True)] if "screw clip" in now.done else [])
        if tied and len(way.ride) == 2 and set(way.ride) <= set(strands) and way.together.holds != "no":
            for b in bases:
                yield "rock", [*b, *some, *join, *(["doubt.join." + str(k)] if way.together.holds == "unknown" else [])]
        for s in strands if tied and not (way.thin and set(way.ride) <= set(strands)) else ():
            if s not in way.alone:
                continue
            what, verdict = way.alone[s]
            bare = what == "block" and way.system.carabiner and "block carabiner" not in now.done
            verdict = way.bare if bare else verdict
            if verdict.holds == "no":
                continue
            doubt = [f"bare.block.{k}"] if bare else []
            doubt += [f"doubt.{what}.{k}"] if verdict.holds == "unknown" else []
            one = [*base(k, True), f"rope.{s.rope}:{s.end}"]
            if what != "tie-off" or "unlocked" not in now.done:
                yield "rock", [*one, f"{what}.{k}", *doubt]
            there = now.attendant in [i for i, b in world.people.items() if b.at == k and b.spot == "station"]
            start = owner(now.attendant, stage) if what == "tie-off" and there and now.attendant != p else None
            if start is not None:
                yield start, [*one, f"hand.{now.attendant}"]
        if now.done & {"isolating overhand", "overhand below"} and set(way.strands) & set(strands):
            for b in bases if len(way.ride) == 2 else bases[:1]:
                yield "rock", [*b, *some, *join]
        clipped = {"isolating overhand", "overhand clip"} <= now.done
        if ("isolating clove" in now.done or clipped) and set(way.ride) & set(strands):
            yield "rock", [*base(k, False), *some]
        if "ride line" in now.done:
            for s in set(way.ride) & set(strands):
                yield "rock", [*base(k, False), f"rope.{s.rope}:{s.end}", f"ride line.{k}"]

    def stops(p, link, hitch, grips):
        """What a device is stopped by, and where the row of that starts."""
        k, now, body = link.k, world.stations[link.k], world.people[p]
        if link.hand:
            yield "rock", [f"hand.{p}"]
        if hitch and hitch.tested and hitch.strands >= link.strands and grips:
            yield "rock", [f"hitch.{p}"]
        walk = scene.stages[k].walk
        down = {i for i, b in world.people.items() if (b.at == k + 1 and b.spot == "station" and not walk)}
        down |= {i for i, b in world.people.items() if b.at == k and b.spot == "landing"}
        for w in now.fireman:
            if w.by in down and w.by != p and link.strands <= w.strands:
                start = owner(w.by, scene.stages[k])
                if start is not None:
                    yield start, [f"watch.{w.by}"]
        if body.spot == "station" and body.at == k:
            if now.done & {"isolating overhand", "isolating clove"}:
                yield "rock", []
            if "isolating clove" not in now.done:
                for i, b in world.people.items():
                    other = b.link("device")
                    tied = any(x.kind in ("tether", "second tether", "top line") for x in b.links)
                    lower = [*now.stack, i].index(i) < [*now.stack, p].index(p)
                    leans = b.spot == "station" and b.edge and not tied and other and other.tested and lower
                    on = b.at == k and ((b.spot == "rope" and not b.resting) or leans)
                    if i != p and on and other and other.strands >= link.strands:
                        yield "rock", [f"weight.{i}"]

    def device(p, tail):
        body = world.people[p]
        link, hitch = body.link("device"), body.link("third hand")
        k = link.k if link else hitch.k if hitch else 0
        now, grip = world.stations[k], scene.stages[k].grips.get(p, ())
        stand = grip[min(max(now.which, 0), len(grip) - 1)].stand if grip else "fits"
        grips = stand not in HOLDS_NOTHING
        knotted = scene.stages[k].way(now.which).knotted if body.spot == "rope" else frozenset()

        def past(strands):
            return [f"knot.{','.join(sorted(s.key for s in knotted & strands))}"] if knotted & strands else []

        if hitch and hitch.tested and grips:
            for start, on in onto(hitch.strands, hitch.k, p):
                row(start, *on, *past(hitch.strands), f"hitch.{p}", *tail)
        if link is None:
            return
        for (start, on), (other, stop) in itertools.product(
            list(onto(link.strands, link.k, p)), list(stops(p, link, hitch, grips))
        ):
            every = [*on, *past(link.strands), f"device.{p}", *stop, *tail]
            if start == "rock" or other == "rock" or start == other:
                row(start if other == "rock" else other, *every)
            else:
                # Two hands in one row, each of somebody who is held.
                both = (end, "both", start, other)
                for path in (p_ for p_ in nx.all_simple_paths(g, "rock", start)):
                    again = [(both, *([n] if isinstance(n, str) else n)) for n in path[1:]]
                    nx.add_path(g, [other, *again, both])
                row(both, *every)

    for link in world.people[who].links:
        stage = scene.stages[link.k]
        if link.kind in ("tether", "second tether"):
            if link.to == "backup":
                if "backup screw" in world.stations[link.k].done:
                    row("rock", f"screw.{link.k}", f"{link.kind}.{who}")
            else:
                row("rock", *(base(link.k, False) if link.to == "master" else ()), f"{link.kind}.{who}")
        elif link.kind == "top line":
            there = link.hand and world.people[link.to].at == link.k and world.people[link.to].spot == "station"
            start = owner(link.to, stage) if there else None
            if start is not None:
                row(start, *base(link.k, False), f"line.{who}", f"hand.{link.to}")
            if link.tied:
                row("rock", *base(link.k, False), f"line.{who}", f"tied.{who}")
        elif link.kind == "passenger":
            device(link.to, [f"passenger.{who}"])
        elif link.kind in ("lowering", "bight"):
            on = [*base(link.k, True), *(f"rope.{s.rope}:{s.end}" for s in link.strands)]
            start = owner(link.to, stage) if link.hand else None
            if start is not None:
                row(start, *on, f"hand.{link.to}")
            if link.tested and link.hand and "belayer's hitch" in world.stations[link.k].done:
                row("rock", *on, f"hitch.{link.to}")
            if link.tied:
                row("rock", *on, f"tied.{who}")
    device(who, [])


def part_of(node):
    """The part that a node stands for, "" for rock, harness and people."""
    return node[-1] if isinstance(node, tuple) and "." in str(node[-1]) else ""


def reached(g, without):
    """Whether a way is left from rock to harness when some parts are gone."""
    rest = g.subgraph(n for n in g if part_of(n) not in without)
    return "harness" in rest and "rock" in rest and nx.has_path(rest, "rock", "harness")


def least_cut(g):
    """The least number of counted parts whose loss parts harness and rock."""
    # What nobody knows to hold counts for no path.
    g = g.subgraph(n for n in g if not part_of(n).startswith("doubt."))
    parts = sorted({x for n in g if (x := part_of(n)) and counted(x)})
    for n in range(len(parts) + 1):
        if any(not reached(g, set(some)) for some in itertools.combinations(parts, n)):
            return n
    raise AssertionError("held by nothing that counts")


def every_state(play):
    for p in play.stations:
        for act, world in zip(p.acts, p.states, strict=True):
            yield p, act, world


def agrees(test, play):
    """Held-by of every person in every state, against the graph; what is alike is looked at once."""
    seen_: set[object] = set()
    for _, _, world in every_state(play):
        for who in world.people:
            found = paths(play.scene, world, who)
            key = (who, found)
            if key in seen_:
                continue
            seen_.add(key)
            g = network(play.scene, world, who)
            PATHS.same(test, independent(found), least_cut(g), f"{who} {found}")
            for part in {x for p in found for x in p}:
                test.assertEqual(any(part not in p for p in found), reached(g, {part}), part)


RIDES = ("first", "turn", "last", "down")
FACTORS = {
    "system": tuple(SYSTEMS),
    "by": (None, *KINDS),
    "landing": LANDINGS,
    "courtesy": (False, True),
    "drops": (1, 2, 3),
    "size": (1, 2, 3, 8),
}


def pairs():
    """Choices of one value a factor so that every pair of values of two factors is in one of them."""
    names = list(FACTORS)
    open_ = {((a, x), (b, y)) for a, b in itertools.combinations(names, 2) for x in FACTORS[a] for y in FACTORS[b]}
    while open_:
        made = dict(min(open_, key=str))
        for name in names:
            if name not in made:

                def new(value, name=name, made=made):
                    told = [
                        tuple(sorted(((name, value), item), key=lambda i: names.index(i[0]))) for item in made.items()
                    ]
                    return sum(t in open_ for t in told)

                made[name] = max(FACTORS[name], key=new)
        open_ -= {((a, made[a]), (b, made[b])) for a, b in itertools.combinations(names, 2)}
        yield made


def order_for(c):
    """The descent that one choice of the factors stands for."""
    courtesy = c["courtesy"] and SYSTEMS[c["system"]][1] is None
    data = descent_of(c["system"], party(c["size"]), c["landing"], c["drops"], courtesy)
    who = [p["id"] for p in data["party"]][2:3] or [data["party"][-1]["id"]]
    return data if c["by"] is None else backed(data, c["by"], who)


def some_orders():
    """All pairs of system × backup × stance × courtesy × number of drops × party."""
    for c in pairs():
        yield order_for(c)


# Facts made worse, or not known: the way to each and what stands there then; "*": at every drop.
WORSE = (
    ("party", 1, "hitch", None),
    ("party", 1, "hitch", {**third(), "wraps": unknown("?")}),
    ("party", 1, "hitch", third(clipped_m=known(0.4))),
    ("party", 1, "attachment", "device_m", known(0.05)),
    ("party", 1, "attachment", {"way": "unknown"}),
    ("party", 1, "tether", None),
    ("party", 1, "device", None),
    ("party", 1, "role", "novice"),
    ("shed", "loops", []),
    ("shed", "rings", 0, "opening_mm", unknown("?")),
    ("shed", "rings", 0, "opening_mm", known(90)),
    ("*", "section", "edge", "sharp"),
    ("*", "section", "edge", "unknown"),
    ("*", "section", "height_m", unknown("?")),
    ("*", "landing", "kind", "unknown"),
    ("*", "landing", "room", known(1)),
    ("*", "station", "wet", "yes"),
)


def put(data, way):
    """Put what is at the end of a way where the way leads."""
    for at in data["drops"] if way[0] == "*" else [data]:
        here = at
        for key in way[way[0] == "*" : -2]:
            here = here[key]
        here[way[-2]] = copy.deepcopy(way[-1])


def wrongs(data, play):
    """What is wrong with a generated order: an act that its own simulator refuses, an unaccepted fall, a hazard."""
    none = {b["who"] for d in data["drops"] for b in d["station"].get("through", {}).get("backups", ())}
    none = none if any("none" in str(d["station"].get("through")) for d in data["drops"]) else set()
    wrong = []
    for p, act, world in every_state(play):
        wrong += [words(r) for r in p.refused if r]
        for f in faults(play.scene, world):
            for o in f.outcomes:
                if o.happens in BAD and not o.accepted and o.who not in none:
                    wrong.append(f"{act.key}: {words(f.title)}: {words(o.story)}")
    return wrong + [str(h.seen.key) for h in play.hazards if not h.seen.said and h.seen.who not in none]


class EveryOrder(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.plays = [(data, run(data)) for data in some_orders()]

    def test_it_is_accepted_by_its_own_simulator_and_has_no_unaccepted_fall(self):
        """All pairs of the factors; in the long run the whole product of them."""
        for data, play in self.plays:
            self.assertEqual(wrongs(data, play), [])
        for values in itertools.product(*FACTORS.values()) if LONG else ():
            data = order_for(dict(zip(FACTORS, values, strict=True)))
            self.assertEqual(wrongs(data, run(data)), [], values)

    def test_it_is_told_in_at_most_twelve_moves_that_part_its_acts(self):
        """All pairs of the factors; in the long run the whole product of them."""
        more = itertools.product(*FACTORS.values()) if LONG else ()
        plays = (run(order_for(dict(zip(FACTORS, values, strict=True)))) for values in more)
        for play in (*(p for _, p in self.plays), *plays):
            by_kind = {}
            for p in play.stations:
                made = moves(play.scene, p.k, p.before, p.acts, p.states)
                self.assertLessEqual(len(made), 12)
                self.assertEqual([n for m in made for n in range(m.begin, m.end + 1)], list(range(1, len(p.acts) + 1)))
                down = {i: [m.kind for m in made if i in m.people and m.kind in RIDES] for i in p.before.people}
                self.assertTrue(all(len(kinds) <= 1 for kinds in down.values()), down)
                # Two stations of one kind tell alike; the first is walked up to, and the last goes nowhere.
                key = (play.scene.stages[p.k].below, play.scene.stages[p.k].walk)
                if 0 < p.k < len(play.stations) - 1 and p.acts:
                    kinds = [m.kind for m in made]
                    self.assertEqual(by_kind.setdefault(key, kinds), kinds)

    def test_who_is_held_by_what_agrees_with_a_search_on_the_graph_of_parts(self):
        for _, play in self.plays:
            agrees(self, play)

    def test_with_two_paths_no_single_fault_drops_anybody_and_with_none_it_is_a_hazard(self):
        for _, play in self.plays:
            for _, _, world in every_state(play):
                dropped = {
                    o.who
                    for f in faults(play.scene, world)
                    for o in f.outcomes
                    if o.happens == "falls" and not o.accepted and f.key.split(".")[0] not in ("end", "strand")
                }
                hazardous = {s.who for s in seen(play.scene, world)}
                for who in world.people:
                    n = independent(paths(play.scene, world, who))
                    self.assertFalse(n >= 2 and who in dropped)
                    self.assertFalse(n == 0 and exposed(play.scene, world, who) and who not in hazardous)

    def test_no_rope_is_made_or_lost(self):
        for _, play in self.plays:
            for _, _, world in every_state(play):
                self.assertEqual(set(world.ropes), set(begin(play.scene).ropes))
                for key, r in world.ropes.items():
                    self.assertAlmostEqual(math.fsum(r.pieces_m), play.scene.lengths[key], 6)
                    self.assertEqual(list(r.on), sorted(r.on))
                    self.assertTrue(all(piece >= 0 for piece in r.pieces_m))

    def test_everybody_comes_down_with_the_rope(self):
        for _, play in self.plays:
            last = play.stations[-1]
            end = last.after
            self.assertEqual([p.barred for p in play.stations if p.barred], [])
            self.assertTrue(all(b.spot == "landing" and b.at == last.k for b in end.people.values()))
            self.assertIn("pulled", end.stations[last.k].done)


def told(play, k):
    return [(a.who, a.do, a.what) for a in play.stations[k].acts]


class Taught(unittest.TestCase):
    """Orders as they are taught: common practice, no source."""

    def test_two_people_change_stations(self):
        play = run(descent_of("doubled", party(2), "hanging stance", 2))
        first, last = order_of(play.scene.plan, play.scene.plan.drops[0])
        do = [(("1" if w == first.id else "2" if w else ""), d, x) for w, d, x in told(play, 0)]
        want = [
            ("1", "look up", ""),
            ("1", "pull up the end", "r1:b"),
            ("1", "tie", "overhand below"),
            ("1", "untie", "stopper r1:b"),
            ("1", "thread", "r1:b"),
            ("1", "tie", "stopper r1:b"),
            ("1", "stack", "slack"),
            ("2", "test", ""),
            ("2", "unclip tether", ""),
            ("2", "descend", ""),
            ("2", "arrive", ""),
            ("2", "clip tether", "master"),
            ("2", "load tether", ""),
            ("2", "take off device", ""),
            ("2", "take off third hand", ""),
            ("1", "untie", "overhand below"),
            ("1", "pull", "r1:b"),
            ("2", "untie", "stopper r1:a"),
            ("1", "run the rope through", ""),
            ("1", "stop pulling", ""),
            ("", "hold clear", ""),
            ("1", "pull through", ""),
        ]
        do = do[do.index(want[0]) :]
        self.assertEqual([x for x in do if x in want], want)
        after = [(d, x) for _, d, x in told(play, 1)]
        want = [("pull to the middle", ""), ("tie", "isolating overhand"), ("tie", "stopper r1:a")]
        want += [("call", "rope"), ("throw the rope", ""), ("test", ""), ("untie", "isolating overhand")]
        want += [("unclip tether", ""), ("descend", "")]
        at = [after.index(x) for x in want]
        self.assertEqual(at, sorted(at))
        self.assertEqual(last.role, "guide")

    def test_a_pre_rigged_party(self):
        data = descent_of("doubled", [person(0, "guide"), person(1, "novice"), person(2, "novice")], "ledge", 1)
        play = run(data)
        do = told(play, 0)
        self.assertEqual([b.by for b in play.scene.stages[0].backups], ["third hand", "stacked", "stacked"])
        goes = do.index(("p0", "descend", ""))
        for guest in ("p1", "p2"):
            for act in ((guest, "load device", "r1:a,r1:b"), (guest, "test", ""), ("p0", "check", guest)):
                self.assertLess(do.index(act), goes)
            belay = do.index(("p0", "take fireman's belay", guest))
            self.assertLess(goes, belay)
            self.assertLess(belay, do.index((guest, "unclip tether", "")))
        while_down = play.stations[0].states[goes]
        self.assertIn(frozenset({"weight.p0"}), [p & {"weight.p0"} for p in paths(play.scene, while_down, "p1")])
        self.assertEqual([h.seen.code for h in play.hazards], ["rehearse.group"])
        self.assertEqual(play.hazards[0].seen.severity, "Caution", "nothing else can be done with one able person")
        stowed = backed(data, "stacked", ["p1", "p2"], stowed=True)
        self.assertEqual({h.seen.code for h in run(stowed).hazards}, {"rehearse.group", "rehearse.hand"})

    def test_an_ice_threads_backup_stays_for_all_but_the_last(self):
        data = iced(backed_up="to the rope")
        data["party"] = party(3)
        play = run(data)
        do = told(play, 0)
        self.assertLess(do.index(("p2", "descend", "")), do.index(("p0", "take out", "backup screw")))
        self.assertLess(do.index(("p0", "test", "")), do.index(("p0", "take out", "backup screw")))
        self.assertNotIn("put in", [d for _, d, _ in told(run({**iced(backed_up="no"), "party": party(3)}), 0)])

    def test_a_single_pitch_lowered_from_its_top_both_ways(self):
        """The rope is never left: common practice, no source; a bight fits where 2 d is not more than the opening."""
        for way, opening, want in (
            ("bight through", 40, ["pass the bight through", "tie in to the bight", "untie the end"]),
            ("end re-tied", 16, ["tie in to the bight", "untie the end", "pass the end through", "tie the end again"]),
            ("bight through", 17.9, ["tie in to the bight", "untie the end", "pass the end through"]),
        ):
            data = descent_of("lowered", party(2), "ground", 1)
            states = data["drops"][0]["station"]["states"]
            system = {**LOWERED, "belayer": "below", "top": way}
            states[:] = [{**states[0], "serves": "all", "system": system}]
            data["shed"]["rings"][0]["opening_mm"] = known(opening)
            play = run(data)
            do = [d for _, d, _ in told(play, 0)]
            at = [do.index(d) for d in want]
            self.assertEqual(at, sorted(at))
            self.assertEqual([h.seen.code for h in play.hazards], [])
            self.assertGreaterEqual(
                min(independent(paths(play.scene, w, "p0")) for w in play.stations[0].states[:-8]), 2
            )
            codes = {f.code for d in assess(read_plan(data)).drops for f in d.findings}
            self.assertNotIn("release.convert", codes, "nobody is left up there")
            agrees(self, play)
            skipped = run(edits(data, {"kind": "drop", "act": "d1:p0:clip tether:master"}))
            self.assertIn("rehearse.hand", {h.seen.code for h in skipped.hazards})


class Hazards(unittest.TestCase):
    def test_each_is_found_and_its_twin_without_the_mistake_has_none(self):
        """The list of what a guide must be stopped from planning: common practice, no source."""
        clean = {system: run(descent_of(system, party(3))) for system in SYSTEMS}
        for system, play in clean.items():
            self.assertEqual([h.seen.code for h in play.hazards], [], system)
        for code, (_, data) in THROUGH.items():
            if code.startswith("rehearse.") and any("edits" in d["station"].get("through", {}) for d in data["drops"]):
                twin = {**data, "drops": [{**d, "station": {**d["station"], "through": {}}} for d in data["drops"]]}
                with self.subTest(code):
                    self.assertNotIn(code, {h.seen.code for h in run(twin).hazards})

    def test_from_where_it_begins_to_where_it_ends(self):
        data = without(descent_of("doubled", party(3)), "d1:p1:test:")
        play = run(data)
        (h,) = play.hazards
        k, n = play.place(h.begin)
        self.assertEqual((k, play.stations[0].acts[n].key), (0, "d1:p1:unclip tether:"))
        self.assertEqual(play.stations[0].acts[play.place(h.end)[1]].key, "d1:p1:arrive:")

    def test_taking_out_the_act_that_closes_the_system_adds_an_open_end_and_nothing_else(self):
        for system in ("doubled", "joined", "blocked", "pull cord", "elastic", "bights"):
            for landing in ("ledge", "hanging stance"):
                data = descent_of(system, party(2), landing, 1)
                play = run(data)
                key = next(a.key for a in play.stations[0].acts if a.do == "tie" and a.what.startswith("stopper"))
                opened = run(without(data, key))
                self.assertEqual({h.seen.code for h in opened.hazards}, {"rehearse.end"}, (system, landing))
                back = run(edits(data))
                self.assertEqual(back.stations[0].states, play.stations[0].states)

    def test_that_worse_input_never_makes_milder(self):
        """On top of each other: what was a shortfall or not known does not fall silent over something worse."""
        of_the_backup = {key: {"rehearse.hitch", "hitch.unknown"} for key in ("hitch", "loops", "role")}
        turn = itertools.cycle(itertools.product(SYSTEMS, LANDINGS))
        for (one, other), (system, landing) in zip(
            itertools.islice(itertools.permutations(WORSE, 2), 0, None, 3), turn, strict=False
        ):
            if one[-2:] == other[-2:]:
                continue
            with self.subTest(system=system, landing=landing, one=one, other=other):
                data = descent_of(system, party(3), landing, 2)
                put(data, one)
                before = self.bad(data)
                put(data, other)
                after = self.bad(data)
                if "rehearse.none" in after:
                    continue
                # Another backup is proposed where a hitch is gone; nothing is said of a hand on a rope that falls.
                gone = set(of_the_backup.get(str(other[-2]), ()))
                gone |= {"rehearse.hitch"} if "rehearse.strand" in after else set()
                gone |= {"rehearse.hitch", "hitch.unknown"} if after & {"rehearse.hitch", "hitch.unknown"} else set()
                gone |= (
                    {"rehearse.strand", "rehearse.doubt", "rehearse.untested"} if other[-2] == "opening_mm" else set()
                )
                self.assertLessEqual(before - gone, after)
                if other[-2] == "opening_mm" and "blocked" in str(data["drops"][0]["station"]["states"][0]["system"]):
                    self.assertTrue(after & {"rehearse.strand", "rehearse.doubt"})

    @staticmethod
    def bad(data):
        got = rehearsal(context(read_plan(data)), run(data), mend=False)
        every = [*got.findings, *got.hazards]
        return {x.code for x in every if x.severity in ("Shortfall", "Not checked")}

    def test_an_edge_decides_whether_a_cut_strand_is_accepted(self):
        for edge, accepted in (("rounded", True), ("coarse", True), ("sharp", False), ("unknown", False)):
            data = descent_of("doubled", party(2))
            data["drops"][0]["section"]["edge"] = edge
            play = run(data)
            cut = [
                o
                for _, a, w in every_state(play)
                if a.do == "descend" and a.k == 0
                for f in faults(play.scene, w)
                if f.key.startswith("rope.")
                for o in f.outcomes
            ]
            self.assertEqual({(o.happens, o.accepted) for o in cut}, {("falls", accepted)})

    def test_what_a_fault_does(self):
        data = descent_of("blocked", party(3), "hanging stance", 2)
        play = run(data)
        n = next(i for i, a in enumerate(play.stations[0].acts) if a.key == "d1:p1:descend:")
        ctx = context(play.scene.plan)
        fault = what_if(ctx, play, 0, n, "hand.p1")
        self.assertEqual([o.happens for o in fault.outcomes], ["held"])
        self.assertIn("third hand", words(fault.outcomes[0].story))
        state = state_of(ctx, play, 0, n)
        self.assertIn("hitch.p1", [f.key for f in state.faults])
        block = next(f for f in state.accepted if f.key == "block.0")
        # Under a hanging stance the next drop is added: two of 15 m and their errors.
        self.assertGreater(block.worst.high.value, 30)
        self.assertEqual(next(f for f in state.faults if f.key == "faint.p1").worst.happens, "stranded")
        self.assertIsNone(what_if(ctx, play, 0, n, "nothing"))
        matrix = matrix_of(ctx, play, 0)
        self.assertEqual((len(matrix.worst), matrix.people), (len(play.stations[0].acts), ("p0", "p1", "p2")))


def drop(*keys):
    return [{"kind": "drop", "act": k} for k in keys]


def add(do, who, what="", after="", name="x"):
    return {"kind": "add", "id": name, "after": after, "do": do, "who": who, "what": what}


def move(act, after):
    return {"kind": "move", "act": act, "after": after}


class Fooled(unittest.TestCase):
    """Changes of the acts that somebody would be hurt by, each of which must be said, and where it begins."""

    def found(self, data, *made):
        play = run(edits(data, *made))
        acts = [a.key for p in play.stations for a in p.acts]
        return {(h.seen.code, acts[h.begin]) for h in play.hazards}

    def test_on_the_way_onto_the_rope(self):
        on = "d1:p1:load device:r1:a,r1:b"
        for what, made, code, at in (
            ("one strand of two", [*drop(on), add("load device", "p1", "r1:a", "d1:p1:go to the edge:")], "strand", ""),
            ("no device at all", drop(on, "d1:p1:tie third hand:"), "unclipped", "d1:p1:unclip tether:"),
            ("no third hand", drop("d1:p1:tie third hand:"), "hand", "d1:p1:unclip tether:"),
            ("hand off before the edge", [add("hand off the brake", "p1", "", "d1:p1:unclip tether:")], "", ""),
            ("not loaded", drop("d1:p0:load tether:"), "untested", "d1:p0:go to the edge:"),
            ("nobody said the edge", drop("d1:p0:clip tether:master", "d1:p0:go to the edge:"), "unclipped", ""),
            (
                "hitch on one strand",
                [*drop("d1:p1:tie third hand:"), add("tie third hand", "p1", "r1:a", on)],
                "untested",
                "",
            ),
        ):
            with self.subTest(what):
                got = self.found(descent_of("doubled", party(3)), *made)
                if not code:
                    self.assertEqual(got, set(), "the third hand stops the device: two paths are left")
                    continue
                self.assertIn(f"rehearse.{code}", {c for c, _ in got}, got)
                if at:
                    self.assertIn((f"rehearse.{code}", at), got)

    def test_a_belay_from_below_by_somebody_who_is_busy_or_gone(self):
        for made in (
            [add("pull up the end", "p1", "r1:b", "d1:p2:descend:")],
            [move("d1:p1:leave fireman's belay:", "d1:p2:unclip tether:")],
            drop("d1:p1:take fireman's belay:p2"),
        ):
            got = self.found(descent_of("doubled", party(3)), *made)
            self.assertIn("rehearse.hand", {c for c, _ in got}, made)

    def test_a_tie_off_that_is_unlocked_under_a_rider(self):
        data = descent_of("releasable", party(3))
        got = self.found(data, add("unlock the tie-off", "p0", "", "d1:p1:unclip tether:"))
        self.assertIn(("rehearse.hand", "own:x"), got)
        got = self.found(
            data, add("unlock the tie-off", "p0", "", "d1:p1:unclip tether:"), *drop("d1:p0:attend the reserve:")
        )
        self.assertIn("rehearse.strand", {c for c, _ in got}, "nothing holds it then")

    def test_a_belayer_without_a_second_hand(self):
        data = descent_of("lowered", party(3))
        got = self.found(data, *drop("d1:p0:put in:belayer's hitch"))
        self.assertIn(("rehearse.hand", "d1:p1:unclip tether:"), got)

    def test_at_a_hanging_stance(self):
        data = descent_of("doubled", party(2), "hanging stance", 2)
        clip, load = "d1:p1:clip tether:master", "d1:p1:load tether:"
        got = self.found(data, *drop(f"{clip}#2", f"{load}#2"))
        self.assertIn("rehearse.unclipped", {c for c, _ in got})
        got = self.found(
            data, move("d1:p1:take off device:", "d1:p1:arrive:"), move(f"{clip}#2", "d1:p1:call:off rope")
        )
        self.assertIn("rehearse.hand", {c for c, _ in got}, "the device comes off with only the third hand left")

    def test_when_the_rope_is_pulled(self):
        data = descent_of("joined", party(3))
        for what, made, code in (
            ("with somebody still above", drop("d1:p2:descend:"), "pull"),
            ("by the wrong strand", [*drop("d1:p1:pull:r2:b"), add("pull", "p1", "r1:b", "d1::hold clear:")], "pull"),
            ("and nobody said which", drop("d1:p0:call:pull r2:b", "d1:p1:test-pull:"), "pull"),
            (
                "by one hand",
                [
                    *drop("d1:p1:secure the rope:clipped"),
                    add("secure the rope", "p1", "in hand", "d1:p0:call:off rope"),
                ],
                "dropped",
            ),
            (
                "under a rider",
                [
                    move("d1:p1:untie:stopper r1:b", "d1:p0:descend:"),
                    move("d1:p1:pull:r2:b", "d1:p1:untie:stopper r1:b"),
                ],
                "strand",
            ),
        ):
            with self.subTest(what):
                got = self.found(data, *made)
                self.assertIn(f"rehearse.{code}", {c for c, _ in got}, got)

    def test_whoever_is_not_in_the_party(self):
        data = descent_of("doubled", party(3))
        for through in ({"order": ["gone", "p1", "p2", "p0"]}, {"backups": [{"who": "gone", "by": "none"}]}):
            for d in data["drops"]:
                d["station"] = {**d["station"], "through": through}
            got = rehearsal(context(read_plan(data)), run(data))
            self.assertIn("rehearse.draft", {f.code for f in got.findings})

    def test_how_many_fit_at_a_hanging_stance(self):
        data = descent_of("doubled", party(3), "hanging stance")
        codes = [(f.code, f.severity) for f in rehearsal(context(read_plan(data)), run(data)).findings]
        self.assertEqual(codes, [("rehearse.full", "Not checked")])
        for d in data["drops"]:
            d["landing"] = {**d["landing"], "room": known(3)}
        self.assertEqual(rehearsal(context(read_plan(data)), run(data)).findings, ())


class Changes(unittest.TestCase):
    @law(15)
    @given(st.data())
    def test_any_change_of_the_acts_is_judged_or_refused_and_taken_back_leaves_no_trace(self, draw):
        system, landing = draw.draw(st.sampled_from(list(SYSTEMS))), draw.draw(st.sampled_from(LANDINGS))
        data = descent_of(system, party(draw.draw(st.sampled_from([1, 2, 3]))), landing)
        play = run(data)
        keys = [a.key for a in play.stations[0].acts]
        people = [p["id"] for p in data["party"]]
        key = st.sampled_from([*keys, "", "d1:nobody"])
        what = st.sampled_from(["", "master", "backup", "r1:a", "r1:b", "stopper r1:b", "block", "p0", "gone", "over"])
        change = st.one_of(
            st.fixed_dictionaries({"kind": st.just("drop"), "act": key}),
            st.fixed_dictionaries({"kind": st.just("move"), "act": key, "after": key}),
            st.fixed_dictionaries(
                {
                    "kind": st.just("add"),
                    "id": st.uuids().map(str),
                    "after": key,
                    "do": st.sampled_from(sorted(SAID)),
                    "who": st.sampled_from([*people, ""]),
                    "what": what,
                }
            ),
        )
        made = edits(data, *draw.draw(st.lists(change, max_size=5)))
        changed = run(made)
        for p in changed.stations:
            self.assertEqual(len(p.acts), len(p.states))
        agrees(self, changed)
        for _, _, world in every_state(changed):
            for r, now in world.ropes.items():
                self.assertAlmostEqual(math.fsum(now.pieces_m), changed.scene.lengths[r], 6)
        plan, had = read_plan(made), {h.seen.key for h in changed.hazards}
        rehearsal(context(plan), changed, mend=False)
        reached = sum(p.barred is None for p in changed.stations)
        for h in changed.hazards[:2]:
            for fix in fixes(changed, h):
                after = run_of(apply(plan, fix.edits))
                now_ = {x.seen.key for x in after.hazards if after.place(x.begin)[0] < reached}
                self.assertNotIn(h.seen.key, now_, words(fix.label))
                self.assertLessEqual(now_, had, words(fix.label))
        self.assertEqual(run(edits(made)).stations[0].states, play.stations[0].states)

    @law(15)
    @given(st.randoms())
    def test_no_permutation_raises(self, random):
        data = descent_of("releasable", party(3), "hanging stance", 1)
        keys = [a.key for a in run(data).stations[0].acts]
        moved = [{"kind": "move", "act": k, "after": random.choice(keys)} for k in random.sample(keys, 12)]
        play = run(edits(data, *moved))
        agrees(self, play)
        ctx = context(play.scene.plan)
        for step in station_run(ctx, play, 0).steps:
            words(step.words)

    def test_impossible_orders_stay_as_drafts_with_a_reason(self):
        def why(*made):
            play = run(edits(descent_of("doubled", party(3)), *made))
            return [words(w) for w in play.stations[0].refused if w is not None]

        def add(do: ActName, who: str, what: str = "", after: str = "d1:p0:throw the rope:"):
            return {"kind": "add", "id": "x", "after": after, "do": do, "who": who, "what": what}

        self.assertIn("Ada’s tether is still in.", why({**add("descend", "p0"), "id": "y"}, add("load device", "p0")))
        self.assertEqual(why(add("load device", "p1", "r9:a")), ["That strand does not hang at the station."])
        self.assertEqual(why(add("arrive", "p2")), ["Cleo is not on the rope."])
        self.assertEqual(why(add("pull", "p0")), ["Ada has not come down yet."])
        self.assertEqual(why(add("test", "p2")), ["It is tested with the tether still in, and Cleo’s is not."])
        two = [
            add("load device", "p1", "", "d1:p1:clip tether:master"),
            {**add("clip passenger", "p2", "p1"), "id": "y"},
        ]
        self.assertTrue(why(*two, {**add("clip passenger", "p0", "p1"), "id": "z"}))
        self.assertEqual(why({**add("thread", "p1", "r1:a", "d1:p1:call:off rope")}), ["Bo is not at the station."])
        gone = run(edits(descent_of("doubled", party(2)), {"kind": "reword", "act": "d1:x", "words": "Now!"}))
        self.assertEqual(len(gone.stations[0].drafts), 1)
        said = run(
            edits(descent_of("doubled", party(2)), {"kind": "reword", "act": "d1:p0:call:rope", "words": "Now!"})
        )
        steps = station_run(context(said.scene.plan), said, 0).steps
        self.assertIn("Now!", [words(s.words) for s in steps if s.own])

    def test_a_rope_that_sticks_ends_the_rehearsal_there(self):
        play = run(without(descent_of("releasable", party(3), "ledge", 3), "d1:p0:convert:"))
        self.assertEqual([p.barred is None for p in play.stations], [True, False, False])
        got = rehearsal(context(play.scene.plan), play)
        self.assertEqual([f.drops for f in got.findings if f.code == "rehearse.none"], [("d2", "d3")])

    @law(12)
    @given(plans())
    def test_whatever_a_guide_enters_can_be_gone_through(self, data):
        plan = read_plan(data)
        play = run_of(plan)
        got = rehearsal(context(plan), play)
        for f in got.findings:
            for sentence in (f.title, f.reason, *([f.fix.label] if f.fix else [])):
                self.assertNotRegex(words(sentence), r"[{}]|None|nan")
        agrees(self, play)


class People(unittest.TestCase):
    def test_a_third_hands_reach(self):
        """[ℓ − nπ(D + d_c)]/2 and ℓ − nπ(D + d_c), D = 1.64 d of two strands: our judgement; a band round two circles
        that touch is (2π + 4)/2π of the band round one: plane geometry. 60 cm loops suit, 50 cm works, 30 cm is too
        short to wrap: common practice, no source."""
        self.assertAlmostEqual(width_mm((9, 9)) / 9, (2 * math.pi + 4) / (2 * math.pi), 2)
        want = (0.60 - 4 * math.pi * (0.01476 + 0.006)) / 2
        self.assertAlmostEqual(hitch_reach_m("autoblock", 0.60, 4, 14.76, 6), want, 9)
        self.assertAlmostEqual(hitch_reach_m("klemheist", 0.60, 4, 14.76, 6), 2 * want, 9)
        stands = []
        for laid in (0.6, 0.5, 0.3):
            data = descent_of("doubled", party(1))
            data["shed"]["loops"][0]["length_m"] = known(laid)
            plan = read_plan(data)
            ropes = tuple(context(plan).ropes[i] for i in ("r1", "r1"))
            stands.append(gripped(context(plan), plan.party[0], ropes, _book()).stand)
        self.assertEqual(stands, ["fits", "fits", "too short"])

    @law(60)
    @given(st.floats(0.35, 1.2), st.integers(3, 7), st.floats(6, 11), st.floats(0.05, 0.9))
    def test_more_wraps_bring_it_lower_and_one_strand_reaches_further(self, laid, wraps, d, device):
        def clear(n, strands):
            who = person(0, "guide", hitch=third(wraps=known(n)), attachment={"device_m": known(device)})
            data = descent_of("doubled", [who])
            data["shed"]["ropes"][0] = rope(diameter=d)
            data["shed"]["loops"][0]["length_m"] = known(laid)
            plan = read_plan(data)
            ropes = tuple(context(plan).ropes["r1"] for _ in range(strands))
            return gripped(context(plan), plan.party[0], ropes, _book())

        a, more, one = clear(wraps, 2), clear(wraps + 1, 2), clear(wraps, 1)
        self.assertGreaterEqual(more.clear.value, a.clear.value - 1e-9)
        self.assertLessEqual(one.clear.value, a.clear.value + 1e-9)
        self.assertEqual(a.stand == "reaches", a.clear.value < 0.05 and a.reach.value > 0)
        if a.wraps is not None:
            self.assertEqual(clear(a.wraps, 2).stand, "fits")

    @law(60)
    @given(st.lists(st.sampled_from(["guide", "second guide", "able", "novice"]), min_size=1, max_size=8))
    def test_able_first_novices_between_able_last(self, roles):
        plan = read_plan(descent_of("doubled", [person(i, r) for i, r in enumerate(roles)]))
        order = proposed_order(plan.party)
        self.assertEqual(sorted(p.id for p in order), sorted(p.id for p in plan.party))
        able = [p.role != "novice" for p in order]
        if sum(able) >= 2:
            self.assertTrue(able[0] and able[-1])
            self.assertNotIn("rehearse.group", {h.seen.code for h in run_of(plan).hazards})
        elif any(able):
            self.assertTrue(able[0])

    def test_every_backup_is_compared_and_what_cannot_be_had_says_why(self):
        plan = read_plan(descent_of("doubled", party(3)))
        ctx = context(plan)
        first, middle, last = (compare_backups(ctx, plan.drops[0], i) for i in ("p1", "p2", "p0"))
        self.assertEqual([o.by for o in middle], list(KINDS))
        can = {o.by for o in middle if o.why_not is None}
        self.assertEqual(
            can, {"third hand", "fireman's belay", "top line", "stacked", "stacked, isolating clove", "tandem", "none"}
        )
        self.assertIn("fireman's belay", {o.by for o in first if o.why_not})
        self.assertIn("top line", {o.by for o in last if o.why_not})
        # The rope of a traverse line hangs across: nobody is held on it.
        data = descent_of("doubled", party(3))
        data["shed"]["ropes"], data["carry"] = data["shed"]["ropes"][:2], {"ropes": ["r1", "r2"]}
        for line, why in ((None, None), ({**TRAVERSE, "rope": "r2"}, "a rope")):
            data["drops"][0]["station"]["traverse"] = line
            held = read_plan(data)
            option = next(o for o in compare_backups(context(held), held.drops[0], "p1") if o.by == "top line")
            self.assertEqual(option.why_not is None, why is None, line)
        refused = backed(descent_of("doubled", party(3)), "lowered", ["p2"])
        got = rehearsal(context(read_plan(refused)), run(refused))
        self.assertIn("Cleo cannot be backed up as chosen", [words(f.title) for f in got.findings])

    def test_two_on_one_device_load_the_path_as_two(self):
        heavy = [person(i, r, mass_kg=known(120)) for i, r in enumerate(("guide", "able", "novice"))]
        alone = assess(read_plan(descent_of("doubled", heavy)))
        tandem = assess(read_plan(backed(descent_of("doubled", heavy), "tandem", ["p2"])))
        a, b = (x.drops[0].parts[0].demand.value for x in (alone, tandem))
        self.assertGreater(b, a)

    def test_novices_are_backed_up_as_the_plan_chooses(self):
        for want in ("fireman's belay", "third hand", "top line"):
            plan = read_plan({**descent_of("doubled", party(3)), "policies": {"novices": want}})
            self.assertEqual(backups_of(context(plan), plan.drops[0])[1].by, want)


def _book():
    from reamer.core.answer.working import Book

    return Book(keeps=False)


class Figures(unittest.TestCase):
    def test_an_attachment_is_drawn_to_scale(self):
        """Heights of device and third hand are to one another as what was computed, whatever is known."""
        data = descent_of("doubled", party(1))
        for device, stand in ((0.5, "fits"), (0.1, "reaches"), (None, "unknown")):
            figure = known(device) if device is not None else unknown("?")
            data["party"][0]["attachment"]["device_m"] = figure
            play = run(data)
            grip = play.scene.stages[0].grips["p0"][0]
            self.assertEqual(grip.stand, stand)
            svg = attachment(play.scene.plan.party[0], grip, "<One> & only")
            root = ET.fromstring(svg)
            self.assertTrue(png(svg).startswith(b"\x89PNG"))
            boxes = [b for b in root.iter() if b.tag.endswith("rect")]
            if device is None:
                self.assertIn("Not checked", svg)
                continue
            zero = float(boxes[1].get("y")) + 8
            edge, top = float(boxes[2].get("y")) + 34, float(boxes[3].get("y"))
            self.assertAlmostEqual((zero - top) / (zero - edge), grip.top.value / grip.device.value, 2)


class Carried(unittest.TestCase):
    def test_loops_are_carried_once_a_person(self):
        data = descent_of("doubled", party(3))
        data["shed"]["loops"][0]["mass_kg"] = known(0.05)
        items = assess(read_plan(data)).descent.kit.items
        (loop,) = [i for i in items if i.kind == "loop"]
        self.assertEqual((loop.name, round(loop.kg.value, 3)), ("3 × 60 cm loop", 0.15))


class Demos(unittest.TestCase):
    # The planted mistakes: which hazard, and the act at which it begins.
    PLANTED = {
        canyon: [
            ("rehearse.group", "d1:g1:descend:"),
            ("rehearse.strand", "d3:g3:unclip tether:"),
            ("rehearse.left", "d6:lead:descend:"),
        ],
        buttress: [
            ("rehearse.untested", "d1:c1:unclip tether:"),
            ("rehearse.end", "d1:c1:untie:stopper rope-teal:b"),
            ("rehearse.dropped", "d3:c1:pull through:"),
            ("rehearse.pull", "d4:c1:pull through:"),
        ],
        gully: [("rehearse.hitch", "d1:c1:unclip tether:"), ("rehearse.left", "d2:lead:descend:")],
    }

    def test_each_planted_mistake_is_found_at_its_act(self):
        for demo, want in self.PLANTED.items():
            plan = demo()
            play = run_of(plan)
            found = [
                (h.seen.code, play.stations[play.place(h.begin)[0]].acts[play.place(h.begin)[1]].key)
                for h in play.hazards
            ]
            for one in want:
                self.assertIn(one[0], [c for c, _ in found])
                self.assertIn(one, found, [f for f in found if f[0] == one[0]])

    def test_after_the_fixes_there_is_none(self):
        for name, demo in DEMOS.items():
            plan, mended = demo(), 0
            for _ in range(12):
                got = rehearsal(context(plan), run_of(plan))
                todo = [h for h in got.hazards if not h.said]
                if not todo:
                    break
                self.assertTrue(todo[0].fixes, words(todo[0].title))
                plan, mended = apply(plan, todo[0].fixes[0].edits), mended + 1
            self.assertGreaterEqual(mended, 3, name)
            self.assertEqual([f.code for f in got.findings if f.severity == "Shortfall"], [])


if __name__ == "__main__":
    unittest.main()
