"""Whatever a guide enters, known or not: every answer is given, every sentence can be said, and unknown never passes as
good."""

import json
import unittest

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.context import context
from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.plan.edits import apply
from reamer.core.reading import read_plan
from reamer.core.station.comparison import compare_systems
from reamer.core.station.drop import pull_curve
from reamer.core.station.undecided import DECIDES
from reamer.formats.report import report
from tests import law
from tests.builders import (
    anchored,
    capacity,
    ice,
    known,
    mass,
    plan_of,
    post,
    quick,
    rated,
    rope,
    several,
    unknown,
    wrap,
)
from tests.builders import leg as leg_to
from tests.core.test_assess import Workings

ENDS, TRI = st.sampled_from("ab"), st.sampled_from(["yes", "no", "unknown"])
LANDINGS = st.sampled_from(["ledge", "ground", "pool", "wading", "moving water", "hanging stance", "unknown"])


def figures(low, high, method="tape"):
    """A figure in a range, now and then unknown."""
    return st.one_of(st.floats(low, high).map(lambda v: known(round(v, 3), method)), st.just(unknown("nobody knows")))


def counts(low, high):
    return st.one_of(st.integers(low, high).map(lambda n: known(n)), st.just(unknown("nobody knows")))


def capacities(low=2, high=30):
    return st.one_of(
        st.tuples(st.floats(low, high), st.floats(0, 10)).map(lambda t: capacity(t[0], t[0] + t[1], "tested")),
        st.just(unknown("not tested")),
    )


@st.composite
def systems(draw):
    """Any rope system of three ropes and a cord, in or out of the shed, well rigged or not."""
    one, other = draw(st.permutations(["r1", "r2", "r3", "c1", "gone"]))[:2]
    stoppers = [{"rope": one, "end": e} for e in "ab" if draw(st.booleans())]
    join = {
        "knot": draw(st.sampled_from(["flat overhand", "flat overhand, second behind", "opposed overhand"])),
        "tails_m": draw(figures(0.05, 1)),
        "slips_kn": draw(capacities(0.01, 5)),
    }
    block = {
        "block": draw(st.sampled_from(["figure eight", "overhand", "butterfly", "clove hitch", "stone hitch"])),
        "block_on": draw(st.sampled_from(["pull", "pull", "ride"])),
        "carabiner": draw(st.booleans()),
        "block_holds": draw(capacities()),
    }
    ridden = {"rope": one, "ridden_end": draw(ENDS), "stoppers": stoppers}
    tied = {
        "tied_on": draw(
            st.sampled_from(
                [
                    None,
                    None,
                    {
                        "rope": other,
                        "end": draw(ENDS),
                        "knot": join["knot"],
                        "tails_m": join["tails_m"],
                        "slips_kn": join["slips_kn"],
                    },
                ]
            )
        )
    }
    return draw(
        st.sampled_from(
            [
                {"kind": "none"},
                {
                    "kind": "doubled",
                    "rope": one,
                    "middle_by": draw(st.sampled_from(["mark", "ends run together"])),
                    "pulled_end": draw(ENDS),
                    "stoppers": stoppers,
                },
                {
                    "kind": "joined",
                    "through": one,
                    "through_end": draw(ENDS),
                    "other": other,
                    "other_end": draw(ENDS),
                    "pulled": draw(st.sampled_from(["other", "through"])),
                    "stoppers": stoppers,
                    **join,
                },
                {"kind": "blocked, same rope", **ridden, **tied, **block, "ride_m": draw(figures(1, 60))},
                {
                    "kind": "blocked, pull cord",
                    **ridden,
                    **tied,
                    **block,
                    **join,
                    "cord": draw(st.sampled_from(["c1", other])),
                    "cord_end": draw(ENDS),
                },
                {
                    "kind": "releasable",
                    **ridden,
                    **tied,
                    "ride_m": draw(figures(1, 60)),
                    "tie_off": draw(st.sampled_from(["munter-mule-overhand", "figure-eight device mule"])),
                    "reserve_rope": draw(st.sampled_from([None, other])),
                },
                {"kind": "elastic-release device", **ridden, "device": draw(st.sampled_from(["eight", "gone"]))},
                {
                    "kind": "alternating bights",
                    **ridden,
                    "other": draw(st.sampled_from([None, other])),
                    "other_end": draw(ENDS),
                    "middle_by": draw(st.sampled_from(["mark", "ends run together"])),
                    "bights": draw(counts(1, 12)),
                    "last_on": draw(st.sampled_from(["pull", "ride"])),
                    "last_m": draw(figures(0.1, 1)),
                    "clipped": draw(st.booleans()),
                    "block_holds": draw(capacities()),
                },
                {
                    "kind": "lowered",
                    "rope": one,
                    "end": draw(ENDS),
                    "belayer": draw(st.sampled_from(["above", "below"])),
                    "far_end_closed": draw(st.booleans()),
                },
            ]
        )
    )


@st.composite
def ropes(draw):
    made = []
    for rope_id in ("r1", "r2", "r3", "c1"):
        length = draw(figures(1, 90))
        damage = (
            [
                {
                    "at_m": draw(figures(0, length["value"] if length["kind"] == "known" else 60)),
                    "takes_m": draw(figures(0, 2)),
                    "use": draw(st.sampled_from(["knot passed", "longest sound piece"])),
                }
            ]
            if draw(st.integers(0, 3)) == 0
            else []
        )
        made.append(
            rope(
                rope_id,
                kind=(
                    "pull cord"
                    if rope_id == "c1"
                    else draw(st.sampled_from(["low-stretch", "dynamic single", "dynamic half", "dynamic twin"]))
                ),
                nominal_m=draw(figures(1, 90)) if length["kind"] == "known" else unknown("?"),
                measured_m=length,
                diameter_mm=draw(figures(5, 12)),
                strength_kn=draw(capacities()),
                elongation_pct=draw(figures(1, 10)),
                fibre=draw(st.sampled_from(["nylon", "polyester", "HMPE", "aramid", "polypropylene", "unknown"])),
                wet_since_measured=draw(TRI),
                middle_mark=draw(st.booleans()),
                middle_off_m=draw(figures(0, 1)),
                damage=damage,
            )
        )
    return made


@st.composite
def anchors(draw):
    """A rig of any kind and its features."""
    trunk = {
        **post("pine", "tree", 1.2, 12, 20, "judged"),
        "girth_m": draw(figures(0.2, 4)),
        "holds": draw(st.one_of(capacities(), st.just(mass(depth_m=unknown("?"))), st.just(mass()))),
        "sound": draw(TRI),
    }
    tie = draw(
        st.sampled_from(
            [
                "simple wrap",
                "frost knot",
                "basket",
                "girth hitch",
                "threaded eye",
                "re-threaded overhand",
                "redundant basket",
            ]
        )
    )
    kind = draw(st.sampled_from(["none", "wrap", "round", "rated", "textile", "ice", "several"]))
    if kind == "none":
        return {"kind": "none"}, [trunk]
    if kind == "wrap":
        return {**wrap(0.6), "pattern": tie, "gain_m": draw(figures(0.05, 6)), "extension_m": draw(figures(0.1, 2))}, [
            trunk
        ]
    if kind == "round":
        return {"kind": "direct", "anchor": "post", "ring": None, "gain_m": known(0.1)}, [trunk]
    if kind == "rated":
        return {
            "kind": "direct",
            "anchor": "a",
            "ring": draw(st.sampled_from(["ring-steel", "link-8", "gone"])),
            "gain_m": draw(figures(0.05, 3)),
        }, [rated("a")]
    if kind == "textile":
        return {"kind": "direct", "anchor": "a", "ring": None, "gain_m": known(0.2)}, [
            {**rated("a"), "what": "textile", "in_place": draw(TRI), "good_strands": draw(counts(0, 5))}
        ]
    if kind == "ice":
        return {"kind": "direct", "anchor": "post", "ring": None, "gain_m": known(0.1)}, [
            ice(cord=draw(st.sampled_from([None, "c1", "gone"])))
        ]
    return several(
        leg_to("a", 0, 0.2),
        leg_to("b", 0, -0.2),
        *(
            [leg_to("c", draw(st.floats(-0.5, 0.5)), draw(st.floats(-0.3, 0.3)), draw(st.floats(0, 1)))]
            if draw(st.booleans())
            else []
        ),
        focal=draw(st.sampled_from(["knotted", "clipped", "sliding", "limited"])),
        slack_m=draw(figures(0, 0.3)),
    ), [rated("a"), rated("b"), rated("c")]


@st.composite
def plans(draw):
    rig, features = draw(anchors())
    section = {
        **quick(2, 0.2, 15, "tape", "rounded"),
        "setback_m": draw(figures(0, 8)),
        "height_m": draw(figures(2, 50)),
        "edge": draw(st.sampled_from(["rounded", "coarse", "sharp", "unknown"])),
        "padded": draw(st.booleans()),
    }
    data = anchored(
        rig,
        *features,
        system=draw(systems()),
        section=section,
        landing=draw(LANDINGS),
        ropes=draw(ropes()),
        mass=draw(st.sampled_from([None, 60.0, 110.0])),
        wet=draw(TRI),
    )
    drop = data["drops"][0]
    drop["landing"].update(
        aside_m=draw(st.one_of(st.just(known(0, "eye")), figures(0, 20))), next_m=draw(figures(0, 3))
    )
    drop.update(cracks=draw(TRI), rock=draw(st.sampled_from(["smooth", "coarse", "unknown"])))
    station = drop["station"]
    station["strands_hang"] = draw(st.sampled_from(["side by side", "one behind", "unknown"]))
    if draw(st.booleans()):
        station["deviations"] = [
            {
                "id": "d",
                "name": "deviation",
                "below_m": draw(figures(0, 60)),
                "turn_deg": draw(figures(0, 150)),
                "holds": draw(capacities()),
                "left_in": draw(st.booleans()),
                "hung": draw(st.sampled_from(["unknown", "straight", "sling"])),
                "sling": draw(st.sampled_from([None, "sling-120", "gone"])),
                "ring": draw(st.sampled_from([None, "ring-steel", "gone"])),
                "by": draw(st.sampled_from([None, "p1", "gone"])),
            }
        ]
    if draw(st.booleans()):
        station["traverse"] = {
            "rope": draw(st.sampled_from(["r1", "gone"])),
            "span_m": draw(figures(1, 40)),
            "sag_m": draw(figures(0.1, 4)),
            "near": draw(capacities()),
            "far": draw(capacities()),
        }
    state = station["states"][0]
    state["pulled_lies"] = draw(st.sampled_from(["left", "right", "against the rock", "outside", "unknown"]))
    if draw(st.booleans()):
        station["states"] = [
            {**state, "serves": "party"},
            {**state, "id": "last", "serves": "last", "system": draw(systems())},
        ]
    data["policies"].update(
        ends=draw(st.sampled_from(["always", "unless seen down"])),
        releasable=draw(st.sampled_from(["always", "for novices"])),
        strands=draw(st.sampled_from(["doubled", "single"])),
    )
    return data


def worse(draw, data):
    """The plan one step worse, and what that was; None where there is no such step here."""
    data = json.loads(json.dumps(data))
    drop = data["drops"][0]
    station = drop["station"]
    one = data["shed"]["ropes"][0]

    def lower(holds, by):
        return capacity(holds["low_kn"] * by, holds["high_kn"], "tested again") if holds["kind"] == "range" else holds

    def unknown_length():
        one.update(measured_m=unknown("?"), nominal_m=unknown("?"), damage=[])

    def damaged():
        length = one["measured_m"] if one["measured_m"]["kind"] == "known" else one["nominal_m"]
        if length["kind"] == "known" and not one["damage"]:
            one["damage"] = [
                {
                    "at_m": known(round(length["value"] * draw(st.sampled_from([0.1, 0.4, 0.5, 0.6, 0.9])), 2), "tape"),
                    "takes_m": known(0.5, "tape"),
                    "use": draw(st.sampled_from(["knot passed", "longest sound piece"])),
                }
            ]

    def sharper():
        drop["section"]["edge"] = {"rounded": "coarse", "coarse": "sharp"}.get(
            drop["section"]["edge"], drop["section"]["edge"]
        )
        drop["section"]["padded"] = False

    def open_ends():
        for state in station["states"]:
            if "stoppers" in state["system"] and drop["landing"]["kind"] != "moving water":
                state["system"]["stoppers"] = []

    def weaker():
        for f in station["features"]:
            if "holds" in f and f["holds"]["kind"] != "mass":
                f["holds"] = lower(f["holds"], 0.5)

    def unsound():
        for f in station["features"]:
            f.update(
                {"sound": "no"}
                if f["kind"] == "post"
                else {"ice": "white, aerated"}
                if f["kind"] == "ice thread"
                else {}
            )

    def heavier():
        for p in data["party"]:
            p["mass_kg"] = known(p["mass_kg"]["value"] + 25)

    steps = {
        "unknown length": unknown_length,
        "damage": damaged,
        "sharper": sharper,
        "wet": lambda: station.update(wet="yes"),
        "open ends": open_ends,
        "weaker": weaker,
        "unsound": unsound,
        "heavier": heavier,
        "weaker rope": lambda: one.update(strength_kn=lower(one["strength_kn"], 0.5)),
        "weaker ring": lambda: [r.update(rating_kn=lower(r["rating_kn"], 0.4)) for r in data["shed"]["rings"]],
        "taller": (
            lambda: drop["section"]["height_m"].update(
                {"value": drop["section"]["height_m"]["value"] + 5}
                if drop["section"]["height_m"]["kind"] == "known"
                else {}
            )
        ),
        "cracks": lambda: drop.update(cracks="yes"),
    }
    name = draw(st.sampled_from(sorted(steps)))
    steps[name]()
    return name, data


LEVELS = {"Note": 0, "Caution": 1, "Not checked": 2, "Shortfall": 3}


class AnyPlan(unittest.TestCase):
    @given(plans())
    @law(30)
    def test_every_answer_is_given_and_can_be_said(self, data):
        p = read_plan(data)
        a = assess(p)
        d = a.drops[0]
        keys = {w.key for w in a.workings["d1"]} | {w.key for w in a.workings[""]}
        for s in (d, d.last) if d.last else (d,):
            for sentence in (
                s.answer,
                s.retrieval.side.said,
                *s.retrieval.side.reasons,
                *s.retrieval.before,
                *s.retrieval.snags,
                *([s.retrieval.side.refused] if s.retrieval.side.refused else []),
            ):
                self.assertNotRegex(words(sentence), r"[{}]|None|nan|inf")
            for n in (
                s.pull.high,
                *(x for r in s.reach for x in (r.low, r.need, r.spare, r.highest)),
                *(x for q in s.parts for x in (q.demand, q.low, q.times)),
            ):
                self.assertTrue(n is None or not n.working or n.working in keys)
        self.assertNotRegex(report(p, a), r"[{}]|\bNone\b|\bnan\b|\binf\b")
        self.assertEqual(assess(read_plan(json.loads(p.model_dump_json()))), a)

    @given(plans())
    @law(30)
    def test_unknown_never_passes_as_good(self, data):
        d = assess(read_plan(data)).drops[0]
        found = {f.severity for f in d.findings}
        self.assertEqual(bool(d.verdict), "Shortfall" not in found and bool(d.verdict))
        for s in (d, d.last) if d.last else (d,):
            for part in s.parts:
                blank = part.low is None or part.required is None or part.why == DECIDES
                self.assertEqual(blank, part.verdict == "Not checked", part.key)
                if part.low is None and part.where == "riding" and not part.key.startswith("device"):
                    # What is not known is named, in a finding of its own.
                    named = {
                        f.subject.part for f in (*d.findings, *s.wide) if f.severity in ("Not checked", "Shortfall")
                    }
                    named |= (
                        {q.key for q in s.parts if q.key.startswith("rope.") and q.why == part.why}
                        if {q.key for q in s.parts if q.why == part.why} & named
                        else set()
                    )
                    self.assertTrue(
                        part.key in named or (part.said and {"webbing", "anchor"} & named), (part.key, part.why, named)
                    )
            blank = any(r.spare is None and not r.at_surface for r in s.reach) or (
                s.pull.worst is None and s.retrieval.side.strand
            )
            if blank:
                self.assertTrue({"Not checked", "Shortfall"} & found)

    @given(st.data(), plans())
    @law(40)
    def test_worse_is_never_milder(self, source, data):
        """One step worse anywhere: the worst that is said of the drop is no milder, and no part holds more, no rope has
        more to spare.

        Over moving water a taller drop may fit a rope that was too long; and what is too long to know is not known to
        be too long.
        """
        name, after = worse(source.draw, data)
        p, q = read_plan(data), read_plan(after)
        a, b = assess(p), assess(q)
        first, then = a.drops[0], b.drops[0]
        level = [max((LEVELS[f.severity] for f in x.drops[0].findings), default=0) for x in (a, b)]
        if not (name == "unknown length" and level[0] == 3) and not (
            name == "taller" and data["drops"][0]["landing"]["kind"] == "moving water"
        ):
            self.assertGreaterEqual(level[1], level[0], name)
        for s, t in ((first, then), (first.last, then.last)):
            if s is None or t is None:
                continue
            was = {x.key: x for x in s.parts}
            for part in t.parts:
                old = was.get(part.key)
                if old is not None and old.low is not None and part.low is not None and name != "heavier":
                    self.assertLessEqual(part.low.value, old.low.value + 1e-9, (name, part.key))
                if (
                    old is not None
                    and old.required is not None
                    and part.required is not None
                    and name in ("heavier", "weaker", "wet")
                ):
                    # Elastic legs that stretch more share a little more evenly: of a peak that is its least all the
                    # same, one may get less.
                    slack = 0.02 * old.required.value if part.key.startswith(("point.", "leg.", "loop")) else 1e-9
                    self.assertGreaterEqual(part.required.value, old.required.value - slack, (name, part.key))
            spare = {r.key: r for r in s.reach}
            for r in t.reach:
                # A stopper that is left out takes no rope; that is said as an open end.
                if name != "open ends" and r.key in spare and r.spare is not None and spare[r.key].spare is not None:
                    self.assertLessEqual(r.spare.value, spare[r.key].spare.value + 1e-9, (name, r.key))

    @given(plans())
    @law(15)
    def test_every_way_is_compared_and_every_fix_can_be_applied(self, data):
        p = read_plan(data)
        ctx = context(p)
        for which in range(len(p.drops[0].station.states)):
            pull_curve(ctx, 0, p.drops[0], which)
            rows = compare_systems(ctx, 0, p.drops[0], which).ways
            for way in rows[:3]:
                apply(p, way.edits)
        for f in assess(p).drops[0].findings:
            if f.fix:
                apply(p, f.fix.edits)

    @given(plans())
    @law(25)
    def test_every_working_gives_its_number(self, data):
        Workings("test_demo").check(read_plan(data), least=0)

    def test_the_plan_they_are_made_from_is_whole(self):
        self.assertEqual(assess(read_plan(plan_of({"kind": "none"}))).tally["Shortfall"], 0)


if __name__ == "__main__":
    unittest.main()
