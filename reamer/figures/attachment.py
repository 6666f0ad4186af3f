"""One person's attachment at one station, to scale: the belay loop, the third hand at its highest, the device."""

from __future__ import annotations

from collections.abc import Callable

from reamer.core.answer.say import Number, UnitSystem, spoken
from reamer.core.model import Person
from reamer.core.people.attachment import Grip
from reamer.figures.svg import ACCENT, CARE, INK, QUIET, ROCK, SHORT, STRIP, Figure

WIDTH, HEIGHT, SCALE = 520.0, 460.0, 320.0
ROPE_X, LABEL_X, ZERO_Y = 190.0, 262.0, 390.0
SAYS = {
    "fits": "The third hand stays clear of the device.",
    "reaches": "The third hand reaches the device: it cannot grip.",
    "too short": "The loop is too short to wrap.",
    "unknown": "Not checked.",
    "none": "Not checked.",
}


def attachment(person: Person, grip: Grip, where: str, units: UnitSystem = "metric") -> str:
    """A person's attachment as a figure.

    person: whose; grip: their third hand on the strands of one station; where: the station's name; units: of the
    figures
    returns: the SVG
    Source: none, drawn from what was computed.
    """
    made = Figure(WIDTH, HEIGHT, f"{person.name}’s attachment at {where}")
    made.text(20, 32, f"{person.name}, {where}", 16, INK, True)
    colour = INK if grip.stand == "fits" else QUIET if grip.stand in ("unknown", "none") else SHORT
    made.text(20, 54, SAYS[grip.stand] + (f" {grip.why}" if grip.why else ""), 13, colour, grip.stand != "fits")
    device, top, clipped = grip.device, grip.top, grip.clipped
    highest = max((n.value for n in (device, top) if n is not None), default=0.6)
    scale = min(SCALE, (ZERO_Y - 100) / max(0.3, highest + 0.1))

    def y(metres: float) -> float:
        return ZERO_Y - metres * scale

    made.box(ROPE_X - 44, y(0) - 8, 88, 16, STRIP, rx="8")
    made.text(ROPE_X - 56, y(0) + 5, "belay loop", 13, INK, False, "end")
    made.path(f"M{ROPE_X} 76V{HEIGHT - 46}", ROCK, 7)
    if device is None or top is None or clipped is None or grip.reach is None or grip.clear is None:
        return str(made)
    made.path(f"M{ROPE_X - 30} {y(0):.1f}V{y(device.value):.1f}", QUIET, 3)
    made.box(ROPE_X - 20, y(device.value) - 34, 40, 34, INK, rx="9")
    rows = [(device.value, f"device, its lower edge {spoken(device, units)} up", INK)]
    start = y(clipped.value)
    made.path(f"M{ROPE_X + 26} {start:.1f}L{ROPE_X + 4} {y(top.value) + 10:.1f}", ACCENT, 3)
    made.box(ROPE_X - 9, y(top.value), 18, max(8.0, min(30.0, start - y(top.value))), ACCENT, rx="4")
    rows.append((top.value, f"third hand at its highest, {spoken(top, units)} up", ACCENT))
    rows.append((clipped.value, f"where it is clipped, {spoken(clipped, units)}", QUIET))
    _labels(made, rows, y)
    short = grip.stand != "fits"
    left = Number(abs(grip.clear.value), "fine length", "down")
    said = f"{spoken(left, units)} {'stays' if grip.clear.value >= 0 else 'too far'}"
    made.text(20, HEIGHT - 18, said + (f"; {grip.wraps} wraps keep it clear" if short and grip.wraps else ""), 13, CARE)
    return str(made)


def _labels(made: Figure, rows: list[tuple[float, str, str]], y: Callable[[float], float]) -> None:
    """The measures beside the rope, apart from one another."""
    last = -1e9
    for metres, text, colour in sorted(rows, key=lambda r: -r[0]):
        at = y(metres)
        line = max(at + 4, last + 17)
        last = line
        made.path(f"M{ROPE_X + 30} {at:.1f}L{LABEL_X - 6} {line - 4:.1f}", colour, 1)
        made.text(LABEL_X, line, text, 13, colour)
