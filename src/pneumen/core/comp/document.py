"""A comp as it is written down: which takes there are, where they lie in the song, and which phrase is whose."""

from dataclasses import dataclass
from itertools import pairwise
from typing import Final

from pneumen.core.errors import BadDocument, require_within
from pneumen.core.reader import decode_object, fields_of, read_as, unknown_keys

RATES_HZ: Final = (8_000, 192_000)
LONGEST_S: Final = 14_400.0
FARTHEST_S: Final = 86_400.0
MOST_GAIN_DB: Final = 40.0
MOST_DRIFT_PPM: Final = 1000.0
LONGEST_CROSSFADE_MS: Final = 5000.0


@dataclass(frozen=True, slots=True, kw_only=True)
class CompTake:
    """One take: sample n of its file lies at offset_s + n / rate in the song.

    drift_ppm is positive where its recorder's clock was fast. gain_db undoes a known change of gain.
    """

    file: str
    offset_s: float = 0.0
    drift_ppm: float | None = None
    gain_db: float = 0.0

    def __post_init__(self) -> None:
        require_within("offset_s", self.offset_s, -FARTHEST_S, FARTHEST_S)
        require_within("drift_ppm", self.drift_ppm or 0.0, -MOST_DRIFT_PPM, MOST_DRIFT_PPM)
        require_within("gain_db", self.gain_db, -MOST_GAIN_DB, MOST_GAIN_DB)


@dataclass(frozen=True, slots=True, kw_only=True)
class CompPhrase:
    """One phrase: which take is heard from when to when, in song time."""

    take: str
    start_s: float
    end_s: float
    gain_db: float = 0.0

    def __post_init__(self) -> None:
        require_within("start_s", self.start_s, 0.0, LONGEST_S)
        require_within("end_s", self.end_s, 0.0, LONGEST_S)
        require_within("gain_db", self.gain_db, -MOST_GAIN_DB, MOST_GAIN_DB)


@dataclass(frozen=True, slots=True, kw_only=True)
class Comp:
    """Takes joined phrase by phrase; seam_search_ms: so far either way a seam may move to where it is least heard."""

    rate_hz: int
    length_s: float
    takes: dict[str, CompTake]
    phrases: tuple[CompPhrase, ...]
    crossfade_ms: float = 20.0
    fade_ms: float = 5.0
    seam_search_ms: float = 0.0
    match_levels: bool = False

    def __post_init__(self) -> None:
        require_within("rate_hz", self.rate_hz, *RATES_HZ)
        if not 0 < self.length_s <= LONGEST_S or self.frames < 1:
            raise BadDocument(f"length_s must be greater than 0, up to {LONGEST_S:g}, was {self.length_s:g}")
        require_within("crossfade_ms", self.crossfade_ms, 0.0, LONGEST_CROSSFADE_MS)
        require_within("fade_ms", self.fade_ms, 0.0, LONGEST_CROSSFADE_MS)
        require_within("seam_search_ms", self.seam_search_ms, 0.0, LONGEST_CROSSFADE_MS)
        if not self.phrases:
            raise BadDocument("phrases is empty: name at least one, with its take, start_s and end_s")
        for number, phrase in enumerate(self.phrases):
            self._check(number, phrase)
        for number, (one, following) in enumerate(pairwise(self.phrases), start=1):
            if self.sample(following.start_s) < self.sample(one.end_s):
                raise BadDocument(
                    f"phrases[{number}] begins at {following.start_s:g} s, before the one before it ends at "
                    f"{one.end_s:g} s: phrases stand in order and do not overlap"
                )

    @property
    def frames(self) -> int:
        return self.sample(self.length_s)

    def sample(self, time_s: float) -> int:
        """Return the sample nearest to a time."""
        return round(time_s * self.rate_hz)

    def _check(self, number: int, phrase: CompPhrase) -> None:
        place = f"phrases[{number}]"
        if phrase.take not in self.takes:
            known = ", ".join(self.takes) or "none"
            raise BadDocument(f"{place}.take names {phrase.take!r}, which is no take here; there are: {known}")
        first, stop = self.sample(phrase.start_s), self.sample(phrase.end_s)
        if not 0 <= first < stop <= self.frames:
            raise BadDocument(
                f"{place} must begin before it ends, within 0 and {self.length_s:g} s; "
                f"was {phrase.start_s:g} to {phrase.end_s:g}"
            )


def comp_from_json(document: bytes) -> tuple[Comp, tuple[str, ...]]:
    """Read a comp, with the keys in it that nothing here knows.

    Raises:
        BadDocument: naming the place, what is wrong and what would be right.
    """
    value = decode_object(document)
    comp = read_as(Comp, {key: item for key, item in value.items() if key in fields_of(Comp)}, "")
    ignored = list(unknown_keys(value, Comp, ""))
    for name, take in value["takes"].items():
        ignored += unknown_keys(take, CompTake, f"takes.{name}")
    for number, phrase in enumerate(value["phrases"]):
        ignored += unknown_keys(phrase, CompPhrase, f"phrases[{number}]")
    return comp, tuple(ignored)
