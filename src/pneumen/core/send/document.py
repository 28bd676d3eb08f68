"""A delivery as it is written down: which files, where they lie in the song, at which rate and depth."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import BadDocument, UnknownName, require_within
from pneumen.core.reader import decode_object, fields_of, read_as, unknown_keys
from pneumen.core.take import BITS, FORMATS

CHANNELS: Final = ("auto", "mono", "stereo")
RATES_HZ: Final = (8_000, 192_000)
LONGEST_S: Final = 14_400.0
FARTHEST_S: Final = 86_400.0
MOST_DRIFT_PPM: Final = 1000.0
MOST_FILES: Final = 999


@dataclass(frozen=True, slots=True, kw_only=True)
class Also:
    """Another recording that goes into the same file, where it does not overlap."""

    file: str
    offset_s: float = 0.0
    drift_ppm: float | None = None

    def __post_init__(self) -> None:
        require_within("offset_s", self.offset_s, -FARTHEST_S, FARTHEST_S)
        require_within("drift_ppm", self.drift_ppm or 0.0, -MOST_DRIFT_PPM, MOST_DRIFT_PPM)


@dataclass(frozen=True, slots=True, kw_only=True)
class SendFile:
    """One file of a delivery: sample n of it lies at offset_s + n / rate in the song.

    about tells a person what it is and how it was recorded; also holds what goes into the same file.
    """

    name: str
    file: str
    offset_s: float = 0.0
    channels: str = "auto"
    drift_ppm: float | None = None
    about: str = ""
    also: tuple[Also, ...] = ()

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise BadDocument("name must say what the file is")
        if self.channels not in CHANNELS:
            raise UnknownName("channels", self.channels, CHANNELS)
        require_within("offset_s", self.offset_s, -FARTHEST_S, FARTHEST_S)
        require_within("drift_ppm", self.drift_ppm or 0.0, -MOST_DRIFT_PPM, MOST_DRIFT_PPM)


@dataclass(frozen=True, slots=True, kw_only=True)
class Pack:
    """Files that are to line up from the song's zero to its end."""

    song: str
    rate_hz: int
    bits: int
    length_s: float
    files: tuple[SendFile, ...]
    tempo_bpm: float | None = None
    format: str = "wav"
    note: str = ""
    key: str = ""

    def __post_init__(self) -> None:
        if not self.song.strip():
            raise BadDocument("song must be the song's name")
        require_within("rate_hz", self.rate_hz, *RATES_HZ)
        if self.bits not in BITS:
            raise BadDocument(f"bits must be 16 or 24, was {self.bits}")
        if self.format not in FORMATS:
            raise UnknownName("format", self.format, tuple(FORMATS))
        if not 0 < self.length_s <= LONGEST_S or self.frames < 1:
            raise BadDocument(f"length_s must be greater than 0, up to {LONGEST_S:g}, was {self.length_s:g}")
        if self.tempo_bpm is not None:
            require_within("tempo_bpm", self.tempo_bpm, 10.0, 500.0)
        if not 1 <= len(self.files) <= MOST_FILES:
            few = "files is empty: name at least one, with its name and file"
            raise BadDocument(few if not self.files else f"files holds {len(self.files)}, more than {MOST_FILES}")

    @property
    def frames(self) -> int:
        return round(self.length_s * self.rate_hz)


def pack_from_json(document: bytes) -> tuple[Pack, tuple[str, ...]]:
    """Read a delivery, with the keys in it that nothing here knows.

    Raises:
        BadDocument: naming the place, what is wrong and what would be right.
    """
    value = decode_object(document)
    pack = read_as(Pack, {key: item for key, item in value.items() if key in fields_of(Pack)}, "")
    ignored = list(unknown_keys(value, Pack, ""))
    for number, file in enumerate(value["files"]):
        ignored += unknown_keys(file, SendFile, f"files[{number}]")
        for other, also in enumerate(file.get("also", ())):
            ignored += unknown_keys(also, Also, f"files[{number}].also[{other}]")
    return pack, tuple(ignored)
