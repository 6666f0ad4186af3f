"""Units and rounding: the table against a units library."""

import unittest

import pint
from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.say import Number, Sentence, figure, rounded, spoken, words
from reamer.core.tables import units
from tests.outside import Outside

UNITS = Outside("factors of units, metric and US", "a library of units", "pint", "%")


PINT = {
    "m/h": "meter/hour",
    "ft/h": "foot/hour",
    "mm/h": "millimeter/hour",
    "in/h": "inch/hour",
    "min": "minute",
    "m": "m",
    "ft": "ft",
    "mm": "mm",
    "in": "inch",
    "kN": "kN",
    "lbf": "lbf",
    "kg": "kg",
    "lb": "lb",
    "°": "degree",
    "%": "percent",
    "rad": "radian",
    "N": "newton",
    "kg/m": "kg/m",
    "g/m": "g/m",
    "lb/ft": "lb/ft",
    "-": "",
    "": "",
    "×": "",
    "l": "liter",
    "gal": "gallon",
}


class Table(unittest.TestCase):
    def test_factors_agree_with_a_units_library(self):
        registry = pint.UnitRegistry()
        for quantity, row in units().items():
            for system in ("metric", "us"):
                with self.subTest(quantity=quantity, system=system):
                    want = registry.Quantity(1, PINT[row["si"]]).to(PINT[row[system]["unit"]]).magnitude
                    UNITS.near(self, row[system]["factor"], want, 5e-11)


class Rounding(unittest.TestCase):
    @given(st.floats(-1e4, 1e4), st.integers(0, 3))
    def test_the_last_digit_never_flatters(self, value, digits):
        step = 10**-digits
        down, up = rounded(value, digits, "down"), rounded(value, digits, "up")
        self.assertTrue(value - step - 1e-5 <= down <= value + 2e-6 * step + 1e-9)
        self.assertTrue(value - 2e-6 * step - 1e-9 <= up <= value + step + 1e-5)

    def test_words(self):
        self.assertEqual(figure(Number(7.96, "force", "down")), ("7.9", "kN"))
        self.assertEqual(spoken(Number(30.48, "length"), "us"), "100.0 ft")
        self.assertEqual(spoken(Number(-0.04, "length", "near")), "0.0 m")
        said = Sentence("{rope} is {short} short", {"short": Number(5.61, "length", "up")}, {"rope": "Green"})
        self.assertEqual(words(said), "Green is 5.7 m short")
        with self.assertRaises(KeyError):
            words(Sentence("{nothing}"))
