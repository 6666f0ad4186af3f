"""A guide's own school of an order: changes of the acts kept once, and made for whoever does the same at any station.

What a school changes it names by whose act it is: "they" are those of whom a move is told, "another" is whoever helps
them, anybody else is who they are at the station: the first, the last, who rigs, who checks. Strands are named by what
they are for."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import groupby

from reamer.core.acts.act import Act, MoveName
from reamer.core.acts.stage import Scene, Stage
from reamer.core.acts.world import strands_key
from reamer.core.answer.say import Sentence
from reamer.core.model import ActAdded, ActEdit, ActName, OwnSchool, Plan

# What one does for whom it names.
HELPS: frozenset[ActName] = frozenset(
    {
        "check",
        "take fireman's belay",
        "take top belay",
        "leave top belay",
        "take lowering belay",
        "leave lowering belay",
        "tie off the belay",
        "undo the belay",
    }
)
# What ends with the person whom it was for; any other act of a helper begins with whoever comes next.
ENDS = ("leave fireman's belay", "lock the tie-off", "leave top belay", "give slack")
# Moves that are told of several people, one after the other, and those in which somebody goes down.
EACH: tuple[MoveName, ...] = ("onto", "turn")
GOES: tuple[MoveName, ...] = ("first", "turn", "last")
THEY, ANOTHER, START = "they", "another", "start"
# The move of which whoever has a role at the station is told.
ROLES: dict[str, MoveName] = {"first": "first", "last": "last", "rigger": "rig", "checker": "check"}


@dataclass(frozen=True, slots=True)
class Followed:
    """An own school at one station. ``people``: whom it is followed for, "" where it is of nobody in particular;
    ``edits``: the changes that it makes of the acts there, none where it has no place there."""

    school: OwnSchool
    people: tuple[str, ...]
    edits: tuple[ActEdit, ...]


@dataclass(frozen=True, slots=True)
class Kept:
    """One change of a station's acts as a school would keep it. ``edit``: its place among the changes, from 0;
    ``move``: of what; ``each``: several people do the same there; ``guest``: whose it is is not able; ``change``: what
    is kept, None where it cannot be, and ``why``."""

    edit: int
    move: MoveName
    each: bool
    guest: bool
    change: ActEdit | None
    why: Sentence | None = None


@dataclass(frozen=True, slots=True)
class _Mark:
    """An act of an order as a school names it: of whom it is told, and what it is."""

    act: Act
    of: str
    what: str


def assigned(acts: Sequence[Act], people: Sequence[str]) -> list[str]:
    """Of whom each act of a move is told: their own, those that name them, and what a helper does for them.

    acts: of one move; people: of whom it is told
    returns: one of them an act, "" where it is of none
    Source: P, common practice, no source: how a station is told.
    """
    whose: list[str] = []
    for a in acts:
        named = a.what.partition(",")[0] if a.do in HELPS else ""
        whose.append(named if named in people else a.who if a.who in people else "")
    for n, a in enumerate(acts):
        if not whose[n]:
            later = next((w for w in whose[n + 1 :] if w), "")
            earlier = next((w for w in reversed(whose[:n]) if w), "")
            whose[n] = (earlier or later) if a.do in ENDS else (later or earlier)
    return whose


def schools_of(plan: Plan, without: Iterable[str]) -> tuple[OwnSchool, ...]:
    """The own schools that are followed at a station.

    plan: the plan; without: those that are not, there
    returns: in their order
    Source: none, a choice.
    """
    return tuple(s for s in plan.shed.own_schools if s.followed and s.id not in without)


def followed(scene: Scene, k: int, acts: Sequence[Act]) -> tuple[Followed, ...]:
    """What the own schools change at a station: for each person whose acts by rule are all there that a school names,
    all its changes; for anybody else none.

    scene: the descent; k: the station, from 0; acts: its acts by rule
    returns: every school that is followed there
    Source: none, the guide's own.
    """
    stage = scene.stages[k]
    schools = schools_of(scene.plan, stage.drop.station.through.without)
    if not schools:
        return ()
    order = _Named(scene, stage, acts)
    return tuple(order.follow(s) for s in schools)


def keepable(scene: Scene, k: int, acts: Sequence[Act]) -> tuple[Kept, ...]:
    """Each change of a station's acts as a school would keep it.

    scene: the descent; k: the station, from 0; acts: its acts by rule
    returns: one a change, in their order
    Source: none, the guide's own.
    """
    edits = scene.stages[k].drop.station.through.edits
    if not edits:
        return ()
    order = _Named(scene, scene.stages[k], acts)
    return tuple(order.keep(n, e, edits) for n, e in enumerate(edits))


class _Named:
    """A station's acts by rule, as schools name them."""

    def __init__(self, scene: Scene, stage: Stage, acts: Sequence[Act]) -> None:
        self.scene, self.stage = scene, stage
        self.order = [b.who for b in stage.backups]
        self.marks: list[_Mark] = []
        self.of_move: dict[MoveName, tuple[str, ...]] = {}
        for move, run in groupby(acts, key=lambda a: a.move):
            some = list(run)
            people = self._people(move, some)
            self.of_move.setdefault(move, people)
            self.marks += [_Mark(a, of, self._what(a, of)) for a, of in zip(some, assigned(some, people), strict=True)]
        self.by_key = {m.act.key: m for m in self.marks}
        self.known: dict[bool, dict[tuple[str, str], _Mark]] = {}

    def _people(self, move: MoveName, acts: Sequence[Act]) -> tuple[str, ...]:
        """Of whom a move by rule is told: who gets onto the rope in it or down; else who does most of it."""
        does = {"onto": ("load device", "tie in")}.get(move, ("descend", "be lowered", "clip passenger"))
        if move in ("onto", *GOES):
            whom = {a.who for a in acts if a.do in does}
            return tuple(i for i in self.order if i in whom)
        who = [a.who for a in acts if a.who]
        return (max(dict.fromkeys(who), key=who.count),) if who else ()

    def _roles(self) -> dict[str, str]:
        """Who is who here."""
        return {role: people[0] for role, move in ROLES.items() if (people := self.of_move.get(move, ()))}

    def _strands(self) -> list[tuple[str, str]]:
        """What the strands here are for, and which they are."""
        made = []
        for way, which in ((self.stage.ways[0], ""), (self.stage.last, "last-")):
            both = strands_key(way.ride)
            made += [(f"{which}{name}", s.key) for name, s in (("pulled", way.pull), ("up", way.up)) if s is not None]
            made.append((f"{which}ridden", both))
            made += [(f"{which}ride-{n}", s.key) for n, s in enumerate(way.ride)]
            if way.threaded is not None:
                made.append((f"{which}threaded", way.threaded.key))
        return made

    def _what(self, act: Act, of: str, roles: bool = False) -> str:
        """What an act is done with, by what it is for. ``roles``: others by who they are, not just as others."""
        who, comma, rest = act.what.partition(",")
        if who in self.order:
            they = THEY if who == of else (self._role(who, act.move) or "?") if roles else ANOTHER
            return f"<{they}>{comma}{self._strand(rest)}"
        text = self._strand(act.what)
        for n, d in enumerate(self.stage.drop.station.deviations):
            text = re.sub(rf"^deviation {re.escape(d.id)}$", f"deviation <{n}>", text)
        return text

    def _strand(self, text: str) -> str:
        """A text with strands named by what they are for."""
        named = self._strands()
        # What is ridden is first of all that.
        whole = sorted((name for name, keys in named if keys and keys == text), key=lambda n: "ridden" not in n)
        if whole:
            return f"<{whole[0]}>"
        for name, key in named:
            if key and "," not in key:
                text = re.sub(rf"(?<![\w-]){re.escape(key)}(?![\w-])", f"<{name}>", text)
        return text

    def _role(self, who: str, move: MoveName) -> str:
        """Who somebody is at the station, "" nobody in particular."""
        names = [r for r, i in self._roles().items() if i == who]
        early = move in ("rig", "check", "rope")
        return min(names, key=lambda r: (r in ("first", "last")) == early, default="")

    def _table(self, everybody: bool) -> dict[tuple[str, str], _Mark]:
        """The acts by whom they are of and what they are. ``everybody``: whoever goes down does it in one move."""
        if everybody not in self.known:
            made, seen = dict[tuple[str, str], _Mark](), dict[tuple[str, str], int]()
            for m in self.marks:
                key = self._key(m, everybody)
                seen[m.of, key] = n = seen.get((m.of, key), 0) + 1
                made[m.of, key if n == 1 else f"{key}#{n}"] = m
            self.known[everybody] = made
        return self.known[everybody]

    def _key(self, m: _Mark, everybody: bool = False) -> str:
        who = THEY if m.act.who == m.of and m.of else ANOTHER if m.act.who else ""
        return _moved(":".join((m.act.move, who, m.act.do, m.what)), everybody)

    # A station's change kept.

    def keep(self, n: int, edit: ActEdit, edits: Sequence[ActEdit]) -> Kept:
        """One change as a school would keep it."""
        own = {f"own:{e.id}": e for e in edits if e.kind == "add"}
        ref, at = _named(edit), set[str]()
        while ref in own and ref not in at:
            # What it comes after was put in by hand: it is of whom that is of.
            at.add(ref)
            ref = own[ref].after
        mark = self.by_key.get(ref)
        if mark is not None and edit.kind == "add":
            begins = self._begins_after(mark)
            if begins is not None and edit.who == begins.of != mark.of:
                # Put in by whoever comes next: it is theirs.
                mark = begins
        if mark is None:
            why = "It is put at the beginning of the station." if ref == "" else "Its act is not one by rule here."
            return Kept(n, "rig", False, False, None, Sentence(why))
        move, of = mark.act.move, mark.of
        each = move in (*EACH, *GOES)
        guest = bool(of) and not self.scene.able(of)
        try:
            return Kept(n, move, each, guest, self._kept(edit, mark, own))
        except _CannotKeep as e:
            return Kept(n, move, each, guest, None, e.why)

    def _kept(self, edit: ActEdit, mark: _Mark, own: dict[str, ActAdded]) -> ActEdit:
        match edit.kind:
            case "drop":
                return edit.model_copy(update={"act": self._ref(edit.act, mark, own)})
            case "reword":
                name = self.scene.name(mark.of) if mark.of else ""
                words = re.sub(rf"\b{re.escape(name)}\b", f"<{THEY}>", edit.words) if name else edit.words
                others = (p.name for p in self.scene.plan.party if p.id != mark.of)
                if any(re.search(rf"\b{re.escape(other)}\b", words) for other in others):
                    raise _CannotKeep("Its words name somebody whom it is not of.")
                return edit.model_copy(update={"act": self._ref(edit.act, mark, own), "words": words})
            case "move":
                act, after = self._ref(edit.act, mark, own), self._after(edit.after, mark, own)
                return edit.model_copy(update={"act": act, "after": after})
            case _:
                who = edit.who
                if who:
                    who = THEY if who == mark.of else self._role(who, mark.act.move)
                    if not who:
                        raise _CannotKeep("{name} is nobody in particular here.", name=self.scene.name(edit.who))
                acts = Act("", mark.act.k, edit.do, edit.who, edit.what, move=mark.act.move)
                what = self._what(acts, mark.of, roles=True)
                if "<?>" in what:
                    named = self.scene.name(edit.what.partition(",")[0])
                    raise _CannotKeep("{name} is nobody in particular here.", name=named)
                after = self._after(edit.after, mark, own)
                return edit.model_copy(update={"after": after, "who": who, "what": what})

    def _ref(self, key: str, mark: _Mark, own: dict[str, ActAdded]) -> str:
        """An act as a school names it."""
        if key in own:
            return key
        m = self.by_key.get(key)
        if m is None:
            raise _CannotKeep("Its act is not one by rule here.")
        if m.of != mark.of and m.act.move in EACH:
            raise _CannotKeep("It stands beside an act of {name}.", name=self.scene.name(m.of) if m.of else "nobody")
        table = self._table(False)
        ref = next(ref for (_, ref), found in table.items() if found is m)
        if m.act.move not in EACH and sum(r == ref for _, r in table) > 1:
            raise _CannotKeep("More than one person does that in this move.")
        return ref

    def _after(self, key: str, mark: _Mark, own: dict[str, ActAdded]) -> str:
        """What a change comes after; before the first act of theirs in a move is told as that."""
        m = self.by_key.get(key)
        if key and m is not None and m.of != mark.of:
            begins = self._begins_after(m)
            if begins is not None and begins.of == mark.of:
                return f"{START}:{begins.act.move}"
        return self._ref(key, mark, own) if key else ""

    def _begins_after(self, m: _Mark) -> _Mark | None:
        """The act that comes after another, where somebody's part in a move begins with it."""
        n = self.marks.index(m) + 1
        if n == len(self.marks):
            return None
        begins = self.marks[n]
        return begins if self._first(f"{START}:{begins.act.move}", begins.of, False) == n else None

    # A school followed.

    def follow(self, school: OwnSchool) -> Followed:
        """What a school changes here."""
        wide = school.whom == "everybody"
        table = self._table(wide)
        refs = [_moved(r, wide) for e in school.edits for r in _refs(e)]
        many = [r for r in refs if _of_each(r)]
        people: list[str] = [""]
        if many:
            people = [i for i in self.order if all((i, r) in table for r in many if not r.startswith(START))]
            people = [i for i in people if school.whom != "guests" or not self.scene.able(i)]
        made, whom = list[ActEdit](), list[str]()
        for of in people if refs else ():
            edits, subjects = list[ActEdit](), list[str]()
            try:
                for e in school.edits:
                    subjects.append(self._subject(school, e, of, wide))
                    edits.append(self._made(school, e, of, subjects[-1], wide))
            except LookupError:
                # One of its changes has no place for them.
                continue
            made += edits
            whom += [of] if of else subjects
        return Followed(school, tuple(dict.fromkeys(i for i in whom if i)), tuple(made))

    def _mark(self, ref: str, of: str, wide: bool) -> _Mark:
        """The act that a school names. Raises LookupError where it is not there, or more than one is."""
        ref = _moved(ref, wide)
        m = self._table(wide).get((of, ref))
        if m is None and not _of_each(ref):
            every = [found for (_, r), found in self._table(wide).items() if r == ref]
            m = every[0] if len(every) == 1 else None
        if m is None:
            raise LookupError(ref)
        return m

    def _first(self, start: str, of: str, wide: bool) -> int:
        """Where somebody's acts in a move begin, from 0: theirs whom a school is followed for, or whose move it is."""
        move = start.partition(":")[2]
        moves = GOES if wide and move in GOES else (move,)
        each = _of_each(_moved(start, wide))
        n = next((n for n, m in enumerate(self.marks) if m.act.move in moves and (m.of == of or not each)), None)
        if n is None:
            raise LookupError(start)
        return n

    def _subject(self, school: OwnSchool, e: ActEdit, of: str, wide: bool) -> str:
        """Whom a change calls "they"."""
        own, ref, seen = {f"own:{x.id}": x for x in school.edits if x.kind == "add"}, _named(e), set[str]()
        while ref in own and ref not in seen:
            seen.add(ref)
            ref = own[ref].after
        if ref.startswith(f"{START}:"):
            return self.marks[self._first(ref, of, wide)].of
        return self._mark(ref, of, wide).of

    def _made(self, school: OwnSchool, e: ActEdit, of: str, they: str, wide: bool) -> ActEdit:
        """One change, for one of those whom a school is for."""
        own = {f"own:{x.id}": f"{school.id}.{x.id}.{of}" for x in school.edits if x.kind == "add"}

        def at(ref: str) -> str:
            return f"own:{own[ref]}" if ref in own else self._mark(ref, of, wide).act.key

        def after(ref: str) -> str:
            if ref.startswith(f"{START}:"):
                n = self._first(ref, of, wide)
                return self.marks[n - 1].act.key if n else ""
            return at(ref) if ref else ""

        match e.kind:
            case "add":
                done = {"who": self._who(e, they), "what": self._with(e, they)}
                return e.model_copy(update={"id": own[f"own:{e.id}"], "after": after(e.after), **done})
            case "move":
                return e.model_copy(update={"act": at(e.act), "after": after(e.after)})
            case "reword":
                words = e.words.replace(f"<{THEY}>", self.scene.name(they) if they else "")
                return e.model_copy(update={"act": at(e.act), "words": words})
            case _:
                return e.model_copy(update={"act": at(e.act)})

    def _who(self, e: ActAdded, of: str) -> str:
        return of if e.who == THEY else self._roles()[e.who] if e.who else ""

    def _with(self, e: ActAdded, of: str) -> str:
        """What an added act is done with, here."""
        named = {**self._roles(), THEY: of}
        for name, key in self._strands():
            named.setdefault(name, key)
        named |= {str(n): d.id for n, d in enumerate(self.stage.drop.station.deviations)}
        return re.sub(r"<([\w-]+)>", lambda m: named[m[1]], e.what)


class _CannotKeep(Exception):
    """A change that no school can keep, and why."""

    def __init__(self, why: str, **named: str) -> None:
        super().__init__(why)
        self.why = Sentence(why, {}, named)


def _named(edit: ActEdit) -> str:
    """The act that a change is of: what it changes, or what is put in after it."""
    return edit.after if edit.kind == "add" else edit.act


def _refs(edit: ActEdit) -> list[str]:
    """The acts by rule, and the beginnings of moves, that a change names."""
    return [r for r in (_named(edit), edit.after if edit.kind == "move" else "") if r and not r.startswith("own:")]


def _of_each(ref: str) -> bool:
    """Whether a name is of an act that each of several people does in their turn."""
    move, _, rest = ref.partition(":")
    return (rest if move == START else move) in (*EACH, "goes")


def _moved(ref: str, everybody: bool) -> str:
    """A name of an act, in one move whoever goes down where it is for everybody."""
    move, colon, rest = ref.partition(":")
    if everybody and move == START and rest in GOES:
        return f"{START}:goes"
    return f"goes{colon}{rest}" if everybody and move in GOES else ref
