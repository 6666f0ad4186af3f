"""What an item of a check rests on: parts of the plan by name, each with a digest of its content."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Collection, Iterator
from functools import cached_property
from typing import Any

from reamer.core.acts.own import schools_of
from reamer.core.answer.findings import Finding
from reamer.core.answer.say import Sentence, spoken, words
from reamer.core.model import SHED_LISTS, Plan

Rests = dict[str, str]
# The shed's lists whose items stations and people name.
LISTS = tuple(name for name in SHED_LISTS if name not in ("own_figures", "pull_tests"))
# Parts of a station in words, by the fields that each is made of.
STATION = {
    "the anchor": ("features", "inspections"),
    "how the station is used": ("wet", "hanging", "together", "strands_hang", "deviations", "traverse"),
}
# How a station is gone through, apart: who goes and who is backed up how asks more or less of anchor and rope.
THROUGH = {"order and backups": ("order", "backups", "stowed"), "changes of the acts": ("edits", "pauses")}
# A state's own fields that are rope system rather than anchor.
SYSTEM = ("system", "pulled_lies", "threaded", "run_through", "serves")
SURVEY = {"the section": ("section",), "the landing": ("landing",), "the rock": ("rock", "cracks")}
KIT, PEOPLE, CHOICES = "kit", ("the party",), ("margin and schools", "own figures")
WATCH = "limits of water and weather"
EVERYTHING = (*SURVEY, *STATION, *THROUGH, "the rope system", "the way on", WATCH, KIT, *PEOPLE, *CHOICES)
NOT_ACTS = tuple(x for x in EVERYTHING if x != "changes of the acts")
# What a finding rests on by the first word of its code; whatever is not named here rests on everything.
BY_CODE = {
    "section": ("the section", "the landing"),
    **dict.fromkeys(
        ("anchor", "legs", "tree", "post", "ice", "inspection", "webbing", "ring", "connector", "link", "part", "edge"),
        tuple(x for x in NOT_ACTS if x not in ("the landing", "the rock", "the way on")),
    ),
    **dict.fromkeys(("reach", "pull", "block", "join", "end", "rope", "event", "time", "kit", "ledger"), NOT_ACTS),
}


def digest(content: Any) -> str:
    """A digest of plain data, the same for the same content.

    content: what JSON can hold
    returns: 16 hexadecimal digits
    Source: SHA-256, cut.
    """
    text = json.dumps(content, sort_keys=True, ensure_ascii=False, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()[:16]


# What verdicts rested on, in words, before that was told by codes, figures and keys: those stay as long as the words.
IN_WORDS = ("what is said", "the act", "the acts", "who is held by what", "hazards")
# What took the place of those.
BY_FIGURES = ("its figures", "the act itself", "the order of acts", "who is held", "hazards here")
# What an older verdict may not know of: it is not open again for that alone.
LATER = ("names", WATCH)


class Basis:
    """A plan's parts as digests, each worked out once."""

    def __init__(self, plan: Plan, worded: Collection[str] = ()) -> None:
        """worded: keys of items of which a verdict rests on words."""
        self.plan = plan
        self.worded = worded
        self.in_words: dict[str, Rests] = {}
        self._drops: dict[str, Rests] = {}
        self._found: dict[str, list[str]] = {}

    def word(self, key: str, make: Callable[[], Rests]) -> None:
        """Keep what an item rests on in words, where a verdict on it does."""
        if key in self.worded:
            self.in_words[key] = make()

    @cached_property
    def names(self) -> list[tuple[str, str]]:
        """The names of everything in the plan with their keys, the longest first."""
        named = [(name, key) for key, (name, _) in self.shed.items()]
        named += [(p.name, f"party/{p.id}") for p in self.plan.party]
        named += [(d.name, f"drops/{d.id}") for d in self.plan.drops]
        return sorted(((n, k) for n, k in named if n), key=lambda x: (-len(x[0]), x))

    def figures(self, *said: Sentence | None) -> list[Any]:
        """What sentences say apart from their wording: figures as they are told, things by their keys, ends."""
        made: list[Any] = []
        for s in said:
            if s is None:
                made.append(None)
                continue
            numbers = {k: spoken(n) for k, n in s.numbers.items()}
            made.append([numbers, {k: self._keys(v) for k, v in s.words.items()}])
        return made

    def _keys(self, text: str) -> list[str]:
        """The things that a text names, by their keys and names; a text as short as an end is one."""
        found = self._found.get(text)
        if found is None:
            made, rest = [text] if len(text) <= 2 else [], text
            for name, key in self.names:
                if name in rest:
                    made.append(f"{key} {name}")
                    rest = rest.replace(name, "\0")
            found = self._found[text] = sorted(made)
        return found

    @cached_property
    def shed(self) -> dict[str, tuple[str, Any]]:
        """Kit by ``list/id``: its name, and its content without it."""
        data = self.plan.shed.model_dump(mode="json")
        return {
            f"{name}/{item['id']}": (str(item.get("name", item["id"])), {k: v for k, v in item.items() if k != "name"})
            for name in LISTS
            for item in data[name]
        }

    @cached_property
    def whole(self) -> Rests:
        """What all of the plan rests on: party with its kit, choices, own figures."""
        party = [p.model_dump(mode="json", exclude={"name"}) for p in self.plan.party]
        kit = {key: self.shed[key][1] for key in self._kit(party)}
        own = (*self.plan.shed.own_figures, *self.plan.own_figures)
        return {
            "the party": digest([party, kit]),
            "margin and schools": digest(self.plan.policies.model_dump(mode="json")),
            "own figures": digest([f.model_dump(mode="json") for f in (*own, *self.plan.shed.pull_tests)]),
        }

    def _kit(self, data: Any) -> list[str]:
        named = set(_texts(data))
        return [key for key in self.shed if key.partition("/")[2] in named]

    def of_drop(self, drop_id: str) -> Rests:
        """All that a station rests on, by part; kit by ``list/id``."""
        if drop_id not in self._drops:
            drop = next(d for d in self.plan.drops if d.id == drop_id)
            data = drop.model_dump(mode="json")
            station, made = data["station"], Rests()
            for what, fields in SURVEY.items():
                made[what] = digest([data[f] for f in fields])
            for what, fields in STATION.items():
                made[what] = digest([station[f] for f in fields])
            for what, fields in THROUGH.items():
                made[what] = digest([station["through"][f] for f in fields])
            own = schools_of(self.plan, drop.station.through.without)
            if own:
                # Told apart from what verdicts that are older rest on only where there are some.
                changes = [[s.whom, [e.model_dump(mode="json") for e in s.edits]] for s in own]
                made["changes of the acts"] = digest([made["changes of the acts"], changes])
            anchors = [{k: v for k, v in s.items() if k not in SYSTEM} for s in station["states"]]
            made["the anchor"] = digest([made["the anchor"], anchors])
            made["the rope system"] = digest([{k: s[k] for k in SYSTEM} for s in station["states"]])
            made["the way on"] = digest([data["onward"], data["escape"]])
            made[WATCH] = digest(data["watch"])
            kit = self._kit([data["section"], station])
            people = [p.name for p in self.plan.party]
            made["names"] = digest([data["name"], [self.shed[key][0] for key in kit], people])
            made |= {key: digest(self.shed[key][1]) for key in kit}
            self._drops[drop_id] = {**made, **self.whole}
        return self._drops[drop_id]

    def descent(self, acts: bool) -> Rests:
        """What is said of the whole descent rests on: every station's lengths and ropes, all kit, who goes, when; the
        acts where it is said of them."""
        plan = self.plan
        parts = ["the section", "the landing", "the rope system", "the way on"]
        parts += ["the anchor", "how the station is used", *THROUGH] if acts else []
        about = plan.model_dump(mode="json", include={"on", "spot", "start", "last_light", "contingencies", "carry"})
        made = {
            "when, where and what is carried": digest(about),
            "the order of drops": digest([d.id for d in plan.drops]),
        }
        made |= {f"drop/{d.id}": digest([self.of_drop(d.id)[p] for p in parts]) for d in plan.drops}
        kit = {key: content for key, (_, content) in self.shed.items()}
        names = [[n for n, _ in self.shed.values()], [d.name for d in plan.drops], [p.name for p in plan.party]]
        return {**made, "the kit in the shed": digest(kit), "names": digest(names), **self.whole}

    def finding_in_words(self, finding: Finding) -> Rests:
        """What a finding rested on in words."""
        said = [finding.severity, words(finding.title), words(finding.reason), list(finding.drops)]
        return {"what is said": digest(said)}

    def of_finding(self, finding: Finding) -> Rests:
        """What a finding rests on: its own words, and the parts of the plan that it is about."""
        said = [finding.code, finding.severity, list(finding.drops), self.figures(finding.title, finding.reason)]
        made = {"its figures": digest(said)}
        drops = [finding.subject.drop] if finding.subject.drop else list(finding.drops)
        known = {d.id for d in self.plan.drops}
        wanted = BY_CODE.get(finding.code.partition(".")[0], EVERYTHING)
        if not drops:
            return {**made, **self.descent(finding.code.startswith("rehearse."))}
        for drop_id in (d for d in drops if d in known):
            parts = self.of_drop(drop_id)
            mine = {p: of for p, of in parts.items() if p in wanted or ("/" in p and KIT in wanted)}
            # Told apart from what verdicts that are older rest on.
            for p in LATER:
                mine.pop(p, None)
                if p == "names" or p in wanted:
                    made[p] = digest([made.get(p), parts[p]])
            whole = {p: of for p, of in mine.items() if p in self.whole}
            made |= mine if len(drops) == 1 else {f"drop/{drop_id}": digest(mine), **whole}
        return made

    def named(self, part: str) -> str:
        """A part in words."""
        _, of, drop_id = part.rpartition("drop/")
        if of:
            numbers = {d.id: n for n, d in enumerate(self.plan.drops, 1)}
            return f"drop {numbers[drop_id]}" if drop_id in numbers else "a drop that is gone"
        if "/" in part:
            return self.shed[part][0] if part in self.shed else f"{part.partition('/')[2]}, which is gone"
        return part

    def changed(self, before: Rests, now: Rests, key: str = "") -> tuple[str, ...]:
        """What differs between what an item rested on and what it rests on now, in words; key: the item's."""
        if set(before) & set(IN_WORDS):
            worded = self.in_words.get(key, {})
            now = {**{p: of for p, of in now.items() if p not in BY_FIGURES}, **worded}
            now = {p: of for p, of in now.items() if p in before or p not in LATER}
        parts = [p for p in (*now, *(b for b in before if b not in now)) if before.get(p) != now.get(p)]
        return tuple(dict.fromkeys(self.named(p) for p in parts))


def _texts(data: Any) -> Iterator[str]:
    """Every text that stands in plain data as a value."""
    if isinstance(data, str):
        yield data
    elif isinstance(data, dict):
        for value in data.values():
            yield from _texts(value)
    elif isinstance(data, list):
        for value in data:
            yield from _texts(value)
