"""Why on the Kit screen: how a kit was chosen, where its noise comes from, what hanging does."""

import math

from pneumen.core.errors import given
from pneumen.core.kit import Frontier, Kit, best_within
from pneumen.web.gain.why import Why
from pneumen.wording.figures import figure
from pneumen.wording.hanging import hanging_told


def _taken(frontier: Frontier, kit: Kit) -> str:
    needs = frontier.needs
    asked = [f"{figure(needs.enough.clean_range_db)} dB of clean range"]
    asked += [
        f"{figure(needs.enough.lead_db(part.source))} dB over the room for {part.source.label.lower()}"
        for part in {part.source: part for part in needs.parts if not part.is_plugged}.values()
    ]
    told = f"Recommended is the cheapest that is enough: {', '.join(asked)}; where none is, the one that falls least short."
    if not kit.overloads:
        told += " It bears the loudest passage even where that is louder than believed by its whole band."
    return told


def whys_of(frontier: Frontier, kit: Kit, recommended: bool) -> tuple[Why, ...]:
    """Return what stands under Why for a kit of a frontier, recommended or not."""
    best = given("kit", best_within(frontier.points, frontier.points[0][0]))
    worst = kit.parts[kit.worst].levels
    stages = ", ".join(f"{stage} {figure(level)}" for stage, level in worst.noise_by_stage_dbfs.items())
    whys = [
        Why(
            title="Why this kit",
            lines=(
                f"{len(frontier.points)} kits that no other beats: none of them is dearer without being better in clean range or over the room.",
                _taken(frontier, kit) if recommended else "You are looking at another one than the recommended.",
            ),
            source="every complete kit of the catalogue, searched exactly; what one beats another by is 0.5 dB",
        ),
        Why(
            title="Where the noise comes from",
            lines=(
                f"At the file, in dBFS (A): {stages}. The best any kit here reaches is {figure(best[0])} dB of clean range.",
                "A less sensitive microphone does not by itself hear less room: distance and pattern do. A dynamic seems to, "
                "because it is worked closer and reaches less far up.",
            ),
            source="the level diagram of each part, worst part counts",
        ),
    ]
    if math.isfinite(kit.direct_to_reverberant_db):
        whys.append(
            Why(
                title="What hanging does",
                lines=(
                    "Each pattern is compared where it would stand in this room for each part; what hangs lifts the direct sound over the room’s.",
                    hanging_told(kit.hanging, kit.direct_to_reverberant_db),
                ),
                source="statistical room acoustics, Kuttruff (from memory); Eyring’s reverberation time; absorption of textiles is an estimate",
            )
        )
    return tuple(whys)
