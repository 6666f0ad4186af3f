"""What changed between two plans, in the words of the plan."""

from __future__ import annotations

from typing import Any

from reamer.core.plan.labels import label_of
from reamer.core.plan.plan import Plan

UNITS = {"_m": " m", "_mm": " mm", "_kn": " kN", "_kg": " kg", "_deg": "°", "_pct": " %"}
# Steps on the way that say nothing by themselves.
SILENT = {"states", "station", "party", "drops", "shed", "ropes", "features", "shots", "value"}
MOST = 3


def _label(place: str) -> str:
    return "" if place.rpartition("/")[2] in SILENT else label_of(place)


def _show(value: Any, key: str) -> str:
    unit = next((word for end, word in UNITS.items() if key.endswith(end)), "")
    if isinstance(value, dict):
        if value.get("kind") == "known":
            return f"{value['value']:g}{unit}"
        if value.get("kind") == "range":
            return f"{value['low_kn']:g}–{value['high_kn']:g} kN"
        return str(value.get("kind", "set"))
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:g}{unit}" if isinstance(value, (int, float)) else str(value) if value not in (None, "") else "none"


def _walk(before: Any, after: Any, place: str, key: str, out: list[str]) -> None:
    if before == after:
        return
    if isinstance(before, list) and isinstance(after, list):
        if all(isinstance(x, dict) and "id" in x for x in before + after):
            old, new = {x["id"]: x for x in before}, {x["id"]: x for x in after}
            for i, item in old.items():
                if i not in new:
                    out.append(f"{place}{_name(item, key)} removed")
            for i, item in new.items():
                if i not in old:
                    out.append(f"{place}{_name(item, key)} added")
                else:
                    _walk(old[i], item, f"{place}{_name(item, key)}: " if "name" in item else place, key, out)
            if list(old) != list(new) and set(old) == set(new):
                out.append(f"{place}{_label(key) or key.rpartition('/')[2]} put in another order")
            return
        out.append(f"{place}{_label(key)} changed")
        return
    if (
        isinstance(before, dict)
        and isinstance(after, dict)
        and before.get("kind") == after.get("kind")
        and before.get("kind") not in ("known", "range")
    ):
        for k in after:
            if k not in before:
                out.append(f"{place}{_label(key + '/' + k)} set")
            else:
                _walk(before[k], after[k], place, f"{key}/{k}", out)
        return
    was, now = _show(before, key), _show(after, key)
    # Of a figure that stays, when it was measured, how or by whom was noted.
    told = f"{was} → {now}" if was != now else f"{now}, noted anew"
    out.append(f"{place}{_label(key)} {told}".replace("  ", " "))


def changes_between(before: dict[str, Any], after: dict[str, Any]) -> str:
    """What is different between two versions of one thing.

    before, after: as plain data
    returns: for example ``measured length 60 m → 59.4 m``
    Source: none, text only.
    """
    out: list[str] = []
    _walk(before, after, "", "", out)
    return "; ".join(out[:MOST]) + (f"; and {len(out) - MOST} more" if len(out) > MOST else "")


def _name(item: dict[str, Any], key: str) -> str:
    kind = {"drops": "drop ", "shots": "shot "}.get(key.rpartition("/")[2], "")
    name = str(item.get("name", item.get("item", item.get("id"))))
    return name if name.lower().startswith(kind) else kind + name


def _last_named(text: str, named: dict[str, str]) -> str:
    """The text with its last word, if that is a thing's id, as its name."""
    head, _, last = text.rpartition(" ")
    return f"{head} {named[last]}" if last in named else text


def _plain(plan: Plan, same: set[str]) -> dict[str, Any]:
    """A plan as plain data, of drops that did not change no more than their names."""
    data = plan.model_dump(mode="json", exclude={"drops"})
    data["drops"] = [{"id": d.id, "name": d.name} if d.id in same else d.model_dump(mode="json") for d in plan.drops]
    return {k: data[k] for k in type(plan).model_fields}


def describe_change(before: Plan | None, after: Plan) -> str:
    """What a revision changed, in one line.

    before: the plan it was made from, None if new; after: the plan saved
    returns: for example ``drop Kettle: height 30 m → 32 m``
    Source: none, text only.
    """
    if before is None:
        return "created"
    out: list[str] = []
    were = {d.id: d for d in before.drops}
    same = {d.id for d in after.drops if (was := were.get(d.id)) is d or was == d}
    _walk(_plain(before, same), _plain(after, same), "", "plan", out)
    if not out:
        return "nothing changed"
    named: dict[str, str] = {}
    for p in (before, after):
        named |= {r.id: r.name for r in p.shed.ropes}
        named |= {w.id: w.name for w in p.shed.webbing} | {r.id: r.name for r in p.shed.rings}
    out = [
        " → ".join(named.get(part, part) if n else _last_named(part, named) for n, part in enumerate(o.split(" → ")))
        for o in out
    ]
    text = "; ".join(out[:MOST]) + (f"; and {len(out) - MOST} more" if len(out) > MOST else "")
    return text[:300]
