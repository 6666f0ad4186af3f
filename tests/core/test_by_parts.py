"""Assessed by parts: what is kept of unchanged drops says what a full assessment would."""

import dataclasses
import re
import unittest
from pathlib import Path
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

import reamer.core
from reamer.core.answer.context import context
from reamer.core.assess import Kept, assess, assess_by_parts
from reamer.core.model import Carry, Contingencies, Drop, Known, OwnFigure, Person, Plan
from reamer.core.station.comparison import compare_systems
from reamer.core.station.drop import assess_drop
from reamer.demos import buttress, canyon, gully
from tests import law


def at(plan: Plan, i: int, drop: Drop) -> Plan:
    return plan.model_copy(update={"drops": (*plan.drops[:i], drop, *plan.drops[i + 1 :])})


def landed(plan: Plan, i: int, n: int) -> Plan:
    landing = plan.drops[i].landing.model_copy(update={"kind": ("ledge", "pool", "moving water")[n % 3]})
    return at(plan, i, plan.drops[i].model_copy(update={"landing": landing}))


def wetter(plan: Plan, i: int, n: int) -> Plan:
    station = plan.drops[i].station.model_copy(update={"wet": ("yes", "no", "unknown")[n % 3]})
    return at(plan, i, plan.drops[i].model_copy(update={"station": station}))


def threaded(plan: Plan, i: int, n: int) -> Plan:
    """The station takes another's system."""
    other = plan.drops[n % len(plan.drops)].station.states[0].system
    states = tuple(s.model_copy(update={"system": other}) for s in plan.drops[i].station.states)
    station = plan.drops[i].station.model_copy(update={"states": states})
    return at(plan, i, plan.drops[i].model_copy(update={"station": station}))


def turned(plan: Plan, i: int, n: int) -> Plan:
    drops = list(plan.drops)
    drops.insert(n % len(drops), drops.pop(i))
    return plan.model_copy(update={"drops": tuple(drops)})


def fewer(plan: Plan, i: int, n: int) -> Plan:
    return plan.model_copy(update={"drops": plan.drops[:i] + plan.drops[i + 1 :]}) if len(plan.drops) > 1 else plan


def heavier(plan: Plan, i: int, n: int) -> Plan:
    mass = Known(kind="known", value=60.0 + n, method="given")
    person = Person(id="guest", name="Guest", role="novice", mass_kg=mass)
    return plan.model_copy(update={"party": (*[p for p in plan.party if p.id != person.id], person)})


def own(plan: Plan, i: int, n: int) -> Plan:
    figure = OwnFigure(
        id="o", table="knots", key="retention.figure eight.nylon", low=0.5 + n / 100, high=0.9, reason="tested"
    )
    return plan.model_copy(update={"own_figures": (figure,)})


def shorter(plan: Plan, i: int, n: int) -> Plan:
    ropes = list(plan.shed.ropes)
    ropes[n % len(ropes)] = ropes[n % len(ropes)].model_copy(
        update={"length_m": Known(kind="known", value=20 + n, method="tape")}
    )
    return plan.model_copy(update={"shed": plan.shed.model_copy(update={"ropes": tuple(ropes)})})


ACTS = [landed, wetter, threaded, turned, fewer, heavier, own, shorter]


def unfixed(findings):
    return tuple(dataclasses.replace(f, fix=None, others=()) for f in findings)


class ByParts(unittest.TestCase):
    @given(
        st.sampled_from([canyon, buttress, gully]),
        st.lists(st.tuples(st.sampled_from(ACTS), st.integers(0, 40), st.integers(0, 40)), max_size=4),
    )
    @law(6)
    def test_what_is_kept_says_what_a_full_assessment_would(self, demo, acts):
        plan, kept = demo(), Kept()
        assess_by_parts(plan, kept)
        for act, i, n in acts:
            plan = act(plan, i % len(plan.drops), n)
            full = assess(plan, fixes=False)
            self.assertEqual(assess_by_parts(plan, kept), full)
            k = i % len(plan.drops)
            given = context(plan), k, plan.drops[k], 0
            self.assertEqual(kept.comparison(*given), compare_systems(*given))

    def test_without_acts_the_same_is_found(self):
        for demo in (canyon, buttress, gully):
            light, whole = assess_by_parts(demo(), Kept()), assess(demo())
            self.assertEqual((light.tally, light.verdict), (whole.tally, whole.verdict))
            for a, b in zip(light.drops, whole.drops, strict=True):
                self.assertEqual(a.findings, unfixed(b.findings))

    def worked_out(self, plan: Plan, kept: Kept) -> list[str]:
        """The drops that are assessed and not taken from what is kept."""
        done = []

        def counted(ctx, index, drop, fixes=True):
            done.append(drop.id)
            return assess_drop(ctx, index, drop, fixes)

        with mock.patch("reamer.core.assess.assess_drop", counted):
            assess_by_parts(plan, kept)
        return done

    def test_only_what_changed_is_worked_out_again(self):
        plan, kept = canyon(), Kept()
        self.assertEqual(self.worked_out(plan, kept), [d.id for d in plan.drops])
        self.assertEqual(self.worked_out(plan, kept), [])
        # Whether the next one is reached by a swim follows from this one's landing, which was waded.
        self.assertEqual(self.worked_out(landed(plan, 3, 2), kept), ["d4", "d5"])
        self.assertEqual(self.worked_out(wetter(plan, 3, 2), kept), ["d4"])
        self.assertEqual(self.worked_out(plan.model_copy(update={"title": "another"}), kept), [])
        # What the next station threads is said of the whole.
        self.assertEqual(self.worked_out(threaded(plan, 3, 8), kept), ["d4"])
        sooner = plan.model_copy(
            update={"start": "07:00", "carry": Carry(), "contingencies": Contingencies(lost=False)}
        )
        self.assertEqual(self.worked_out(sooner, kept), [])
        self.assertEqual(len(self.worked_out(heavier(plan, 0, 30), kept)), len(plan.drops))

    def test_what_a_drop_rests_on_besides_its_own_is_known(self):
        """Kept answers are looked up by all they rest on: a module that reads other drops must be counted there."""
        known = {"answer/context.py"}
        of_the_whole = {
            "offers.py",
            "anchor/cutting.py",
            "load/rider.py",
            "assess.py",
            "schools.py",
            "section/meaning.py",
        }
        core = Path(reamer.core.__file__).parent
        reading = {
            str(p.relative_to(core))
            for p in core.rglob("*.py")
            if re.search(r"plan\.drops\b|\.drops\[", p.read_text())
            and p.parent.name not in ("plan", "descent", "people", "rehearsal", "second", "onsite", "log", "gear")
        }
        # A place in the plan is not what stands there.
        places = {"anchor/courtesy.py", "answer/look.py", "answer/where.py"}
        # Of who hangs at a station its own drop alone is asked; the whole scene is the rehearsal's.
        own = {"acts/hanging.py", "acts/stage.py"}
        self.assertEqual(reading, known | of_the_whole | places | own)

    def test_there_is_a_bound_to_what_is_kept(self):
        kept = Kept(4)
        assess_by_parts(canyon(), kept)
        self.assertEqual(len(kept.assessed), 4)
        self.assertEqual(assess_by_parts(canyon(), kept), assess(canyon(), False))
