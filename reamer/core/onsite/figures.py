"""What a card says of all that can be corrected on site."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.anchor.inspection import newest, used
from reamer.core.assess import Assessment
from reamer.core.model import Drop, Plan, Quick
from reamer.core.station.state import DropAssessment


@dataclass(frozen=True, slots=True)
class EndOnCard:
    """One rope end by its name, and what is to spare at worst [m]; None where it is not known, or not by what it
    needs."""

    end: str
    spare_m: float | None


@dataclass(frozen=True, slots=True)
class AnchorOnCard:
    """One thing that the station is tied to, and its state in the newest record, "" where there is none."""

    item: str
    state: str


@dataclass(frozen=True, slots=True)
class OnCard:
    """What a card says of one station. ``height_m``: None where it is not known; ``pull``: the band, "" where it is not
    known; ``arrive``: when the party is there, early to late, "" where that is not known."""

    drop: str
    station: str
    height_m: float | None
    ends: tuple[EndOnCard, ...]
    anchors: tuple[AnchorOnCard, ...]
    pull: str
    arrive: str


def on_card(plan: Plan, a: Assessment) -> tuple[OnCard, ...]:
    """What a card of a plan says of its stations.

    plan: the plan; a: its assessment
    returns: the stations, in order
    Source: none, gathering.
    """
    times = {t.drop: t.arrive_at for t in a.descent.times.stations}
    made = []
    for drop, d in zip(plan.drops, a.drops, strict=True):
        arrive = " to ".join(dict.fromkeys(times.get(drop.id) or ()))
        last = d.last or d
        pull = last.pull.band if last.pull.worst is not None else ""
        made.append(OnCard(drop.id, drop.name, _height(drop, d), _ends(d), _anchors(drop), pull, arrive))
    return tuple(made)


def _height(drop: Drop, d: DropAssessment) -> float | None:
    if isinstance(drop.section, Quick):
        return drop.section.height_m.known
    return d.height.value if d.height is not None else None


def _ends(d: DropAssessment) -> tuple[EndOnCard, ...]:
    made: dict[str, EndOnCard] = {}
    for state in (d, *([d.last] if d.last is not None else [])):
        for r in state.reach:
            name = f"{r.name} {r.end.upper()}" + (" for the last person" if state is not d else "")
            spare = r.spare.value if r.spare is not None and not r.at_surface else None
            # Two strands that end in the same place are told by the one with less to spare.
            had = made.get(name)
            if had is None or spare is None or (had.spare_m is not None and spare < had.spare_m):
                made[name] = EndOnCard(name, spare)
    return tuple(made.values())


def _anchors(drop: Drop) -> tuple[AnchorOnCard, ...]:
    records = newest(drop.station.inspections)
    names = list(dict.fromkeys(f.name for f in used(drop.station))) or ["the anchor"]
    return tuple(AnchorOnCard(n, r.condition if (r := records.get(n.casefold())) else "") for n in names)
