"""The kinds of gear and the facts each can carry: one table that dataclass, files and forms all ask."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

KIND_LABELS: Final[Mapping[str, str]] = MappingProxyType(
    {
        "microphone": "Microphone",
        "interface": "Interface",
        "recorder": "Handheld recorder",
        "bundle": "Bundle",
        "booster": "Inline booster",
        "inline-pad": "Inline pad",
        "di-box": "DI box",
        "reamp-box": "Reamp box",
        "load-box": "Load box",
        "boom-stand": "Boom stand",
        "desk-stand": "Desk stand",
        "stand-clip": "Stand clip",
        "pop-filter": "Pop filter",
        "foam-windscreen": "Foam windscreen",
        "shock-mount": "Shock mount",
        "xlr-cable": "XLR cable",
        "instrument-cable": "Instrument cable",
        "line-cable": "Balanced line cable",
        "speaker-cable": "Speaker cable",
        "usb-cable": "USB cable",
        "phones-adapter": "Headphone adapter",
        "headphones": "Headphones",
        "monitor": "Monitor loudspeaker",
        "monitor-pads": "Monitor pads",
        "software": "Recording software",
        "memory-card": "Memory card",
        "covering": "Blanket, duvet or absorber",
        "clamps": "Clamps",
        "pole": "Pole",
    }
)

NUMBER, WHOLE, TEXT, YES_NO, LIST = "number", "whole number", "text", "yes or no", "list"


@dataclass(frozen=True, slots=True, kw_only=True)
class Fact:
    """One column of the catalogue: what may stand in it, for which kinds, and what it means.

    figures: how many numbers a list of numbers must hold.
    """

    shape: str
    kinds: tuple[str, ...]
    meaning: str
    low: float = 0.0
    high: float = 0.0
    allowed: tuple[str, ...] = ()
    figures: int = 0


_MIC, _FACE, _REC = "microphone", "interface", "recorder"
_GAINS = ("booster", "inline-pad", "di-box")
SYSTEMS: Final = ("windows", "mac", "linux", "tablet")
TONES: Final = ("bright", "neutral", "dark")
PHANTOM: Final = ("per-channel", "shared", "none")
PLUGS: Final = ("xlr", "ts", "trs", "ts-3.5", "trs-3.5", "speaker", "usb")
PHONES_PLUGS: Final = ("3.5 mm", "6.35 mm")
TABLED_BUFFERS: Final = (32, 64, 128, 256, 512, 1024)
"""The buffers a sheet tells its round trip at."""
PRICE_MODELS: Final = ("free", "once", "monthly")

FACTS: Final[Mapping[str, Fact]] = MappingProxyType(
    {
        "family": Fact(shape=TEXT, kinds=(_MIC, _FACE), meaning="family of the microphone or interface"),
        "pattern": Fact(shape=TEXT, kinds=(_MIC, _REC), meaning="polar pattern"),
        "sensitivity_mv_per_pa": Fact(shape=NUMBER, kinds=(_MIC,), low=0.05, high=200, meaning="sensitivity at 1 kHz"),
        "self_noise_dba": Fact(shape=NUMBER, kinds=(_MIC, _REC), low=0, high=60, meaning="self-noise, A-weighted"),
        "max_spl_db": Fact(shape=NUMBER, kinds=(_MIC,), low=90, high=180, meaning="maximum SPL"),
        "impedance_ohm": Fact(
            shape=NUMBER, kinds=(_MIC, "headphones", "di-box"), low=0.01, high=1e6, meaning="output or own impedance"
        ),
        "full_scale_db_spl": Fact(
            shape=NUMBER,
            kinds=(_MIC, _REC),
            low=80,
            high=160,
            meaning="SPL of the sine that reaches full scale at 0 dB",
        ),
        "tone": Fact(shape=TEXT, kinds=(_MIC, "monitor", "headphones"), allowed=TONES, meaning="tone"),
        "low_hz": Fact(shape=NUMBER, kinds=(_MIC, "monitor"), low=5, high=400, meaning="lower limit of the band"),
        "high_hz": Fact(
            shape=NUMBER, kinds=(_MIC, "monitor"), low=2000, high=60_000, meaning="upper limit of the band"
        ),
        "gain_marking": Fact(
            shape=TEXT, kinds=(_MIC, _REC), allowed=("db", "bare", "none", "slider"), meaning="how gain is marked"
        ),
        "gain_min_db": Fact(shape=NUMBER, kinds=(_FACE,), low=-30, high=40, meaning="lowest gain"),
        "gain_max_db": Fact(shape=NUMBER, kinds=(_MIC, _FACE, _REC), low=-60, high=100, meaning="highest gain"),
        "ein_dbu": Fact(shape=NUMBER, kinds=(_FACE,), low=-133, high=-90, meaning="EIN, A-weighted, 150 ohm"),
        "max_input_dbu": Fact(
            shape=NUMBER, kinds=(_FACE,), low=-30, high=40, meaning="sine that reaches full scale at the lowest gain"
        ),
        "input_impedance_ohm": Fact(shape=NUMBER, kinds=(_FACE, "di-box"), low=1, high=1e8, meaning="input impedance"),
        "dynamic_range_db": Fact(shape=NUMBER, kinds=(_FACE,), low=60, high=140, meaning="converter, A-weighted"),
        "mic_inputs": Fact(shape=WHOLE, kinds=(_FACE, _REC), low=0, high=64, meaning="microphone preamps"),
        "instrument_inputs": Fact(shape=WHOLE, kinds=(_FACE,), low=0, high=64, meaning="high-impedance inputs"),
        "instrument_impedance_ohm": Fact(
            shape=NUMBER, kinds=(_FACE,), low=10_000, high=20e6, meaning="impedance of the instrument input"
        ),
        "line_inputs": Fact(shape=WHOLE, kinds=(_FACE,), low=0, high=64, meaning="line inputs"),
        "line_max_input_dbu": Fact(
            shape=NUMBER, kinds=(_FACE,), low=-10, high=40, meaning="the same at a line input, at its lowest gain"
        ),
        "phantom": Fact(shape=TEXT, kinds=(_FACE, _REC), allowed=PHANTOM, meaning="how phantom power is switched"),
        "line_outputs": Fact(shape=WHOLE, kinds=(_FACE,), low=0, high=64, meaning="balanced line outputs"),
        "phones_plug": Fact(
            shape=TEXT,
            kinds=(_FACE, _REC, _MIC, "headphones"),
            allowed=PHONES_PLUGS,
            meaning="headphone socket or plug",
        ),
        "phones_volt": Fact(
            shape=NUMBER, kinds=(_FACE, _REC), low=0.1, high=15, meaning="largest headphone output, V RMS, unloaded"
        ),
        "phones_output_ohm": Fact(
            shape=NUMBER, kinds=(_FACE, _REC), low=0, high=200, meaning="output impedance of the headphone output"
        ),
        "converters_ms": Fact(shape=NUMBER, kinds=(_FACE, _MIC), low=0.1, high=20, meaning="both converters together"),
        "safety_samples": Fact(shape=WHOLE, kinds=(_FACE, _MIC), low=0, high=4096, meaning="driver's offset each way"),
        "round_trip_ms": Fact(
            shape=LIST,
            kinds=(_FACE, _MIC),
            low=0.5,
            high=500,
            figures=6,
            meaning="measured round trip at 48 kHz, at buffers of 32, 64, 128, 256, 512 and 1024",
        ),
        "highest_rate_khz": Fact(shape=NUMBER, kinds=(_FACE, _REC, _MIC), low=32, high=384, meaning="highest rate"),
        "systems": Fact(shape=LIST, kinds=(_FACE, _MIC, "software"), allowed=SYSTEMS, meaning="systems it works with"),
        "bus_powered": Fact(shape=YES_NO, kinds=(_FACE,), meaning="fed by the computer"),
        "gain_db": Fact(shape=NUMBER, kinds=_GAINS, low=-40, high=40, meaning="what it adds (or takes)"),
        "weakest_gain_db": Fact(
            shape=NUMBER,
            kinds=("inline-pad",),
            low=-40,
            high=-0.5,
            meaning="the same at its weakest setting, where it has a control",
        ),
        "gain_step_db": Fact(
            shape=NUMBER,
            kinds=("inline-pad", _FACE),
            low=0.1,
            high=20,
            meaning="step of its control; empty: it turns freely",
        ),
        "noise_dbu": Fact(
            shape=NUMBER, kinds=("di-box",), low=-133, high=-60, meaning="noise at its output, A-weighted"
        ),
        "max_output_dbu": Fact(shape=NUMBER, kinds=("di-box",), low=-30, high=30, meaning="largest output"),
        "active": Fact(shape=YES_NO, kinds=("di-box", "monitor"), meaning="has electronics of its own"),
        "ground_lift": Fact(shape=YES_NO, kinds=("di-box", "reamp-box"), meaning="ground can be lifted"),
        "length_m": Fact(
            shape=NUMBER,
            kinds=("xlr-cable", "instrument-cable", "line-cable", "speaker-cable", "usb-cable", "headphones", "pole"),
            low=0.1,
            high=100,
            meaning="length",
        ),
        "plug_from": Fact(
            shape=TEXT, kinds=("xlr-cable", "instrument-cable", "line-cable"), allowed=PLUGS, meaning="plug at one end"
        ),
        "plug_to": Fact(
            shape=TEXT,
            kinds=("xlr-cable", "instrument-cable", "line-cable"),
            allowed=PLUGS,
            meaning="plug at the other",
        ),
        "reach_m": Fact(shape=NUMBER, kinds=("boom-stand", "desk-stand"), low=0.1, high=4, meaning="highest capsule"),
        "closed": Fact(shape=YES_NO, kinds=("headphones",), meaning="closed cups"),
        "sensitivity_db_per_mw": Fact(
            shape=NUMBER, kinds=("headphones",), low=70, high=130, meaning="SPL at the ear for 1 mW"
        ),
        "max_spl_1m_db": Fact(shape=NUMBER, kinds=("monitor",), low=80, high=140, meaning="loudest peak at 1 m"),
        "balanced": Fact(shape=YES_NO, kinds=("monitor",), meaning="balanced input"),
        "tracks": Fact(shape=WHOLE, kinds=("software",), low=1, high=100_000, meaning="tracks at once"),
        "takes": Fact(shape=YES_NO, kinds=("software",), meaning="keeps takes and joins the best"),
        "latency_compensation": Fact(shape=YES_NO, kinds=("software",), meaning="lines recordings up with the backing"),
        "price_model": Fact(
            shape=TEXT,
            kinds=("software",),
            allowed=PRICE_MODELS,
            meaning="how it is paid; by the month, a year is counted",
        ),
        "absorption_m2": Fact(
            shape=LIST,
            kinds=("covering",),
            low=0,
            high=20,
            figures=6,
            meaning="equivalent absorption area, 125 Hz to 4 kHz",
        ),
        "width_m": Fact(shape=NUMBER, kinds=("covering",), low=0.1, high=20, meaning="width as it hangs"),
        "height_m": Fact(shape=NUMBER, kinds=("covering",), low=0.1, high=6, meaning="height as it hangs"),
        "learning": Fact(
            shape=WHOLE, kinds=(_MIC, _FACE, _REC, "software"), low=1, high=5, meaning="burden of learning, 5 is much"
        ),
        "sturdy": Fact(shape=WHOLE, kinds=(), low=1, high=5, meaning="stands rough hands, 5 is most"),
        "stows": Fact(shape=YES_NO, kinds=(), meaning="cleared away in a minute"),
    }
)
"""Kinds left empty: any kind may carry the fact. Ranges left empty: the data sheets of the room gear check them."""

CONNECTS: Final[Mapping[str, str]] = MappingProxyType(
    {
        "interface": "usb",
        "usb-cable": "usb",
        "booster": "xlr",
        "inline-pad": "xlr",
        "di-box": "xlr",
        "xlr-cable": "xlr",
        "instrument-cable": "jack",
        "headphones": "jack",
        "phones-adapter": "jack",
        "line-cable": "jack",
    }
)
"""The plug a kind goes on with, where its family does not decide it."""

REQUIRED: Final[Mapping[str, tuple[str, ...]]] = MappingProxyType(
    {
        "microphone": ("family",),
        "interface": ("family",),
        "recorder": ("full_scale_db_spl", "self_noise_dba"),
        "booster": ("gain_db",),
        "inline-pad": ("gain_db",),
        "di-box": ("gain_db", "input_impedance_ohm", "noise_dbu"),
        "boom-stand": ("reach_m",),
        "xlr-cable": ("length_m",),
        "instrument-cable": ("length_m",),
        "line-cable": ("length_m",),
        "covering": ("absorption_m2",),
        "software": ("systems",),
    }
)
"""Without these facts an item of the kind cannot be planned with."""
