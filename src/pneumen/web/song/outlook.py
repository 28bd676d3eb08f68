"""What is expected of a part right now: guesses or measured knowledge, chain, and the prediction with its band."""

from dataclasses import dataclass, replace

from pneumen.core.gain import KNOB_BAND, Situation
from pneumen.core.kit import chain_of, plugged_chain_of
from pneumen.core.part import guessed_levels
from pneumen.core.room import Room
from pneumen.core.setup import Chain, PluggedChain, PluggedSetup, PlugLevels, Setup, SourceLevels
from pneumen.core.take import Prediction, predict
from pneumen.web.song.models import Part


@dataclass(frozen=True, slots=True, kw_only=True)
class Outlook:
    """Everything a screen shows about a part's levels."""

    chain: Chain | PluggedChain
    source: SourceLevels | PlugLevels
    source_band_db: float
    sheet_band_db: float
    gain_band_db: float
    room: Room
    distance_m: float
    gain_db: float
    nearest_m: float
    farthest_m: float
    from_take: bool
    absolute: bool
    off_axis_deg: float = 0.0

    @property
    def setup(self) -> Setup | PluggedSetup:
        return self.chain.setup(
            source=self.source,
            room_noise_dba=self.room.noise_dba,
            distance_m=self.distance_m,
            gain_db=self.gain_db,
            off_axis_deg=self.off_axis_deg,
        )

    @property
    def prediction(self) -> Prediction:
        return predict(
            self.setup,
            source_band_db=self.source_band_db,
            sheet_band_db=self.sheet_band_db,
            room_band_db=self.room.noise_band_db,
            gain_band_db=self.gain_band_db,
        )

    @property
    def situation(self) -> Situation:
        return Situation(
            chain=self.chain,
            source=self.source,
            room_noise_dba=self.room.noise_dba,
            distance_m=self.distance_m,
            gain_db=self.gain_db,
            nearest_m=self.nearest_m,
            farthest_m=self.farthest_m,
            off_axis_deg=self.off_axis_deg,
        )


def outlook_of(part: Part, *, distance_m: float | None = None, gain_db: float | None = None) -> Outlook:
    """Return what is expected of a part, as it stands or with another distance or gain tried out."""
    chain = chain_of_part(part)
    gain_db = part.gain_db if gain_db is None else gain_db
    guess = guessed_levels(part.source, part.loudness)
    known = part.known_source_levels()
    same_chain = known is not None and part.known_chain == part.chain_name
    usable = known is not None and (same_chain or part.known_absolute)
    facts = part.source_facts
    return Outlook(
        chain=chain,
        source=known if usable else part.guessed_source_levels(),
        source_band_db=_source_band_db(part, usable, same_chain, guess.band_db),
        # The very chain the level was learned with: its data sheets no longer matter.
        sheet_band_db=0.0 if same_chain else chain.sheet_band_db,
        gain_band_db=_gain_band_db(part, chain, gain_db, same_chain),
        room=_room(part, same_chain),
        distance_m=part.distance_m if distance_m is None else distance_m,
        gain_db=gain_db,
        nearest_m=facts.nearest_m,
        farthest_m=facts.farthest_m,
        from_take=usable,
        absolute=usable and part.known_absolute,
        off_axis_deg=part.off_microphone_deg,
    )


def chain_of_part(part: Part) -> Chain | PluggedChain:
    """Return what a part's sound passes on its way into the file."""
    if part.is_plugged:
        return plugged_chain_of(part.interface, part.box)
    return chain_of(part.microphone, part.interface, part.booster)


def _room(part: Part, same_chain: bool) -> Room:
    room = part.song.room.to_core()
    if not same_chain or part.known_room_dba is None:
        return room
    return replace(room, noise_dba=part.known_room_dba, noise_band_db=part.known_room_band_db)


def _source_band_db(part: Part, usable: bool, same_chain: bool, guess_band_db: float) -> float:
    if not usable:
        return guess_band_db
    return part.known_band_db if same_chain else part.known_source_band_db


def _gain_band_db(part: Part, chain: Chain | PluggedChain, gain_db: float, same_chain: bool) -> float:
    """A bare knob's gain is a guess; after a take only the turn since then is."""
    if chain.gain_marking != "bare":
        return 0.0
    low, high = chain.gain_range_db
    if same_chain and part.known_gain_db is not None:
        return KNOB_BAND * abs(gain_db - part.known_gain_db)
    return KNOB_BAND * (high - low) / 2
