"""The whole descent on one sheet: profile to scale, ropes, times, what if, points of no return, what stays."""

from __future__ import annotations

import textwrap

from reamer.core.answer.context import context
from reamer.core.answer.say import UnitSystem, spoken, words
from reamer.core.assess import Assessment
from reamer.core.descent.field import Cell, Mark
from reamer.core.descent.ledger import Rigged
from reamer.core.descent.prospect import Prospect
from reamer.core.model import Plan, Record
from reamer.core.second.check import Count, Tally, counts_of, standing
from reamer.core.station.state import DropAssessment
from reamer.figures.svg import ACCENT, CARE, INK, OPEN, PAPER, QUIET, ROCK, RULE, SHORT, STRIP, Figure, cut

WIDTH, LEFT, TOP, LEAST = 1280.0, 300.0, 172.0, 58.0
ROPE, CELL = 62.0, 58.0
HEADS = {
    "stuck": ("rope", "stuck"),
    "lost": ("rope", "lost"),
    "anchor": ("anchor", "gone"),
    "longer": ("longer", "by"),
    "wet": ("wet", "rope"),
    "heavier": ("all", "heavier"),
    "hurt": ("rider", "hurt"),
    "one short": ("one", "short"),
    "dark": ("to the", "way out"),
}
COLOURS: dict[Mark, str] = {
    "works": QUIET,
    "figure": INK,
    "other way": INK,
    "way off": CARE,
    "strands": SHORT,
    "fails": SHORT,
    "not checked": OPEN,
}
CAUTION = (
    "This is arithmetic on what was entered. Rigging can kill; real parts vary, age and are mis-tied. Practise under a"
    " qualified instructor; local rules, makers' instructions and licensed guides' practice come first; the person at"
    " the anchor decides."
)


def _duration(minutes: float) -> str:
    return f"{int(minutes) // 60} h {int(minutes) % 60:02d}"


class _Sheet:
    """The sheet as it is drawn: where each station's row lies, and the columns."""

    def __init__(
        self, plan: Plan, a: Assessment, seen: Prospect, units: UnitSystem, counts: dict[str, Count], tally: Tally
    ) -> None:
        self.plan, self.a, self.seen, self.units, self.counts, self.tally = plan, a, seen, units, counts, tally
        self.ropes = [r for r in plan.shed.ropes if r.id in a.descent.ledger.ropes]
        tall = [max(0.0, d.height.value) if d.height else 6.0 for d in a.drops]
        self.scale = min(6.0, max(1.2, 560 / max(1.0, sum(tall))))
        self.rows: list[float] = []
        y = TOP
        for h in tall:
            self.rows.append(y)
            y += max(LEAST, h * self.scale)
        self.end = y
        left = 108 if a.descent.kit.left_in_all or a.descent.kit.spare else 60
        self.height = self.end + 40 + left + 14 * max(1, len(seen.findings) and 2)
        self.x_rope = LEFT + 24
        self.x_time = self.x_rope + ROPE * len(self.ropes) + 16
        self.x_event = self.x_time + 128
        self.width = max(WIDTH, self.x_event + CELL * len(HEADS) + 24)
        self.f = Figure(self.width, self.height, f"{plan.title}, the whole descent")

    def head(self) -> None:
        """Title, the answer first, and the heads of the columns."""
        plan, a, f, chosen = self.plan, self.a, self.f, self.seen.choice.carried
        f.box(0, 0, self.width, 46, "#1f2b34")
        f.text(20, 30, cut(plan.title, 50), 19, "#f3eee3", True)
        where = " · ".join(x for x in (plan.place, str(plan.on) if plan.on else "") if x)
        f.text(self.width - 20, 29, where, 13, "#f3eee3", anchor="end")
        drops = f"{spoken(a.total_height, self.units)} in {len(a.drops)} drops"
        f.text(20, 76, drops, 17, bold=True)
        for n, (name, part, yet) in enumerate(self.tally.named):
            count = part.count
            short, accepted = count.open["Shortfall"], sum(count.accepted.values())
            told = [f"{short} shortfall{'' if short == 1 else 's'}", f"{count.open['Not checked']} not checked"]
            told += [f"{accepted} accepted"] if accepted else []
            told += [f"{count.overruled} overruled"] if count.overruled else []
            told += [f"{count.objections} objected to"] if count.objections else []
            # While not all is worked out there is no 0.
            told = [x for x in told if not x.startswith("0 ")] + [yet] if part.pending else told
            said = " · ".join(told)
            f.text(20, 94 + 13 * n, f"{name}: {said}", 11, SHORT if short else QUIET)
        names = ", ".join(r.name for r in self.plan.shed.ropes if r.id in chosen.ropes) or "no rope"
        weight = spoken(chosen.kg, self.units) + (f" and {chosen.unweighed} not weighed" if chosen.unweighed else "")
        f.text(LEFT + 20, 76, f"Carry {names} · {weight}", 17, bold=True)
        told = [words(s, self.units) for s in self.seen.choice.fails[:1]]
        if a.descent.times.out_at:
            told.append(f"out {' to '.join(a.descent.times.out_at)}")
        told += list(a.descent.times.words[:1])
        f.text(LEFT + 20, 96, " · ".join(told), 12.5, QUIET)
        for i, r in enumerate(self.ropes):
            x = self.x_rope + ROPE * i + ROPE / 2
            for n, line in enumerate(textwrap.wrap(r.name, 10)[:2]):
                f.text(x, 124 + 13 * n, cut(line, 10), 11, bold=True, anchor="middle")
            f.rope(f"M{x - 12} 146h24", r, 5)
        f.text(self.x_time, 128, "to be there", 11.5, bold=True)
        f.text(self.x_time, 142, "early, late", 11, QUIET)
        for i, pair in enumerate(HEADS.values()):
            x = self.x_event + CELL * i + CELL / 2
            f.text(x, 128, pair[0], 11.5, bold=True, anchor="middle")
            f.text(x, 142, pair[1], 11, QUIET, anchor="middle")

    def profile(self) -> None:
        """The drops to scale down the left, in one line."""
        f, x, pts = self.f, 30.0, [(0.0, TOP), (30.0, TOP)]
        out = [max(0.0, t[-1].x_m) if (t := d.geometry.terrain) else 0.0 for d in self.a.drops]
        walk = min(5.0, 36 / len(out)) if out else 0.0
        wide = min(self.scale, 44 / max(1.0, sum(out)))
        for i, d in enumerate(self.a.drops):
            top = self.rows[i]
            foot = self.rows[i + 1] if i + 1 < len(self.rows) else self.end
            pts.append((x, top))
            terrain = d.geometry.terrain
            if d.geometry.missing or len(terrain) < 2:
                pts.append((x + 6, top + 6 * self.scale))
            else:
                pts += [(x + t.x_m * wide, top - t.z_m * self.scale) for t in terrain]
            x = pts[-1][0] + walk
            pts.append((x, min(foot, pts[-1][1])))
            pts.append((x, foot))
        line = "M" + "L".join(f"{px:.1f} {py:.1f}" for px, py in pts)
        f.box(0, 108, LEFT, self.end - 108 + 8, STRIP)
        f.path(f"{line}L{x:.1f} {self.end + 8:.1f}L0 {self.end + 8:.1f}Z", "none", 0, ROCK)
        f.path(line, INK, 1.6)

    def station(self, i: int, d: DropAssessment) -> None:
        """One station: its name, its ropes, when to be there, what if."""
        f, y, foot = self.f, self.rows[i], self.rows[i + 1] if i + 1 < len(self.rows) else self.end
        f.path(f"M{LEFT} {y}H{self.width - 16}", RULE, 1)
        f.text(148, y + 15, f"{d.number}", 13, bold=True)
        f.text(166, y + 15, f"{spoken(d.height, self.units) if d.height else '?'}  {cut(d.name, 16)}", 12.5)
        stands = self.counts[d.id].open
        bad = [f"{n} {k.lower()}" for k, n in stands.items() if n and k in ("Shortfall", "Not checked")]
        if bad:
            f.text(166, y + 30, " · ".join(bad), 11, SHORT if stands["Shortfall"] else OPEN)
        entry = self.a.descent.ledger.entries[i]
        state = entry.states[-1]
        for n, rope in enumerate(self.ropes):
            x = self.x_rope + ROPE * n + ROPE / 2
            if entry.places.get(rope.id) != "in use":
                f.path(f"M{x} {y + 4}V{foot - 4}", QUIET, 1.4, **{"stroke-dasharray": "1.5 4"})
                continue
            hung = [s for st in entry.states for s in st.strands if s.rope == rope.id]
            ends = list(dict.fromkeys(s.end for s in hung))
            for k in range(len(ends)):
                at = x + (k - (len(ends) - 1) / 2) * 11
                f.rope(f"M{at} {y + 8}V{foot - 12}", rope, 5.5)
            f.path(f"M{x - 7} {y + 8}a7 7 0 1 1 14 0a7 7 0 1 1 -14 0", INK, 2, PAPER)
            told = _roles(state, rope.id) or _roles(entry.states[0], rope.id)
            f.text(x + 14, y + 24, told, 10.5, QUIET)
            if state.first is not None and state.first.rope == rope.id:
                f.path(f"M{x - 6} {foot - 12}l6 8l6 -8", INK, 1.8)
        t = self.a.descent.times.stations[i]
        if t.arrive_at:
            early, late = t.arrive_at
            f.text(self.x_time, y + 16, early if early == late else f"{early}–{late}", 12.5)
        elif t.arrive:
            f.text(self.x_time, y + 16, f"+{_duration(t.arrive[0].value)}–{_duration(t.arrive[1].value)}", 12)
        else:
            f.text(self.x_time, y + 16, "not checked", 12, OPEN)
        for n, c in enumerate(self.seen.rows[i].cells):
            self.cell(c, self.x_event + CELL * n + CELL / 2, y)

    def cell(self, c: Cell, x: float, y: float) -> None:
        """One event at one station: a mark and a word."""
        f, colour = self.f, COLOURS[c.mark]
        if c.number is not None and c.mark in ("figure", "fails") and c.event in ("longer", "dark"):
            said = _duration(c.number.value) if c.event == "dark" else spoken(c.number, self.units)
            f.text(x, y + 20, said, 12, colour, True, "middle")
            return
        mark = {
            "works": f"M{x - 3} {y + 14}a3 3 0 1 1 6 0a3 3 0 1 1 -6 0",
            "other way": f"M{x - 7} {y + 14}h13m-5 -5l5 5l-5 5",
            "way off": f"M{x - 6} {y + 19}v-10h12",
            "strands": f"M{x - 5} {y + 9}l10 10m0 -10l-10 10",
            "fails": f"M{x - 5} {y + 9}l10 10m0 -10l-10 10",
            "not checked": "",
            "figure": "",
        }[c.mark]
        if mark:
            f.path(mark, colour, 2, colour if c.mark == "works" else "none")
        else:
            f.text(x, y + 19, "?", 14, colour, True, "middle")
        for n, line in enumerate([c.word] if len(c.word) <= 10 else c.word.split(" ", 1)):
            f.text(x, y + 33 + 11 * n, line, 10, colour, c.mark in ("strands", "fails", "not checked"), "middle")

    def returns(self) -> None:
        """The points of no return, drawn across."""
        index = {d.id: i for i, d in enumerate(self.a.drops)}
        for r in self.seen.returns:
            i = index[r.drop]
            y = (self.rows[i + 1] if i + 1 < len(self.rows) else self.end) - 3
            self.f.path(f"M{LEFT} {y}H{self.width - 16}", ACCENT, 2, **{"stroke-dasharray": "10 3 2 3"})
            turn = self.a.descent.times.stations[i].turn_round_at
            told = f"after this pull: no way up · no way out before {'the end' if r.ends else f'the foot of {r.until}'}"
            told += f" · begin it by {turn}" if turn else ""
            self.f.text(self.width - 20, y - 5, told, 11, CARE, True, "end")

    def foot(self) -> None:
        """What stays and what is spare, the worst of what is said, and the caution."""
        f, kit, y = self.f, self.a.descent.kit, self.end + 34
        out = self.a.descent.times.out_at
        f.text(self.x_time, self.end + 16, f"out {out[0]}–{out[1]}" if out else "", 12.5, bold=True)
        left = ", ".join(words(s, self.units) for s in kit.left_in_all) or "nothing"
        f.text(20, y + 12, f"Left behind: {left}.", 13)
        spare = ", ".join(words(s, self.units) for s in kit.spare) or "nothing"
        f.text(20, y + 30, f"Spare: {spare}.", 13)
        for n, said in enumerate(self.seen.findings[:2]):
            colour = {"Shortfall": SHORT, "Not checked": OPEN, "Caution": CARE, "Note": QUIET}[said.severity]
            f.text(
                20, y + 50 + 17 * n, cut(f"{said.severity}: {words(said.title, self.units)}", 150), 12.5, colour, True
            )
        f.text(20, self.height - 12, CAUTION, 10, QUIET)


def _roles(state: Rigged, rope: str) -> str:
    """What a rope does at a station, in a word or two."""
    roles = list(dict.fromkeys(s.role for s in state.strands if s.rope == rope))
    if roles == ["ride and pull"]:
        return "ride"
    return ", ".join("ride" if r == "ride and pull" else r for r in roles)


def overview(
    plan: Plan,
    a: Assessment,
    seen: Prospect,
    units: UnitSystem = "metric",
    record: Record = Record(),  # noqa: B008  it does not change
) -> str:
    """The whole descent as one figure.

    plan: the plan; a: its assessment; seen: what lies ahead; units: metric or US; record: what was said of it
    returns: the SVG
    Source: none, drawing.
    """
    own = [*(f for d in a.drops for f in d.findings), *a.findings, *seen.findings]
    stands = standing(context(plan), a, record, seen.findings)
    sheet = _Sheet(plan, a, seen, units, stands.counts or counts_of(plan, own, ()), stands.tally)
    sheet.profile()
    sheet.head()
    for i, d in enumerate(a.drops):
        sheet.station(i, d)
    sheet.returns()
    sheet.foot()
    return str(sheet.f)
