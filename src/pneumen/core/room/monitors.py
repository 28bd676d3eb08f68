"""Two monitors in a room: the triangle, what walls behind and beside cancel, the desk, the height, where to listen.

Seen with the wall behind the monitors ahead: x from the left wall, y from the wall behind, z up; all in metres.
"""

import math
from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import Contradiction, require_within
from pneumen.core.levels import SPEED_OF_SOUND_M_S
from pneumen.core.room.box import Point
from pneumen.core.verdict import Verdict

NOTCH_UP_TO_HZ: Final = 400.0
"""Above, a cabinet beams and leaves the wall behind alone (common practice, no source)."""
GOOD_ANGLE_DEG: Final = (50.0, 70.0)
"""Near the equilateral triangle's 60 (common practice, no source)."""
EVEN_M: Final = 0.10
LEVEL_M: Final = 0.15
MIDDLE_SHARE: Final = (0.44, 0.56)
"""So near the middle of the room the lowest mode along it has its null (common practice, no source)."""
USUAL_SHARE: Final = 0.38
"""Where between the walls most listen first (common practice, no source)."""
LEAST_M: Final = 0.1


@dataclass(frozen=True, slots=True, kw_only=True)
class MonitorPlace:
    """How two monitors and a listener stand, symmetric about a middle line middle_m from the left wall.

    size_m is the room seen so: across, deep, high. behind_m is from the wall behind to the driver, listen_m from the
    line of the monitors to the ears. desk_m is the height of a desk between, None where there is none.
    """

    size_m: Point
    middle_m: float
    behind_m: float
    spacing_m: float
    listen_m: float
    height_m: float
    ear_m: float = 1.2
    desk_m: float | None = None

    def __post_init__(self) -> None:
        across, deep, high = self.size_m
        require_within("spacing", self.spacing_m, 0.3, 5)
        require_within("behind", self.behind_m, LEAST_M, deep)
        require_within("listen", self.listen_m, 0.3, 6)
        for name in ("height_m", "ear_m"):
            require_within(name, getattr(self, name), 0.3, high - LEAST_M)
        if not self.spacing_m / 2 + LEAST_M <= self.middle_m <= across - self.spacing_m / 2 - LEAST_M:
            raise Contradiction("monitors", "would stand in a side wall: bring them together or move the middle")
        if self.behind_m + self.listen_m > deep - LEAST_M:
            raise Contradiction("listener", "would sit in the wall at the back: come nearer")
        if self.desk_m is not None and not 0.3 <= self.desk_m < min(self.height_m, self.ear_m):
            raise Contradiction("desk", "must lie under monitors and ears")

    def monitor(self, side: int) -> Point:
        """Return where the left (-1) or right (1) monitor is."""
        return self.middle_m + side * self.spacing_m / 2, self.behind_m, self.height_m

    @property
    def listener(self) -> Point:
        return self.middle_m, self.behind_m + self.listen_m, self.ear_m


@dataclass(frozen=True, slots=True, kw_only=True)
class Bounce:
    """One mirror of a monitor: off what, how much later and weaker, the first notch, and where on the plan."""

    surface: str
    delay_ms: float
    level_db: float
    notch_hz: float
    at_m: tuple[float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class MonitorReport:
    """What stands to be said: triangle, bounces (both sides' walls once each), and findings (verdict, kind, value)."""

    angle_deg: float
    reach_m: float
    uneven_m: float
    share: float
    bounces: tuple[Bounce, ...]
    findings: tuple[tuple[Verdict, str, float], ...]


def boundary_notch_hz(distance_m: float) -> float:
    """Return where a wall so far behind a monitor cancels it, for a listener straight ahead: c / (4 d).

    >>> round(boundary_notch_hz(0.5), 1)
    171.5
    """
    return SPEED_OF_SOUND_M_S / (4 * distance_m)


def monitor_report(place: MonitorPlace, absorption: float = 0.1) -> MonitorReport:
    """Return how monitors stand.

    Args:
        absorption: the walls' coefficient, taken alike.

    Reference: mirror images of first order; a notch where the mirror comes half a wave later (c/(4d) for the wall
    behind). Walls are taken as hard at low frequencies.
    """
    across = place.size_m[0]
    reach = math.dist(place.monitor(1), place.listener)
    angle = 2 * math.degrees(math.atan2(place.spacing_m / 2, place.listen_m))
    uneven = abs(across - 2 * place.middle_m)
    share = (place.behind_m + place.listen_m) / place.size_m[1]
    bounces = tuple(sorted(_bounces(place, absorption), key=lambda one: one.notch_hz))
    return MonitorReport(
        angle_deg=angle,
        reach_m=reach,
        uneven_m=uneven,
        share=share,
        bounces=bounces,
        findings=tuple(_findings(place, angle, uneven, share, bounces)),
    )


def _bounces(place: MonitorPlace, absorption: float) -> list[Bounce]:
    across, _, high = place.size_m
    right, left = place.monitor(1), place.monitor(-1)
    mirrors = [
        ("wall behind", right, (right[0], -right[1], right[2]), (right[0], 0.0)),
        ("right wall", right, (2 * across - right[0], *right[1:]), None),
        ("left wall", left, (-left[0], *left[1:]), None),
        ("floor", right, (*right[:2], -right[2]), None),
        ("ceiling", right, (*right[:2], 2 * high - right[2]), None),
    ]
    if place.desk_m is not None:
        mirrors.append(("desk", right, (*right[:2], 2 * place.desk_m - right[2]), None))
    return [_bounce(place, *mirror, 0.05 if mirror[0] == "desk" else absorption) for mirror in mirrors]


def _bounce(
    place: MonitorPlace, surface: str, real: Point, mirror: Point, at: tuple[float, float] | None, absorption: float
) -> Bounce:
    ear = place.listener
    direct, longer = math.dist(real, ear), math.dist(mirror, ear)
    later = max(longer - direct, 1e-4)
    return Bounce(
        surface=surface,
        delay_ms=1000 * later / SPEED_OF_SOUND_M_S,
        level_db=20 * math.log10(direct / longer) + 10 * math.log10(1 - absorption),
        notch_hz=SPEED_OF_SOUND_M_S / (2 * later),
        at_m=at or _met(surface, real, ear, mirror, place),
    )


def _met(surface: str, real: Point, ear: Point, mirror: Point, place: MonitorPlace) -> tuple[float, float]:
    """Return where on the plan a path meets its wall, or the desk, floor or ceiling."""
    plane = {
        "right wall": (0, place.size_m[0]),
        "left wall": (0, 0.0),
        "floor": (2, 0.0),
        "ceiling": (2, place.size_m[2]),
    }
    axis, value = plane.get(surface, (2, place.desk_m or 0.0))
    share = (value - ear[axis]) / (mirror[axis] - ear[axis])
    east, north = (ear[k] + share * (mirror[k] - ear[k]) for k in range(2))
    return east, north


def _findings(
    place: MonitorPlace, angle: float, uneven: float, share: float, bounces: tuple[Bounce, ...]
) -> list[tuple[Verdict, str, float]]:
    low, high = GOOD_ANGLE_DEG
    found = [(Verdict.CLEAR if low <= angle <= high else Verdict.WATCH, "triangle", angle)]
    found.append((Verdict.CLEAR if uneven <= 2 * EVEN_M else Verdict.WATCH, "even", uneven))
    off = place.height_m - place.ear_m
    found.append((Verdict.CLEAR if abs(off) <= LEVEL_M else Verdict.WATCH, "height", off))
    found.append((Verdict.WATCH if MIDDLE_SHARE[0] < share < MIDDLE_SHARE[1] else Verdict.CLEAR, "middle", share))
    behind = next(one for one in bounces if one.surface == "wall behind")
    found.append((Verdict.WATCH if behind.notch_hz < NOTCH_UP_TO_HZ else Verdict.CLEAR, "behind", behind.notch_hz))
    desk = next((one for one in bounces if one.surface == "desk"), None)
    if desk:
        found.append((Verdict.WATCH, "desk", desk.notch_hz))
    return found


def usual_place(size_m: Point) -> MonitorPlace:
    """Return a place to start from: in the middle of the wall, an equilateral triangle, ears at 38 % of the depth."""
    across, deep, high = size_m
    spacing = min(1.2, 0.6 * across)
    listen = 0.866 * spacing
    behind = min(max(USUAL_SHARE * deep - listen, LEAST_M), deep - listen - LEAST_M)
    height = min(1.2, high - 2 * LEAST_M)
    return MonitorPlace(
        size_m=size_m,
        middle_m=across / 2,
        behind_m=behind,
        spacing_m=spacing,
        listen_m=listen,
        height_m=height,
        ear_m=height,
    )
