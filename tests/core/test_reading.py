"""The file reader never lets anything through but a plan or a PlanError."""

import json
import unittest

import jsonschema
from hypothesis import given
from hypothesis import strategies as st

from reamer.core.assess import assess
from reamer.core.errors import PlanError
from reamer.core.model import Plan
from reamer.core.reading import MOST_BYTES, parse, read_plan
from reamer.demos import canyon
from tests import law

JSON = st.recursive(
    st.none() | st.booleans() | st.floats(allow_nan=False) | st.text(max_size=20) | st.integers(),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=12), inner, max_size=4),
    max_leaves=12,
)
GOOD = canyon().model_dump_json()


def paths(data, at=()):
    """Every place in a plan, to break one of them."""
    yield at
    children = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for key, value in children:
        yield from paths(value, (*at, key))


PLACES = [p for p in paths(json.loads(GOOD)) if p]


class Reader(unittest.TestCase):
    def reads(self, text):
        try:
            return read_plan(parse(text))
        except PlanError as e:
            self.assertTrue(str(e))
            self.assertNotIn("\n", str(e))
            return None

    def test_round_trip(self):
        self.assertEqual(self.reads(GOOD.encode()), canyon())

    @given(st.binary(max_size=300))
    def test_any_bytes(self, text):
        self.reads(text)

    @given(JSON)
    def test_any_json(self, data):
        self.reads(json.dumps(data).encode())

    @given(
        st.sampled_from(PLACES), JSON | st.sampled_from([1e308, -1, 0, 5000, "", "x" * 5000, [], {}, {"kind": "known"}])
    )
    @law(200)
    def test_any_one_place_broken(self, place, value):
        """Whatever stands in one place, the reader refuses it with a sentence or the assessment takes it."""
        data = json.loads(GOOD)
        here = data
        for key in place[:-1]:
            here = here[key]
        here[place[-1]] = value
        plan = self.reads(json.dumps(data).encode())
        if plan is not None:
            assess(plan)

    def test_what_the_refusals_say(self):
        cases = [
            (b"\xff\xfe", "not UTF-8|not JSON"),
            (b"{", "not JSON"),
            (b"[1]", "a plan is a JSON object"),
            (b"[" * 100_000, "not JSON"),
            (b'{"format": 2}', r"format: this file has format '2'; this program reads format 1"),
            (b'{"format": 1, "title": NaN}', "title: NaN is not a number"),
            (b'{"format": 1, "title": -Infinity}', "title: -Infinity is not"),
            (b'{"format": 1, "format": 1, "title": "x"}', "'format' is given twice"),
            (b'{"format": 1, "title": "\\ud800"}', "title: it holds half a character"),
            (b'{"format": 1, "title": "a\\u001b[31m"}', "title: it holds the character U.001B"),
            (b'{"format": 1, "title": "x", "on": 0}', "on: a date is written"),
            (b'{"format": 1, "title": "x", "drops": [' + b"{}," * 300 + b"{}]}", "drops: it has 301 entries"),
            (b" " * (MOST_BYTES + 1), "a plan has at most"),
            (b'{"format": 1}', "title: Field required"),
            (b'{"format": 1, "title": "x", "odd": 1}', "odd: Extra inputs"),
        ]
        for text, says in cases:
            with self.subTest(says), self.assertRaisesRegex(PlanError, says):
                read_plan(parse(text))

    def test_infinity_spelt_as_a_number(self):
        with self.assertRaisesRegex(PlanError, "drops/0/section/height_m/value: .*finite"):
            data = json.loads(GOOD)
            data["drops"][0]["section"]["height_m"]["value"] = "HERE"
            read_plan(parse(json.dumps(data).replace('"HERE"', "1e999").encode()))

    def test_schema_accepts_the_demo_and_refuses_a_stranger(self):
        schema = Plan.model_json_schema()
        jsonschema.validate(json.loads(GOOD), schema)
        with self.assertRaises(jsonschema.ValidationError):
            jsonschema.validate({"format": 1, "title": "x", "odd": 1}, schema)
