"""A guide's own figures in place of a table's: used everywhere, named where used, gone outside the plan."""

import json
import threading
import unittest

from reamer.core.answer.context import context
from reamer.core.assess import assess
from reamer.core.errors import PlanError
from reamer.core.reading import read_plan
from reamer.core.station.drop import compare_patterns
from reamer.core.tables import NAMES, own_figures, patterns, replaceable, row, table
from tests.builders import anchored, doubled, iced, known, mass, plan_of, post, rope, two_bolts, unknown
from tests.core.test_assess import JOINED, KIT, SINGLE, Workings
from tests.core.test_codes import STATION, TRAVERSE, edited, linked


def more_plans():
    """Plans that look up what others do not: every pattern, landing, block, rope kind, fibre and school."""
    made = [plan_of(doubled(), landing=k) for k in ("ledge", "ground", "pool", "wading", "hanging stance")]
    for block in ("figure eight", "overhand", "butterfly", "clove hitch", "stone hitch"):
        for fibre in ("nylon", "HMPE", "aramid", "polyester"):
            made.append(plan_of({**SINGLE, "block": block}, ropes=[rope(fibre=fibre), KIT[2]], wet="yes"))
        made.append(plan_of({**SINGLE, "block": block, "carabiner": False}, ropes=[rope(), KIT[2]]))
    for kind in ("dynamic single", "low-stretch"):
        line = edited(
            plan_of(doubled(), ropes=[rope(), rope("r2", kind=kind, fibre="nylon")]), ((*STATION, "traverse"), TRAVERSE)
        )
        made.append(line)
    for kind in ("dynamic single", "low-stretch", "pull cord"):
        made.append(plan_of(doubled(), ropes=[rope(kind=kind, measured_m=unknown("?"), wet_since_measured="yes")]))
    made.append(plan_of(doubled(), policies={"margin": {"kind": "static ratio"}}))
    for key in patterns():
        for fibre in ("nylon", "polyester", "HMPE"):
            for school in ("graded", "flat half"):
                data = plan_of(doubled(), wet="yes", policies={"retention": school})
                data["drops"][0]["station"]["states"][0]["rig"].update(pattern=key, extension_m=known(1))
                data["shed"]["webbing"][0]["fibre"] = fibre
                data["drops"][0]["station"]["features"][0]["surface"] = "bark" if fibre == "polyester" else "rock"
                made.append(data)
    thin = plan_of(doubled())
    thin["shed"]["rings"][0]["thickness_mm"] = known(2)
    for fibre in ("nylon", "polyester", "HMPE", "aramid"):
        for knot in ("overhand", "bowline on a bight"):
            tied = plan_of(doubled(), wet="yes")
            tied["shed"]["tethers"][0].update(fibre=fibre, knot=knot)
            tied["party"][0]["tether"] = "nylon"
            made.append(tied)
        made += [
            linked(use, fibre, angle=40, wet="yes")
            for use in ("straight", "overhand", "basket", "basket double", "shortened", "girth")
        ]
    for rated in ("single", "half", "twin"):
        tied = plan_of(
            {**JOINED, "tails_m": known(0.4)}, ropes=[rope(kind="dynamic half"), rope("r2", kind="dynamic half")]
        )
        tied["shed"]["tethers"][1]["rated"] = rated
        tied["shed"]["pull_tests"] = [{"id": "t", "name": "t", "samples_kn": [10, 11, 12, 11, 10]}]
        made.append(tied)
    made += [
        plan_of({"kind": "elastic-release device", "rope": "r1", "ridden_end": "b", "device": "eight"}),
        plan_of({**JOINED, "knot": "flat overhand, second behind"}, ropes=[rope(), rope("r2")]),
        anchored(
            {"kind": "direct", "anchor": "post", "ring": None, "gain_m": known(0.1)},
            post("pine", "tree", 1.2, 12, 20, "judged"),
        ),
        edited(plan_of(doubled()), (("drops", 0, "rock"), "smooth")),
    ]
    made += [
        two_bolts(of="r1", knot="figure eight"),
        two_bolts(of="ring-steel"),
        two_bolts("sliding"),
        two_bolts(),
        iced(),
        edited(two_bolts(of="r1"), (("shed", "ropes", 0, "fibre"), "HMPE")),
    ]
    for bed, water in (("dry rock", "no"), ("dry rock", "yes"), ("wet or loose", "no"), ("ice or snow", "no")):
        block = plan_of(doubled())
        block["drops"][0]["station"]["features"][0]["holds"] = mass(bed=bed, under_water=water)
        made.append(block)
    hmpe = edited(two_bolts("sliding", of="r1"), (("shed", "ropes", 0, "fibre"), "HMPE"))
    for leg in hmpe["drops"][0]["station"]["states"][0]["rig"]["legs"]:
        leg["closed_by"] = "triple fisherman's"
    tethered = edited(
        plan_of(doubled(), wet="yes", policies={"retention": "flat half"}),
        (("shed", "tethers", 0, "fibre"), "HMPE"),
        (("party", 0, "tether"), "nylon"),
    )
    floats = edited(plan_of(SINGLE, ropes=[rope(fibre="polypropylene"), KIT[2]], wet="yes"))
    threaded = edited(
        plan_of(doubled(), wet="yes"), (("shed", "tethers", 0, "fibre"), "aramid"), (("party", 0, "tether"), "nylon")
    )
    made += [
        hmpe,
        edited(hmpe, (("shed", "ropes", 0, "fibre"), "nylon")),
        tethered,
        floats,
        threaded,
        edited(plan_of(doubled()), (("shed", "rings", 0, "kind"), "plate")),
        plan_of(
            {**JOINED, "knot": "flat figure eight"},
            ropes=[rope(diameter=10.0, kind="dynamic single"), rope("r2", kind="dynamic single")],
        ),
        edited(plan_of(doubled()), (("drops", 0, "section", "padded"), True)),
    ]
    return [*made, thin]


def with_own(*figures, **more):
    data = plan_of(doubled(), **more)
    data["own_figures"] = [
        {"id": f"o{i}", "table": t, "key": k, "low": lo, "high": hi, "reason": why}
        for i, (t, k, lo, hi, why) in enumerate(figures)
    ]
    return data


class OwnFigures(unittest.TestCase):
    def test_it_is_used_and_named_wherever_the_row_is(self):
        p = read_plan(
            with_own(
                ("loads", "peak.least", 6, 6, "bouncy novices"),
                ("knots", "retention.ring bend.nylon", 0.3, 0.4, "old webbing"),
            )
        )
        a = Workings("test_demo").check(p)
        self.assertEqual(a.drops[0].parts[0].demand.value, 6.0)
        cited = {t.source for w in a.workings["d1"] for t in w.terms if t.source.startswith("own figure")}
        self.assertEqual(
            cited, {"own figure, in place of 4 to 4: bouncy novices", "own figure, in place of 0.6 to 0.7: old webbing"}
        )
        rows = {r.key: r for r in compare_patterns(context(p), p.drops[0])}
        plain = {r.key: r for r in compare_patterns(context(read_plan(plan_of(doubled()))), p.drops[0])}
        self.assertLess(rows["simple wrap"].low.value, plain["simple wrap"].low.value)
        self.assertEqual(rows["frost knot"].low.value, plain["frost knot"].low.value)

    def test_nothing_of_it_is_left_outside_or_in_another_thread(self):
        assess(read_plan(with_own(("loads", "peak.least", 6, 6, "x"))))
        self.assertEqual(row("loads", "peak.least").high, 4.0)
        seen = []
        with own_figures([("loads", "peak.least", 6, 6, "x")]):
            other = threading.Thread(target=lambda: seen.append(row("loads", "peak.least").high))
            other.start()
            other.join()
            self.assertEqual((row("loads", "peak.least").high, seen), (6, [4.0]))

    def test_what_is_refused(self):
        cases = [
            (("loads", "peak.least", 6, 6, "  "), "own_figures/0/reason: .*at least 1"),
            (("loads", "peak.most", 6, 6, "x"), "own_figures/0/key: .*no row 'peak.most'"),
            (("moods", "peak", 6, 6, "x"), "own_figures/0/key: no table 'moods'"),
            (("standards", "EN 566.sling", 30, 30, "x"), "own_figures/0/key: sewn sling is there to be read"),
            (("loads", "g", 9, 9, "x"), "own_figures/0/key: standard gravity is there to be read"),
            (("loads", "tests.enough", 2, 2, "x"), "own_figures/0/low: fewer than 3"),
            (("loads", "peak.least", 6, 5, "x"), "own_figures/0/low: .*above the high end"),
            (("loads", "peak.least", 0, 5, "x"), "own_figures/0/low: .*above 0"),
            (("knots", "retention.ring bend.nylon", 0.5, 1.2, "x"), "at most 1"),
        ]
        for figure, says in cases:
            with self.subTest(says), self.assertRaisesRegex(PlanError, says):
                read_plan(with_own(figure))
        with self.assertRaisesRegex(PlanError, "own_figures/1/key: .*is taken"):
            read_plan(with_own(*[("loads", "peak.least", 6, 6, "x")] * 2))

    def test_every_figure_that_may_be_replaced_is_used_somewhere(self):
        """Each replaceable row is named in the workings of some plan here, or is one of those that work unnamed."""
        from tests.core.test_codes import WAYS, direct

        plans = [data for _, data in WAYS.values()] + [direct(), *more_plans()]
        cited = {
            t.name for data in plans for ws in assess(read_plan(data)).workings.values() for w in ws for t in w.terms
        }
        unnamed = {
            # limits of error are named by the method they belong to; classes and allowances stand in a finding's words
            *table("methods").rows,
            *(f"times {k}" for k in table("times").rows),
            "knots bights.least",
            "knots bights.most",
            "knots bights.last",
            "ropes single.thin",
            "loads angle.note",
            "loads angle.caution",
            "loads angle.shortfall",
            "pull_tests HMPE ring bend",
            "pull_tests HMPE overhand",
            "pull_tests flat overhand cord",
            "loads tests.enough",
            "loads legs.drop",
            "loads legs.slack",
            "ropes ride.more",
            "ropes round.reach",
            "knots fit.passes",
            "knots fit.stopped",
            "ropes end.dips",
            "ropes miss.most",
            "ropes bag.litres",
            "ropes hand.above",
            "ropes hand.tie",
            "ropes hand.cut",
            "ropes edge.near",
            "ropes feet.in metres",
            "ropes metres.in feet",
            "materials gain.single",
            "materials connector.length",
            "ropes stretch.unlike",
            "loads heavier",
            "knots fit.unequal",
            "knots fit.unlike",
            "knots thin.through",
            "knots carabiner.wide",
            "knots tail.cut",
            "materials inspection.old",
            "pull_tests HMPE single fisherman",
            "loads block.sees",
            "loads pull.easy",
            "loads pull.firm",
            "loads pull.hard",
            "loads courtesy.over",
            "loads legs.chain",
            "materials tree.thick",
            "materials post.doubtful",
            "knots tail.join",
            "ropes mass.dynamic",
            "ropes mass.low-stretch",
            "materials webbing.25 mm tubular nylon",
        }
        for name in NAMES:
            for key, r in table(name).rows.items():
                if replaceable(name, key) and key not in unnamed and f"{name} {key}" not in unnamed:
                    with self.subTest(f"{name}: {key}"):
                        self.assertTrue(any(name.startswith(r.name) for name in cited))

    def test_of_two_for_one_row_the_plans_counts_and_both_are_said(self):
        data = with_own(("loads", "peak.least", 6, 6, "bouncy novices"))
        data["shed"]["own_figures"] = [
            {"id": "s", "table": "loads", "key": "peak.least", "low": 5, "high": 5, "reason": "house rule"}
        ]
        a = assess(read_plan(data))
        self.assertEqual(a.drops[0].parts[0].demand.value, 6)
        self.assertEqual(sum(f.code == "figure.own" for f in a.findings), 2)
        data["own_figures"] = []
        self.assertEqual(assess(read_plan(data)).drops[0].parts[0].demand.value, 5)

    def test_it_survives_the_file(self):
        p = read_plan(with_own(("loads", "peak.least", 6, 6, "x")))
        self.assertEqual(read_plan(json.loads(p.model_dump_json())), p)
