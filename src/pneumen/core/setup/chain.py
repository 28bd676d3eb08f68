"""A chain as a person owns it, before it is set up: microphone or plug, interface or none, what its knob tells."""

from dataclasses import dataclass, replace

from pneumen.core.errors import Contradiction
from pneumen.core.gear import Interface, Microphone, UsbMicrophone
from pneumen.core.levels import band_of_sum_db
from pneumen.core.setup.setup import DiBox, PluggedSetup, PlugLevels, Setup, SourceLevels


@dataclass(frozen=True, slots=True, kw_only=True)
class Chain:
    """Microphone and interface, how far their sheets may be off, and the gain control's marking and range.

    gain_marking is "db", "bare" (a knob without decibels) or "none" (distance is the gain). booster_db is what
    an inline booster adds between microphone and interface, 0 without one.
    """

    microphone: Microphone | UsbMicrophone
    microphone_band_db: float
    interface: Interface | None = None
    interface_band_db: float = 0.0
    usb_gain_marking: str = "none"
    usb_gain_max_db: float = 0.0
    booster_db: float = 0.0

    def __post_init__(self) -> None:
        if isinstance(self.microphone, UsbMicrophone) == (self.interface is not None):
            raise Contradiction("interface", "goes with an XLR microphone, and with none other")

    @property
    def gain_marking(self) -> str:
        return self.interface.gain_marking if self.interface else self.usb_gain_marking

    @property
    def gain_range_db(self) -> tuple[float, float]:
        """Lowest and highest gain the control reaches."""
        if self.interface:
            return self.interface.gain_min_db, self.interface.gain_max_db
        return 0.0, 0.0 if self.usb_gain_marking == "none" else self.usb_gain_max_db

    @property
    def sheet_band_db(self) -> float:
        """How far the chain's level may lie from its sheets, plus or minus."""
        return band_of_sum_db(self.microphone_band_db, self.interface_band_db)

    def setup(
        self,
        *,
        source: SourceLevels,
        room_noise_dba: float,
        distance_m: float,
        gain_db: float,
        off_axis_deg: float = 0.0,
    ) -> Setup:
        """Return the chain set up: gain is clamped to what the control reaches."""
        low, high = self.gain_range_db
        gain_db = min(max(gain_db, low), high)
        if self.interface is None:
            microphone, preamp, converter = replace(self.microphone, gain_db=gain_db), None, None
        else:
            microphone, preamp = self._boosted(), self.interface.preamp_at(gain_db)
            converter = self.interface.converter
        return Setup(
            source=source,
            distance_m=distance_m,
            room_noise_dba=room_noise_dba,
            microphone=microphone,
            preamp=preamp,
            converter=converter,
            off_axis_deg=off_axis_deg,
        )

    def _boosted(self) -> Microphone:
        """Fold the booster into the microphone: more output, a low output impedance, its own noise still below."""
        if not self.booster_db:
            return self.microphone
        factor = 10 ** (self.booster_db / 20)
        return replace(
            self.microphone, sensitivity_mv_per_pa=self.microphone.sensitivity_mv_per_pa * factor, impedance_ohm=150.0
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class PluggedChain:
    """An interface an instrument is plugged into: straight (its instrument input's impedance), or through a box."""

    interface: Interface
    interface_band_db: float
    instrument_ohm: float
    box: DiBox | None = None

    @property
    def gain_marking(self) -> str:
        return self.interface.gain_marking

    @property
    def gain_range_db(self) -> tuple[float, float]:
        return self.interface.gain_min_db, self.interface.gain_max_db

    @property
    def sheet_band_db(self) -> float:
        return self.interface_band_db

    def setup(self, *, source: PlugLevels, gain_db: float, **_miked: float) -> PluggedSetup:
        """Return the chain set up; room, distance and angle, which a miked chain needs, do not reach a plug."""
        low, high = self.gain_range_db
        preamp = self.interface.preamp_at(min(max(gain_db, low), high))
        if self.box is None:
            preamp = replace(preamp, input_impedance_ohm=self.instrument_ohm)
        return PluggedSetup(plug=source, preamp=preamp, converter=self.interface.converter, box=self.box)
