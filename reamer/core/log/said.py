"""What the plan says of each station, as it is kept with a descent's log."""

from __future__ import annotations

from reamer.core.answer.say import Number
from reamer.core.assess import Assessment
from reamer.core.descent.times import StationTime
from reamer.core.model import Drop, Plan, Quick, System
from reamer.core.plan.log import LoggedStation, Said
from reamer.core.plan.people import Person
from reamer.core.station.state import DropAssessment


def system_of(system: System) -> str:
    """What a rope system is called, where times are told by it.

    system: any
    returns: the kind, "" for none
    Source: none.
    """
    return "" if system.kind == "none" else system.kind


def stations_of(plan: Plan, a: Assessment) -> tuple[LoggedStation, ...]:
    """Every station with what the plan says of it, and nothing noted yet.

    plan: the plan; a: its assessment
    returns: the stations, in order
    Source: none, gathering.
    """
    times = {t.drop: t for t in a.descent.times.stations}
    return tuple(
        LoggedStation(drop=drop.id, station=drop.name, said=_said(drop, d, times.get(drop.id), plan.party))
        for drop, d in zip(plan.drops, a.drops, strict=True)
    )


def _said(drop: Drop, d: DropAssessment, t: StationTime | None, party: tuple[Person, ...]) -> Said:
    quick = drop.section if isinstance(drop.section, Quick) else None
    height = quick.height_m.known if quick is not None else d.height.value if d.height is not None else None
    if quick is not None:
        method = str(quick.height_m.method) if quick.height_m.kind == "known" else ""
    else:
        methods = {
            str(s.slope_m.method) if s.slope_m.kind == "known" else "" for s in getattr(drop.section, "shots", ())
        }
        method = methods.pop() if len(methods) == 1 else ""
    last = d.last or d
    spares = [r.spare.value for r in d.reach if r.spare is not None and not r.at_surface]
    path = [b.nominal.value for b in (d.taut, d.draped) if b is not None]
    way = drop.onward[0] if drop.onward is not None and len(drop.onward) == 1 else None
    way_m = way.length_m.known if way is not None and way.kind != "halt" else None
    return Said(
        height_m=height,
        method=method,
        pull_n=last.pull.worst.value if last.pull.worst is not None else None,
        band=last.pull.band if last.pull.worst is not None else "",
        system=system_of(drop.station.states[0].system),
        rock=drop.rock,
        people=len(party),
        line_m=max(path, default=None),
        spare_m=min(spares, default=None),
        rig=_span(t.rig if t else None),
        ride=_span(t.ride if t else None),
        down=_span(t.down if t else None),
        onward=_span(t.onward if t else None),
        way=way.kind if way is not None and way_m is not None else "",
        way_m=way_m,
        position=drop.position,
    )


def _span(span: tuple[Number, Number] | None) -> tuple[float, float] | None:
    return (span[0].value, span[1].value) if span is not None else None
