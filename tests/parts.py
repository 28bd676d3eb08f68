"""Parts in their setups, as tests of the core need them: a voice in a small furnished room unless told otherwise."""

from dataclasses import replace

from pneumen.core.forecast import PartSetup, Performance, boundless_chain, distance_range, ladder_at, zones_here
from pneumen.core.gain import SCHOOLS, school_named
from pneumen.core.kit import chain_of, item_named
from pneumen.core.part import SOURCES, guessed_levels
from pneumen.core.place import Placement
from pneumen.core.room import NOISES, Room, Space, layout_from_words

STEPS = 72


def statistics(rt60_s=0.35, volume_m3=29.0, noise_dba=30.0):
    """Return a room by statistics alone."""
    return Room(volume_m3=volume_m3, rt60_s=rt60_s, noise_dba=noise_dba, noise_band_db=5)


def room(size="small", furnishing="furnished", noise="quiet"):
    """Return a room as words make it."""
    layout = layout_from_words(size, furnishing)
    _, noise_dba, band_db = NOISES[noise]
    return Space(box=layout.box, background_dba=noise_dba, noise_band_db=band_db, furniture=layout.furniture)


def part(source="voice-pop", *, space=None, chain=None, school=SCHOOLS[0].slug, loudness="medium", **changes):
    """Return a part in its setup, its microphone with a screen before it; changes are fields of setup or placement."""
    facts = SOURCES[source] if isinstance(source, str) else source
    space = space or room()
    width, depth = space.box.size_m[:2] if isinstance(space, Space) else (8.0, 8.0)
    placed = {name: changes.pop(name) for name in list(changes) if name in Placement.__dataclass_fields__}
    placement = {"x_m": width / 2, "y_m": depth / 2, "distance_m": facts.usual_m, "pop_screen": True} | placed
    if chain is None or chain in ("omni", "cardioid", "figure-8"):
        chain = boundless_chain(chain or "cardioid")
    return PartSetup(
        source=facts,
        performance=Performance(levels=guessed_levels(facts.slug, loudness).levels, band_db=5),
        space=space,
        placement=Placement(**placement),
        chain=chain,
        school=school_named(school),
        **changes,
    )


def chain(microphone="meadowsweet-one", interface="hornbeam-2"):
    return chain_of(item_named(microphone), item_named(interface) if interface else None)


def ladder(setup):
    """Return a part's ladder from its nearest to its farthest."""
    near, far = distance_range(setup)
    steps = (near * (far / near) ** (number / (STEPS - 1)) for number in range(STEPS))
    return ladder_at(setup, tuple(sorted({*steps, setup.placement.distance_m})))


def zones(source, space, taste="balanced", pattern="cardioid"):
    return zones_here(part(source, space=space, chain=pattern), taste)


def louder(setup, by_db):
    levels = setup.performance.levels.shifted(peak_db=by_db, typical_db=by_db, quiet_db=by_db)
    return replace(setup, performance=replace(setup.performance, levels=levels))
