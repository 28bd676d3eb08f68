"""Why on the Kit screen: how a kit was chosen, where its noise comes from, what hanging does."""

import math

from pneumen.core.errors import given
from pneumen.core.kit import Frontier, Kit, best_within
from pneumen.web.gain.why import Why
from pneumen.wording.figures import figure
from pneumen.wording.hanging import hanging_told
from pneumen.wording.language import _


def _taken(frontier: Frontier, kit: Kit) -> str:
    needs = frontier.needs
    asked = [_("{clean_range_db} dB of clean range").format(clean_range_db=figure(needs.enough.clean_range_db))]
    asked += [
        _("{source} dB over the room for {lower}").format(
            source=figure(needs.enough.lead_db(part.source)), lower=part.source.label.lower()
        )
        for part in {part.source: part for part in needs.parts if not part.is_plugged}.values()
    ]
    told = _(
        "Recommended is the cheapest that is enough: {asked}; where none is, the one that falls least short."
    ).format(asked=", ".join(asked))
    if not kit.overloads:
        told += _(" It bears the loudest passage even where that is louder than believed by its whole band.")
    return told


def whys_of(frontier: Frontier, kit: Kit, recommended: bool) -> tuple[Why, ...]:
    """Return what stands under Why for a kit of a frontier, recommended or not."""
    best_db, _lead_db = given("kit", best_within(frontier.points, frontier.points[0][0]))
    best_db = max(best_db, kit.clean_range_db)  # the kit looked at is told as it would be set up
    worst = kit.parts[kit.worst].levels
    stages = ", ".join(f"{stage} {figure(level)}" for stage, level in worst.noise_by_stage_dbfs.items())
    whys = [
        Why(
            title=_("Why this kit"),
            lines=(
                _(
                    "{points} kits that no other beats: none of them is dearer without being better in clean range or over the room."
                ).format(points=len(frontier.points)),
                _taken(frontier, kit) if recommended else _("You are looking at another one than the recommended."),
            ),
            source=_("every complete kit of the catalogue, searched exactly; what one beats another by is 0.5 dB"),
        ),
        Why(
            title=_("Where the noise comes from"),
            lines=(
                _(
                    "At the file, in dBFS (A): {stages}. The best any kit here reaches is {best} dB of clean range."
                ).format(stages=stages, best=figure(best_db)),
                _(
                    "A less sensitive microphone does not by itself hear less room: distance and pattern do. A dynamic seems to, "
                    "because it is worked closer and reaches less far up."
                ),
            ),
            source=_("the level diagram of each part, worst part counts"),
        ),
    ]
    if math.isfinite(kit.direct_to_reverberant_db):
        whys.append(
            Why(
                title=_("What hanging does"),
                lines=(
                    _(
                        "Each pattern is compared where it would stand in this room for each part; what hangs lifts the direct sound over the room’s."
                    ),
                    hanging_told(kit.hanging, kit.direct_to_reverberant_db),
                ),
                source=_(
                    "statistical room acoustics, Kuttruff (from memory); Eyring’s reverberation time; absorption of textiles is an estimate"
                ),
            )
        )
    return tuple(whys)
