"""When a take begins and when it is over, for players without a free hand."""

from dataclasses import dataclass, field, replace
from typing import Final

import numpy as np

from pneumen.core.errors import require_within
from pneumen.core.levels import LOWEST_DB
from pneumen.core.live.meter import Piece, floor_dbfs_of, piece_of, pieces_in, with_piece

LISTENING, ARMED, RECORDING, ENDED = "listening", "armed", "recording", "ended"
PHASES: Final = (LISTENING, ARMED, RECORDING, ENDED)
BEFORE_S: Final = 2.0
"""So much before the first sound is kept."""
QUIET_S: Final = 5.0
"""After so long without a sound a take is over, unless its person says otherwise."""
MOST_QUIET_S: Final = 60.0
FIRST_SOUND_OVER_FLOOR_DB: Final = 10.0
FIRST_SOUND_DBFS: Final = -65.0
"""Nothing below is taken for a first sound, however silent the input is."""
CERTAIN_DBFS: Final = -40.0
"""Before the floor is known, only what is so loud begins a take."""
SOUND_S: Final = 0.1
"""A first sound lasts so long: the click of a key or a pedal does not."""
AFTER_ARMING_S: Final = 0.5
"""The noise of the pedal or key that armed is let by."""
QUIET_OVER_FLOOR_DB: Final = 6.0
QUIET_UNDER_LOUDEST_DB: Final = 8.0
"""What is quiet lies so far under what was played; before anything was, nothing ends by itself."""
STEADY_UNDER_LOUDEST_DB: Final = 25.0
"""A noise that came on meanwhile is told from a held note by lying so far under what was played."""
LOUDEST_FLOOR_DBFS: Final = -45.0
"""A louder floor than this, as a take is begun by hand, is music that sounds already."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Heard:
    """What was heard so far at an input, and whether a take is being kept.

    before holds the last two seconds while nothing is kept. kept_frames counts what a take holds; loudest_dbfs and
    over (samples at full scale) are the take's, or since listening began. floor_dbfs is the floor as the take began.
    """

    sample_rate_hz: int
    quiet_s: float = QUIET_S
    phase: str = LISTENING
    trail: tuple[Piece, ...] = ()
    before: tuple[np.ndarray, ...] = field(default=(), repr=False)
    in_phase_s: float = 0.0
    sounding_s: float = 0.0
    silent_s: float = 0.0
    kept_frames: int = 0
    loudest_dbfs: float = LOWEST_DB
    loudest_rms_dbfs: float = LOWEST_DB
    over: int = 0
    floor_dbfs: float | None = None

    def __post_init__(self) -> None:
        require_within("sample_rate_hz", self.sample_rate_hz, 8_000, 768_000)
        require_within("quiet_s", self.quiet_s, 1, MOST_QUIET_S)

    @property
    def kept_s(self) -> float:
        return self.kept_frames / self.sample_rate_hz


def heard(state: Heard, block: np.ndarray) -> tuple[Heard, tuple[np.ndarray, ...]]:
    """Take in a block (frames, channels) of float samples; return the new state and what of it belongs to the take."""
    kept: list[np.ndarray] = []
    for piece in pieces_in(block, state.sample_rate_hz):
        state = _measured(state, piece_of(piece, state.sample_rate_hz))
        if state.phase == ARMED and _begins(state):
            state = _recording(state)
        if state.phase == RECORDING:
            taken = (*state.before, piece)
            kept += taken
            frames = sum(len(one) for one in taken)
            state = replace(state, before=(), kept_frames=state.kept_frames + frames)
            if state.silent_s >= state.quiet_s:
                state = stopped(state)
        elif state.phase != ENDED:
            state = replace(state, before=_last_of((*state.before, piece), state.sample_rate_hz))
    return state, tuple(kept)


def pressed(state: Heard) -> Heard:
    """Answer the one key there is: arm, begin at once, end."""
    if state.phase == LISTENING:
        return replace(_anew(state), phase=ARMED)
    return _recording(state) if state.phase == ARMED else stopped(state)


def stopped(state: Heard) -> Heard:
    """End a take, or let it be before one has begun."""
    return replace(state, phase=ENDED if state.phase == RECORDING else LISTENING, in_phase_s=0.0)


def again(state: Heard) -> Heard:
    """Listen on after a take."""
    return replace(_anew(state), phase=LISTENING, trail=state.trail)


def _anew(state: Heard) -> Heard:
    """Forget what was loudest and what touched full scale; what the last seconds were like stays."""
    return replace(
        state,
        in_phase_s=0.0,
        sounding_s=0.0,
        silent_s=0.0,
        kept_frames=0,
        loudest_dbfs=LOWEST_DB,
        loudest_rms_dbfs=LOWEST_DB,
        over=0,
        floor_dbfs=None,
    )


def _recording(state: Heard) -> Heard:
    return replace(state, phase=RECORDING, in_phase_s=0.0, silent_s=0.0, floor_dbfs=floor_dbfs_of(state.trail))


def _measured(state: Heard, piece: Piece) -> Heard:
    trail = with_piece(state.trail, piece)
    sounds, quiet = _sounds(trail, piece), _is_quiet(state, trail, piece)
    return replace(
        state,
        trail=trail,
        in_phase_s=state.in_phase_s + piece.seconds,
        sounding_s=state.sounding_s + piece.seconds if sounds else 0.0,
        silent_s=state.silent_s + piece.seconds if quiet else 0.0,
        loudest_dbfs=max(state.loudest_dbfs, piece.peak_dbfs),
        loudest_rms_dbfs=max(state.loudest_rms_dbfs, piece.rms_dbfs),
        over=state.over + piece.over,
    )


def _sounds(trail: tuple[Piece, ...], piece: Piece) -> bool:
    floor_dbfs = floor_dbfs_of(trail)
    if floor_dbfs is None:
        return piece.rms_dbfs > CERTAIN_DBFS
    return piece.rms_dbfs > max(floor_dbfs + FIRST_SOUND_OVER_FLOOR_DB, FIRST_SOUND_DBFS)


def _is_quiet(state: Heard, trail: tuple[Piece, ...], piece: Piece) -> bool:
    """Tell whether nothing sounds: the floor as the take began, or a new one that is far below the take."""
    if piece.rms_dbfs > state.loudest_rms_dbfs - QUIET_UNDER_LOUDEST_DB:
        return False
    known = FIRST_SOUND_DBFS if state.floor_dbfs is None else max(state.floor_dbfs, FIRST_SOUND_DBFS)
    if piece.rms_dbfs < min(known, LOUDEST_FLOOR_DBFS) + QUIET_OVER_FLOOR_DB:
        return True
    now = floor_dbfs_of(trail)
    steady = now is not None and piece.rms_dbfs < now + QUIET_OVER_FLOOR_DB
    return steady and piece.rms_dbfs < state.loudest_rms_dbfs - STEADY_UNDER_LOUDEST_DB


def _begins(state: Heard) -> bool:
    return state.in_phase_s > AFTER_ARMING_S and state.sounding_s >= SOUND_S - 1e-9


def _last_of(pieces: tuple[np.ndarray, ...], sample_rate_hz: int) -> tuple[np.ndarray, ...]:
    """Return the pieces of the last two seconds."""
    wanted, found = round(BEFORE_S * sample_rate_hz), 0
    for number in range(len(pieces) - 1, -1, -1):
        found += len(pieces[number])
        if found >= wanted:
            return pieces[number:]
    return pieces
