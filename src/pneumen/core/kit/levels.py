"""The level diagram of one part in a kit, by the core's `line`, at the gain that suits it."""

from dataclasses import dataclass

from pneumen.core.errors import Contradiction, given
from pneumen.core.forecast import PatternPlace
from pneumen.core.gear import directivity_index_db
from pneumen.core.hookup import PICKUP_LOAD_OHM
from pneumen.core.kit.catalogue import chain_of, plugged_chain_of, socket_of
from pneumen.core.kit.evaluate import Voice
from pneumen.core.kit.item import Item
from pneumen.core.kit.needs import AIM_DBFS, Needs, PartNeed
from pneumen.core.line import Levels, levels_of, whole_gain_db
from pneumen.core.part import Source
from pneumen.core.setup import Chain, InTheAir, PluggedChain, PlugLevels, SourceLevels


@dataclass(frozen=True, slots=True, kw_only=True)
class PartLevels:
    """A part's levels at the gain that brings its loudest peak to its aim, or as near as the control reaches.

    spare_db is the headroom at the lowest gain: what a performer may be louder than believed before something clips.
    """

    levels: Levels
    gain_db: float
    spare_db: float


def levels_of_part(needs: Needs, part: PartNeed, hub: Item | None, voice: Voice) -> PartLevels | None:
    """Return a part's levels with a voice behind a hub; None where its plug finds no fitting input."""
    if part.is_plugged and not plug_finds_its_load(part, given("interface", hub), voice.box):
        return None
    chain = chain_with(part.source, hub, voice)
    place = None if isinstance(chain, PluggedChain) else part.place(chain.pattern)
    return levels_at_aim(chain, part.levels, place=place, aim_dbfs=part.aim_dbfs, extent_m=part.source.extent_m)


def chain_with(source: Source, hub: Item | None, voice: Voice) -> Chain:
    """Return the chain a voice makes behind a hub for a source, miked or plugged in."""
    if source.direct is not None:
        return plugged_chain_of(given("interface", hub), voice.box, voice.pad, passive=source.is_passive)
    return chain_of(given("microphone", voice.microphone), hub, voice.booster, voice.pad)


def plug_finds_its_load(part: PartNeed, hub: Item, box: Item | None) -> bool:
    """Tell whether there is a socket for a plug, and one that does not dull a passive pickup."""
    socket = socket_of(hub, passive=part.source.is_passive)
    if box is None and socket is None:
        return False
    load_ohm = box.input_impedance_ohm if box else given("socket", socket).impedance_ohm
    return not part.source.is_passive or given("load_ohm", load_ohm) >= PICKUP_LOAD_OHM


def levels_at_aim(
    chain: Chain,
    source: SourceLevels | PlugLevels,
    *,
    place: PatternPlace | None = None,
    aim_dbfs: float = AIM_DBFS,
    extent_m: float = 0.0,
) -> PartLevels:
    """Return a chain's levels at the gain that suits it best."""

    def at(gain_db: float) -> Levels:
        if isinstance(chain, PluggedChain) and isinstance(source, PlugLevels):
            return levels_of(chain.plugged(source=source, gain_db=gain_db))
        if isinstance(chain, PluggedChain) or isinstance(source, PlugLevels):
            raise Contradiction("levels", "and chain must both be of a plug, or both of a microphone")
        here = given("place", place)
        noise_dba = here.noise_dba + directivity_index_db(chain.pattern)
        air = InTheAir(
            source=source,
            room_noise_dba=noise_dba,
            distance_m=here.distance_m,
            extent_m=extent_m,
            direct_to_reverberant_db=here.lead_db,
        )
        return levels_of(chain.setup(air, gain_db))

    low, high = chain.gain_range_db
    lowest = at(low)
    gain_db = whole_gain_db(low - lowest.peak_dbfs + aim_dbfs, low, high, chain.gain_step_db)
    return PartLevels(levels=at(gain_db), gain_db=gain_db, spare_db=lowest.headroom_db)
