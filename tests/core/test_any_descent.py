"""Whatever a guide makes a descent of: what lies ahead is answered and can be said and drawn, unknown never passes as
good, and worse is never milder."""

import unittest
from itertools import pairwise
from xml.etree import ElementTree as ET

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.context import context
from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.descent.prospect import Known, adopted, prospect
from reamer.core.descent.stations import MOST_ROPES, Stations, asked
from reamer.core.plan.edits import apply
from reamer.core.reading import read_plan
from reamer.figures.overview import overview
from reamer.figures.svg import Figure, cut, png
from reamer.formats.report import report
from tests import law
from tests.builders import doubled, known, plan_of, quick, rope, two_drops, unknown
from tests.core.test_any_plan import figures, plans

MINUTES = st.one_of(st.floats(0, 90).map(lambda v: known(round(v, 1))), st.just(unknown("not timed")))
KINDS = st.sampled_from(["walk", "scramble", "wade", "swim", "halt"])
CLOCKS = st.one_of(st.none(), st.sampled_from(["00:00", "05:30", "12:00", "19:45", "23:59"]))
ZONES = st.sampled_from(["", "Europe/Zurich", "Pacific/Auckland", "Etc/GMT+12", "No/Where"])
ORDER = ("strands", "fails", "not checked", "way off", "other way", "figure", "works")


@st.composite
def legs(draw):
    if draw(st.integers(0, 3)) == 0:
        return None
    return [
        {"id": f"w{i}", "kind": draw(KINDS), "length_m": draw(figures(1, 400)), "minutes": draw(MINUTES)}
        for i in range(draw(st.integers(0, 2)))
    ]


@st.composite
def descents(draw):
    """A few random drops with one shed and one party, and anything said or not of the descent as a whole."""
    data = draw(plans())
    drops = []
    for i in range(draw(st.integers(1, 3))):
        drop = draw(plans())["drops"][0]
        escape = None
        if draw(st.integers(0, 3)) == 0:
            escape = {"to": "out", "minutes": draw(MINUTES), "goes": draw(st.sampled_from(["yes", "no", "unknown"]))}
        state = drop["station"]["states"][0]
        state["run_through"] = draw(st.booleans())
        if draw(st.booleans()):
            rope_id, end = draw(st.sampled_from(["r1", "r2", "gone"])), draw(st.sampled_from("ab"))
            state["threaded"] = {"rope": rope_id, "end": end}
        drops.append({**drop, "id": f"d{i + 1}", "onward": draw(legs()), "escape": escape})
    ids = [r["id"] for r in data["shed"]["ropes"]]
    far = st.tuples(st.floats(-90, 90), st.floats(-180, 180), ZONES)
    spot = draw(st.one_of(st.none(), far))
    return {
        **data,
        "drops": drops,
        "start": draw(CLOCKS),
        "last_light": draw(CLOCKS),
        "spot": spot and {"latitude_deg": spot[0], "longitude_deg": spot[1], "zone": spot[2]},
        "contingencies": {k: draw(st.booleans()) for k in ("lost", "stuck", "lower", "spare", "two_sets")},
        "carry": {
            "ropes": draw(st.one_of(st.none(), st.lists(st.sampled_from([*ids, "gone"]), unique=True))),
            "rings": draw(st.one_of(st.integers(0, 3).map(known), st.just(unknown("?")))),
            "borne": [{"what": "rope.r1", "by": draw(st.sampled_from(["p1", "nobody"]))}]
            if draw(st.booleans())
            else [],
        },
    }


def seen(plan, kept=None):
    a = assess(plan)
    return a, prospect(context(plan), kept or Stations(), Known(a.drops, a.webbing, a.descent.times))


class AnyDescent(unittest.TestCase):
    @given(descents())
    @law(12)
    def test_it_is_answered_said_and_drawn(self, data):
        plan = read_plan(data)
        a, got = seen(plan)
        said = [s for c in (c for r in got.rows for c in r.cells) for s in (*c.story, *(f.label for f in c.fixes))]
        said += [r.said for r in got.returns]
        said += [s for f in got.findings for s in (f.title, f.reason)]
        said += [*got.choice.none, *got.choice.binding, *got.choice.buys, *got.choice.why, *got.choice.fails]
        said += [s for e in a.descent.ledger.entries for r in e.states for s in r.said]
        for s in said:
            for units in ("metric", "us"):
                self.assertNotRegex(words(s, units), r"[{}]|\bNone\b|\bnan\b|\binf\b|\bsafe\b")
        self.assertNotRegex(report(plan, a, "metric", got), r"[{}]|\bNone\b|\bnan\b|\binf\b|\bsafe\b")
        drawn = ET.fromstring(overview(plan, a, got))
        self.assertEqual(len([t for t in drawn.iter() if t.tag.endswith("title")]), 1)
        for f in (*got.findings, *a.findings):
            for fix in (*([f.fix] if f.fix else []), *f.others):
                apply(plan, fix.edits)
        for r in got.rows:
            for c in r.cells:
                for fix in c.fixes:
                    apply(plan, fix.edits)

    @given(descents())
    @law(10)
    def test_what_is_not_known_of_a_station_never_works(self, data):
        data["drops"].append({**data["drops"][0], "id": "dark"})
        section = data["drops"][-1]["section"]
        if section["kind"] == "quick":
            section = {**section, "height_m": unknown("?")}
        else:
            section = {**section, "shots": [{**s, "slope_m": unknown("?")} for s in section["shots"]]}
        data["drops"][-1]["section"] = section
        _, got = seen(read_plan(data))
        for r in got.rows[:-1]:
            for c in r.cells:
                if c.event in ("stuck", "lost"):
                    self.assertIn(c.mark, ("not checked", "strands", "way off"), c.event)
        self.assertIsNone(got.choice.chosen)

    @given(descents(), st.sampled_from([0.5, 0.8]))
    @law(10)
    def test_shorter_ropes_are_never_milder(self, data, share):
        # Those that the plan carries stay the same; only what they reach changes.
        data["carry"]["ropes"] = [r["id"] for r in data["shed"]["ropes"]]
        for r in data["shed"]["ropes"]:
            r["damage"] = []
        before = seen(read_plan(data))[1]
        for r in data["shed"]["ropes"]:
            for key in ("nominal_m", "measured_m"):
                if r[key]["kind"] == "known":
                    r[key] = {**r[key], "value": max(1.0, r[key]["value"] * share)}
        after = seen(read_plan(data))[1]
        for a, b in zip(before.rows, after.rows, strict=True):
            for x, y in zip(a.cells, b.cells, strict=True):
                if x.event in ("stuck", "lost") and x.mark in ("strands", "not checked"):
                    self.assertLessEqual(ORDER.index(y.mark), ORDER.index("not checked"), (x.event, x.mark, y.mark))
        if before.choice.chosen is None:
            self.assertIsNone(after.choice.chosen)

    @given(descents())
    @law(8)
    def test_what_is_kept_says_the_same_and_a_set_that_is_adopted_is_carried(self, data):
        plan, kept = read_plan(data), Stations()
        a, got = seen(plan, kept)
        self.assertEqual(seen(plan, kept)[1], got)
        self.assertTrue(all(kept.known(context(plan), k) for k in range(len(plan.drops))))
        if got.choice.chosen is not None:
            done = adopted(context(plan), kept, frozenset(got.choice.chosen.ropes))
            if done.fix is not None:
                after = apply(plan, done.fix.edits)
                self.assertEqual(after.carry.ropes, got.choice.chosen.ropes)
                self.assertFalse([f for f in assess(after).findings if f.code == "ledger.not-carried"])
        self.assertIsNotNone(a.descent)


class Sizes(unittest.TestCase):
    def test_of_too_many_ropes_those_that_are_named_are_chosen_among_and_the_rest_is_said(self):
        ropes = [rope(f"r{i}", 60.0) for i in range(MOST_ROPES + 4)]
        plan = read_plan(plan_of(doubled("r23"), ropes=ropes))
        served = tuple(Stations().of(context(plan), k) for k in range(len(plan.drops)))
        got = asked(context(plan), served)
        self.assertEqual(len(got.ropes), MOST_ROPES)
        self.assertIn("r23", got.ropes)
        self.assertEqual(len(got.left_out), 4)
        self.assertEqual(seen(plan)[1].choice.left_out, got.left_out)

    def test_forty_stations_stand_on_one_sheet(self):
        one = two_drops(doubled("r1"), doubled("r1"), ropes=[rope(), rope("r2")])
        drops = [{**one["drops"][0], "id": f"d{i}", "name": f"Drop <{i}> & more"} for i in range(40)]
        plan = read_plan({**one, "drops": drops})
        a, got = seen(plan)
        drawn = ET.fromstring(overview(plan, a, got))
        texts = [t.text for t in drawn.iter() if t.tag.endswith("text")]
        self.assertEqual(sum("Drop <" in (t or "") for t in texts), 40)
        self.assertGreater(float(drawn.get("height")), 40 * 58)
        self.assertTrue(png(overview(plan, a, got)).startswith(b"\x89PNG"))

    def test_no_text_lies_on_another_in_its_row(self):
        """Texts of one line of the sheet are held apart, by the widths that the face has at most."""
        from reamer.demos import buttress, canyon, gully

        for make in (canyon, buttress, gully):
            plan = make()
            a, got = seen(plan)
            rows: dict[float, list[tuple[float, float, str]]] = {}
            for t in ET.fromstring(overview(plan, a, got)).iter():
                if t.tag.endswith("text") and t.text:
                    size, x = float(t.get("font-size")), float(t.get("x"))
                    wide = len(t.text) * size * 0.5
                    left = {"start": x, "middle": x - wide / 2, "end": x - wide}[t.get("text-anchor")]
                    rows.setdefault(float(t.get("y")), []).append((left, left + wide, t.text))
            for some in rows.values():
                some.sort()
                for (_, end, first), (start, _, second) in pairwise(some):
                    self.assertLessEqual(end, start + 6, (plan.title, first, second))

    def test_a_figure_says_what_it_is_told_and_no_more(self):
        f = Figure(100, 50, "<script>")
        f.text(1, 2, "a\x00b <b>&\u202e")
        self.assertNotIn("<script>", str(f))
        (text,) = [t for t in ET.fromstring(str(f)).iter() if t.tag.endswith("text")]
        self.assertEqual(text.text, "ab <b>&")
        self.assertEqual(cut("abcdef", 4), "abc…")

    def test_quick_and_unset_plans(self):
        for data in (
            {"format": 1, "title": "Empty"},
            plan_of({"kind": "none"}, ropes=[]),
            plan_of(doubled(), section=quick(2, 0.2, 15, "tape", "rounded"), mass=None),
        ):
            plan = read_plan(data)
            a, got = seen(plan)
            self.assertTrue(ET.fromstring(overview(plan, a, got)) is not None)


if __name__ == "__main__":
    unittest.main()
