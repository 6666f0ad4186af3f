"""Where the focal point of several points comes to rest under a load, and how much each leg then carries.

Every leg, and every loop that slides through the ring, is an elastic member that pulls and never pushes. The ring rests
where the energy of the members less the load's work is least. That energy is convex, so Newton's method with a
shortened step finds the one place; all load directions and all removals are solved side by side as arrays."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Point3 = tuple[float, float, float]
STEPS = 120
NEAR = 1e-10


@dataclass(frozen=True, slots=True)
class Member:
    """One elastic member: the points it runs to, its length before any load [m], its stiffness [kN/m].

    A leg of its own runs to one point; a loop through which the ring slides runs to all of its points, and its length
    is the sum over them.
    """

    points: tuple[int, ...]
    length_m: float
    stiffness_kn_m: float


@dataclass(frozen=True, slots=True)
class Rest:
    """Where the ring rests, what it pulls from each point [kN], and the stiffness along the load [kN/m]."""

    at: tuple[float, float, float]
    pull_kn: tuple[float, ...]
    along_kn_m: float
    settled: bool


def rest(
    points: Sequence[Point3],
    members: Sequence[Member],
    start: Point3,
    loads: Sequence[Point3],
    without: Sequence[int | None] | None = None,
) -> list[Rest]:
    """Where the ring rests under each load, and the pull on each point.

    points: the anchor's points [m]; members: what joins them to the ring; start: where the ring was tied [m]
    loads: forces on the ring [kN]; without: for each load the point that is gone, None if none
    returns: one rest a load; ``settled`` is false where no balance was found
    Source: HB, least potential energy of a linear elastic net; tension only.
    """
    return list(_rest(tuple(points), tuple(members), tuple(start), tuple(loads), tuple(without or [None] * len(loads))))


Array = NDArray[np.float64]


class _Net:
    """An elastic net in many cases side by side: one load a case, and the points that are left in it."""

    def __init__(
        self,
        points: Sequence[Point3],
        members: Sequence[Member],
        loads: Sequence[Point3],
        without: Sequence[int | None],
    ) -> None:
        self.p, self.f = np.asarray(points, float), np.asarray(loads, float)
        there = np.ones((len(self.f), len(self.p)), bool)
        for i, n in enumerate(without):
            if n is not None:
                there[i, n] = False
        runs = np.zeros((len(members), len(self.p)), bool)
        for m, member in enumerate(members):
            runs[m, list(member.points)] = True
        left = runs[None] & there[:, None]
        self.length = np.array([m.length_m for m in members])
        # A member none of whose points is left holds nothing.
        self.stiff: Array = np.array([m.stiffness_kn_m for m in members]) * left.any(2)
        self.live: Array = left.astype(float)  # case, member, point
        self.scale: Array = np.maximum(np.linalg.norm(self.f, axis=1), 1e-9)

    def parts(self, x: Array) -> tuple[Array, Array, Array]:
        """From every point to the ring: which way, how far; and by how much each member is stretched."""
        to = x[:, None] - self.p[None]
        far: Array = np.maximum(np.linalg.norm(to, axis=2), 1e-9)
        stretch: Array = np.maximum(np.einsum("cmp,cp->cm", self.live, far) - self.length, 0.0)
        return to / far[..., None], far, stretch

    def energy(self, x: Array, stretch: Array) -> Array:
        """Of the members, less the load's work."""
        held: Array = 0.5 * (self.stiff * stretch**2).sum(1)
        worked: Array = (self.f * x).sum(1)
        return held - worked

    def step(self, unit: Array, far: Array, stretch: Array) -> tuple[Array, Array]:
        """The gradient of the energy, and Newton's step, no longer than a metre."""
        tension = self.stiff * stretch
        along = np.einsum("cmp,cpd->cmd", self.live, unit)
        gradient: Array = np.einsum("cm,cmd->cd", tension, along) - self.f
        across = np.einsum("cm,cmp,cp->cp", tension, self.live, 1 / far)
        eye = np.eye(3)
        hessian = (
            np.einsum("cm,cmd,cme->cde", (stretch > 0) * self.stiff, along, along)
            + across.sum(1)[:, None, None] * eye
            - np.einsum("cp,cpd,cpe->cde", across, unit, unit)
        )
        # Slack directions have no stiffness of their own: a little of it keeps the step finite.
        soft = 1e-6 * (1 + np.trace(hessian, axis1=1, axis2=2))
        step: Array = np.linalg.solve(hessian + soft[:, None, None] * eye, -gradient[..., None])[..., 0]
        long = np.linalg.norm(step, axis=1)
        return gradient, step * np.minimum(1.0, 1.0 / np.maximum(long, 1e-12))[:, None]

    def shortened(self, x: Array, stretch: Array, gradient: Array, step: Array) -> Array:
        """The step as long as it makes things better, in each case."""
        before, slope = self.energy(x, stretch), np.einsum("cd,cd->c", gradient, step)
        size = np.ones(len(self.f))
        for _ in range(40):
            trial = x + size[:, None] * step
            unit, _, stretch = self.parts(trial)
            # Near the end the energy no longer tells one place from another, but the balance of forces still does.
            left = np.linalg.norm(self.pulls(unit, stretch) - self.f, axis=1)
            worse = (self.energy(trial, stretch) > before + 1e-4 * size * slope) & (
                left > 0.9 * np.linalg.norm(gradient, axis=1)
            )
            if not worse.any():
                break
            size = np.where(worse, size / 2, size)
        made: Array = x + size[:, None] * step
        return made

    def pulls(self, unit: Array, stretch: Array) -> Array:
        """What all members together pull the ring with."""
        made: Array = np.einsum("cm,cmp,cpd->cd", self.stiff * stretch, self.live, unit)
        return made


@lru_cache(maxsize=256)
def _rest(
    points: tuple[Point3, ...],
    members: tuple[Member, ...],
    start: Point3,
    loads: tuple[Point3, ...],
    without: tuple[int | None, ...],
) -> tuple[Rest, ...]:
    """As ``rest``; kept, since what is compared at one station hangs on one anchor."""
    net = _Net(points, members, loads, without)
    # Begin a little way along the load, so that the members are taut and have something to push against.
    x: Array = np.tile(np.asarray(start, float), (len(loads), 1)) + net.f / net.scale[:, None] * 1e-3
    unit, far, stretch = net.parts(x)
    for _ in range(STEPS):
        gradient, step = net.step(unit, far, stretch)
        if np.all(np.linalg.norm(gradient, axis=1) <= NEAR * net.scale):
            break
        x = net.shortened(x, stretch, gradient, step)
        unit, far, stretch = net.parts(x)
    pull = np.einsum("cm,cmp->cp", net.stiff * stretch, net.live)
    balance = np.linalg.norm(np.einsum("cp,cpd->cd", pull, unit) - net.f, axis=1) <= 1e-6 * net.scale
    along = np.einsum("cmp,cpd,cd->cm", net.live, unit, net.f / net.scale[:, None])
    k = (net.stiff * (stretch > 0) * along**2).sum(1)
    return tuple(
        Rest(_point(x[i]), tuple(map(float, pull[i])), float(k[i]), bool(balance[i])) for i in range(len(loads))
    )


def _point(x: Array) -> Point3:
    return float(x[0]), float(x[1]), float(x[2])


def swings(
    direction: tuple[float, float, float],
    swing_rad: float,
    points: list[tuple[float, float, float]],
    focal: tuple[float, float, float],
) -> list[tuple[float, float, float]]:
    """Directions the load may swing to: in the plane of the anchor to both sides, in space eight round a cone.

    direction: the tied load's [unit vector]; swing_rad: how far it swings; points, focal: the anchor [m]
    returns: unit vectors, the tied direction first
    Source: J, our judgement: what a rider to one side does.
    """
    d = np.asarray(direction, float)
    d = d / np.linalg.norm(d)
    if swing_rad <= 0:
        return [_point(d)]
    spread = np.asarray(points, float) - np.asarray(focal, float)
    across = spread - np.outer(spread @ d, d)
    _, sizes, axes = np.linalg.svd(across, full_matrices=False)
    if sizes[0] > 1e-9:
        u = axes[0] - (axes[0] @ d) * d
    else:
        u = np.cross(d, (0.0, 0.0, 1.0) if abs(d[2]) < 0.9 else (0.0, 1.0, 0.0))
    u = u / np.linalg.norm(u)
    v = np.cross(d, u)
    flat = len(sizes) < 2 or sizes[1] <= 1e-6 * max(sizes[0], 1e-9)
    turns = (0.0, math.pi) if flat else tuple(i * math.pi / 4 for i in range(8))
    c, s = math.cos(swing_rad), math.sin(swing_rad)
    return [_point(d), *(_point(c * d + s * (math.cos(t) * u + math.sin(t) * v)) for t in turns)]


def sliding_high(load_kn: float, angle_rad: float, friction: float) -> tuple[float, float]:
    """Tensions of the two strands of a ring that slides, the one friction leaves the higher first.

    k = e^(μ(π−θ)), T₁ = F·k/√(1 + k² + 2k·cos θ), T₂ = T₁/k

    load_kn: F [kN]; angle_rad: θ between the strands; friction: μ of strand on ring [-]
    returns: T₁ and T₂ [kN]
    Source: HB, capstan rule and statics.

    >>> t1, t2 = sliding_high(1.0, math.radians(28), 0.25)
    >>> round(t1 / (t1 + t2), 2)
    0.66
    """
    k = math.exp(friction * (math.pi - angle_rad))
    high = load_kn * k / math.sqrt(1 + k * k + 2 * k * math.cos(angle_rad))
    return high, high / k


def two_legs(alpha_rad: float, beta_rad: float) -> tuple[float, float]:
    """Shares of a load that two legs of unequal angle carry.

    F·sin β/sin(α + β) and F·sin α/sin(α + β)

    alpha_rad, beta_rad: the legs' angles to either side of the load's line [rad]
    returns: share in the leg at α and in the leg at β [-]
    Source: HB, statics of three forces.

    >>> [round(x, 3) for x in two_legs(math.radians(60), math.radians(60))]
    [1.0, 1.0]
    """
    both = math.sin(alpha_rad + beta_rad)
    return math.sin(beta_rad) / both, math.sin(alpha_rad) / both


def drop_force_kn(static_kn: float, fall_m: float, stiffness_kn_m: float) -> float:
    """Peak force when a piece fails and the load drops onto the rest.

    F = W + √(W² + 2·W·h·k)

    static_kn: W hanging [kN]; fall_m: h the focal point falls [m]; stiffness_kn_m: k of what catches it [kN/m]
    returns: F [kN]
    Source: HB, energy of a fall in a linear spring.

    >>> drop_force_kn(1.0, 0.0, 50.0)
    2.0
    """
    return static_kn + math.sqrt(static_kn**2 + 2 * static_kn * fall_m * stiffness_kn_m)
