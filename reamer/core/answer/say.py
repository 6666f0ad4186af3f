"""Numbers and sentences as one object: a text cannot drift from its number.

A Sentence is a template with named numbers in it. It is put into words here for the command line and, by the
same table of units and the same rounding, in the front end for the screen; browser tests hold the two together."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from pydantic import Field as Excluded

from reamer.core.tables import RangeEnd, units

Quantity = Literal[
    "length",
    "fine length",
    "paid out",
    "diameter",
    "force",
    "mass",
    "angle",
    "degrees",
    "percent",
    "share",
    "part",
    "ratio",
    "count",
    "pull",
    "line mass",
    "minutes",
    "litres",
    "weight",
    "rise",
    "rain",
]
UnitSystem = Literal["metric", "us"]
Toward = Literal["near", "down", "up"]
# Which way the ends of a range of what something holds or has are rounded.
TOWARD: dict[RangeEnd, Toward] = {"low": "down", "high": "up"}


@dataclass(slots=True)
class Number:
    """A value in the quantity's base unit, which way its last shown digit is rounded, its working's key; ``behind``:
    that working itself where it is wanted, which is not sent with it.

    Capacities, lengths and spares round down, demands and needs up, so that a shown figure never flatters.
    """

    value: float
    quantity: Quantity
    toward: Toward = "near"
    working: str = ""
    behind: Annotated[Any, Excluded(exclude=True)] = field(default=None, compare=False, repr=False)


def listed(told: Sequence[str], last: str = "and") -> str:
    """Some names as they are said: "a", "a and b", "a, b and c".

    told: the names; last: what stands before the last
    returns: the words, "" for none
    Source: none, text only.
    """
    return f" {last} ".join(filter(None, (", ".join(told[:-1]), told[-1]))) if told else ""


@dataclass(frozen=True, slots=True)
class Sentence:
    """A template such as ``needs {need}`` and the numbers and words it names."""

    template: str
    numbers: dict[str, Number] = field(default_factory=dict)
    words: dict[str, str] = field(default_factory=dict)


def run_on(sentences: Iterable[Sentence]) -> Sentence:
    """Sentences one after another, as one.

    sentences: in order
    returns: the sentence that says them all
    Source: none, text only.

    >>> words(run_on([Sentence("{m} left.", {"m": Number(2.0, "length")}), Sentence("Not {m}.", {}, {"m": "none"})]))
    '2.0 m left. Not none.'
    """
    templates, numbers, named = [], dict[str, Number](), dict[str, str]()
    for i, s in enumerate(sentences):
        templates.append(re.sub(r"\{(\w+)\}", rf"{{\g<1>_{i}}}", s.template))
        numbers |= {f"{k}_{i}": v for k, v in s.numbers.items()}
        named |= {f"{k}_{i}": v for k, v in s.words.items()}
    return Sentence(" ".join(templates), numbers, named)


def rounded(value: float, digits: int, toward: Toward) -> float:
    """A value rounded to some digits, toward the stated side.

    value: any [-]; digits: decimals kept [-]; toward: near, down or up
    returns: the rounded value [-]
    Source: J, our judgement: the last digit shown never flatters.

    >>> rounded(7.96, 1, "down"), rounded(7.94, 1, "up"), rounded(-0.03, 1, "down")
    (7.9, 8.0, -0.1)
    """
    step = 10.0**digits
    scaled = value * step
    if toward == "down":
        whole = math.floor(scaled + 1e-6)
    elif toward == "up":
        whole = math.ceil(scaled - 1e-6)
    else:
        whole = math.floor(scaled + 0.5)
    return whole / step + 0.0  # + 0.0 turns -0.0 into 0.0


def figure(number: Number, system: UnitSystem = "metric") -> tuple[str, str]:
    """A number as shown: the figure and its unit.

    number: the number [its quantity's base unit]; system: metric or US
    returns: figure with a true minus sign, and unit
    Source: units.json.

    >>> figure(Number(-5.61, "length", "down"))
    ('−5.7', 'm')
    """
    shown = units()[number.quantity][system]
    # What is measured out by hand goes by larger steps than one of the last digit.
    step = shown.get("step", 1)
    value = rounded(number.value * shown["factor"] / step, 0 if step != 1 else shown["digits"], number.toward) * step
    text = f"{value:.{shown['digits']}f}"
    return text.replace("-", "−"), shown["unit"]


def spoken(number: Number, system: UnitSystem = "metric") -> str:
    """A number with its unit, as it stands in a sentence.

    number: the number [its quantity's base unit]; system: metric or US
    returns: for example ``37.1 m``
    Source: units.json.
    """
    text, unit = figure(number, system)
    return text + ("" if unit in ("", "°") else " ") + unit


def ranged(low: Number, high: Number, system: UnitSystem = "metric") -> str:
    """A range in words; what has one value is said as one.

    low, high: its ends [the quantity's base unit]; system: metric or US
    returns: as "8.0 kN to 9.0 kN", or "25.0 kN"
    Source: units.json.
    """
    return spoken(low, system) if low.value == high.value else f"{spoken(low, system)} to {spoken(high, system)}"


def words(sentence: Sentence, system: UnitSystem = "metric") -> str:
    """A sentence in words.

    sentence: template and numbers; system: metric or US
    returns: the text; an unknown name in the template raises KeyError
    Source: units.json.

    >>> words(Sentence("needs {need}", {"need": Number(37.04, "length", "up")}))
    'needs 37.1 m'
    """

    def put(match: re.Match[str]) -> str:
        name = match[1]
        if name in sentence.numbers:
            return spoken(sentence.numbers[name], system)
        return sentence.words[name]

    return re.sub(r"\{(\w+)\}", put, sentence.template)
