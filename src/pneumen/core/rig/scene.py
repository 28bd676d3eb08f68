"""A scene: who plays what through which chain, and how much of the world is hidden."""

from dataclasses import dataclass
from typing import Any, Final

from pneumen.core.errors import BadDocument, Contradiction, OutOfRange, PneumenError, UnknownName, require_within
from pneumen.core.part import SOURCES
from pneumen.core.reader import decode_object, read_as
from pneumen.core.rig.performer import PERFORMERS
from pneumen.core.rig.truth import AS_TOLD, MOST_SEED, Truth, draw_truth
from pneumen.core.setup import LineSetup, PluggedSetup, setup_from_object

BIT_DEPTHS: Final = (16, 24)
EXAMPLE: Final = """{"chain": {"source": {"peak_db_spl": 96, "typical_db_spl": 85, "quiet_db_spl": 72, "at_m": 1.0},
           "distance_m": 0.18, "room": {"noise_dba": 30},
           "microphone": {"sensitivity_mv_per_pa": 18, "self_noise_dba": 10, "max_spl_db": 134, "impedance_ohm": 120, "pattern": "cardioid"},
           "preamp": {"gain_db": 20, "gain_min_db": 0, "gain_max_db": 56, "ein_dbu": -128, "max_input_dbu": 9, "input_impedance_ohm": 3000},
           "converter": {"dynamic_range_db": 108}},
 "source": "voice-pop", "duration_s": 12, "sample_rate_hz": 48000, "bit_depth": 24, "seed": 7, "hidden": true}"""


@dataclass(frozen=True, slots=True, kw_only=True)
class Scene:
    """All that decides a simulated take; side is -1 or 1 for the left or right channel of one in stereo, else 0.

    puff_m_per_s is how fast the air of a P is when it reaches the capsule; None where nothing is told of it: then it
    is as strong as the voice. beam_db is what an S loses on its way beside the mouth's axis.
    """

    chain: LineSetup
    source: str
    duration_s: float = 12.0
    sample_rate_hz: int = 48_000
    bit_depth: int = 24
    seed: int = 0
    truth: Truth = AS_TOLD
    side: int = 0
    puff_m_per_s: float | None = None
    beam_db: float = 0.0

    @property
    def world_seed(self) -> int:
        """What decides all that stays the same from take to take."""
        return self.seed if self.truth.world_seed is None else self.truth.world_seed

    def __post_init__(self) -> None:
        if self.source not in PERFORMERS:
            raise UnknownName("source", self.source, tuple(PERFORMERS))
        if isinstance(self.chain, PluggedSetup) != (SOURCES[self.source].direct is not None):
            raise Contradiction("chain", "must hold a plug for a source that is plugged in, a microphone for any other")
        require_within("duration_s", self.duration_s, 6, 600)
        require_within("sample_rate_hz", self.sample_rate_hz, 16_000, 192_000)
        if self.bit_depth not in BIT_DEPTHS:
            raise OutOfRange("bit_depth", self.bit_depth, "16 or 24")
        require_within("seed", self.seed, 0, MOST_SEED)
        if self.puff_m_per_s is not None:
            require_within("puff_m_per_s", self.puff_m_per_s, 0, 30)
        require_within("beam_db", self.beam_db, -40, 20)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Options:
    source: str
    duration_s: float = 12.0
    sample_rate_hz: int = 48_000
    bit_depth: int = 24
    seed: int = 0
    take: int = 1
    hidden: bool = False
    puff_m_per_s: float | None = None
    beam_db: float = 0.0


def scene_from_json(document: bytes) -> tuple[Scene, tuple[str, ...]]:
    """Read a scene; also return the keys it does not know, which it leaves aside.

    Where "hidden" is true, loudness, spectrum and data sheets are drawn from the seed, and "take" numbers the
    take played in that world.

    Raises:
        BadDocument: naming what is missing, mistyped or impossible.
    """
    value = decode_object(document)
    if not isinstance(value.get("chain"), dict):
        raise BadDocument("chain is missing: it holds a setup as the line command reads it")
    chain, ignored = setup_from_object(value["chain"], "chain")
    rest: dict[str, Any] = {key: value[key] for key in value if key != "chain"}
    options = read_as(_Options, rest, "")
    unknown = tuple(key for key in rest if key not in _Options.__slots__)
    try:
        return Scene(
            chain=chain,
            source=options.source,
            duration_s=options.duration_s,
            sample_rate_hz=options.sample_rate_hz,
            bit_depth=options.bit_depth,
            seed=options.seed,
            truth=draw_truth(options.seed, options.take) if options.hidden else AS_TOLD,
            puff_m_per_s=options.puff_m_per_s,
            beam_db=options.beam_db,
        ), ignored + unknown
    except BadDocument:
        raise
    except PneumenError as error:
        raise BadDocument(str(error)) from None
