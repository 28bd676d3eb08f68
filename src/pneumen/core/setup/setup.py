"""A setup: how loud the source is, how far the microphone stands, and every device with its settings."""

from dataclasses import dataclass

from pneumen.core.errors import Contradiction, require_positive, require_within
from pneumen.core.gear import Converter, Microphone, Preamp, UsbMicrophone


@dataclass(frozen=True, slots=True, kw_only=True)
class SourceLevels:
    """How loud a source is at a distance. peak_db_spl is the level of a sine with that peak; the others are RMS."""

    peak_db_spl: float
    typical_db_spl: float
    quiet_db_spl: float
    at_m: float

    def __post_init__(self) -> None:
        require_positive("at_m", self.at_m, 100)
        for name in ("peak_db_spl", "typical_db_spl", "quiet_db_spl"):
            require_within(name, getattr(self, name), -50, 200)
        if not self.quiet_db_spl <= self.typical_db_spl <= self.peak_db_spl:
            raise Contradiction("typical_db_spl", "must lie between quiet_db_spl and peak_db_spl")

    def shifted(self, level_db: float) -> "SourceLevels":
        """Return the same source, louder by level_db."""
        return SourceLevels(
            peak_db_spl=self.peak_db_spl + level_db,
            typical_db_spl=self.typical_db_spl + level_db,
            quiet_db_spl=self.quiet_db_spl + level_db,
            at_m=self.at_m,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Setup:
    """All that decides the levels of one part: preamp and converter are None behind a USB microphone."""

    source: SourceLevels
    distance_m: float
    room_noise_dba: float
    microphone: Microphone | UsbMicrophone
    preamp: Preamp | None = None
    converter: Converter | None = None

    def __post_init__(self) -> None:
        require_positive("distance_m", self.distance_m, 100)
        require_within("noise_dba", self.room_noise_dba, -20, 140)
        if isinstance(self.microphone, UsbMicrophone):
            if self.preamp or self.converter:
                raise Contradiction("preamp", "and converter must be left out behind a USB microphone")
        elif self.preamp is None or self.converter is None:
            missing = "preamp" if self.preamp is None else "converter"
            raise Contradiction(missing, "is missing: a microphone with an XLR plug needs one")

    @property
    def gain_db(self) -> float:
        return self.preamp.gain_db if self.preamp else self.microphone.gain_db
