"""From breath to file, sample by sample: pascals, volts, codes."""

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final

import numpy as np
import soundfile

from pneumen.core.gear import PATTERNS, directivity_factor
from pneumen.core.levels import db_to_ratio, dbu_to_volt, ratio_to_db, spl_db_to_pascal
from pneumen.core.rig.air import DEEPEST_NULL, close_up, tail_of, with_octaves
from pneumen.core.rig.noise import weighted_noise
from pneumen.core.rig.performance import Performance
from pneumen.core.rig.performer import perform
from pneumen.core.rig.scene import Scene
from pneumen.core.rig.truth import Truth
from pneumen.core.setup import LineSetup, MikedSetup, PluggedSetup, UsbSetup, XlrSetup

ROOM_SLOPE_DB_PER_OCTAVE: Final = -5.0
"""How a quiet room's noise falls towards the treble (the slope of the NC and NR curves, from memory)."""
OTHER_HALF: Final = 0.5
"""How much softer one side of a pair hears the other half of a wide source (estimate)."""
USUAL_RT60_S: Final = 0.4
"""How long a furnished room rings whose reverberation time is not told (common practice, no source)."""
PUFF_PA_PER_SPEED_SQUARED: Final = 0.2
"""Of the pressure of still air before a stream, 0.6 v^2 Pa, about a third comes through a grille (estimate)."""
FAR_OFF_M: Final = 100.0
SUBTYPES: Final = {16: "PCM_16", 24: "PCM_24"}


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class SimulatedTake:
    """A take as codes between -1 and 1, what could not be done as asked, and how far the gain was turned down."""

    samples: np.ndarray
    sample_rate_hz: int
    caveats: tuple[str, ...]
    turned_down_db: float = 0.0


def simulate(scene: Scene, air: np.ndarray | None = None, *, headroom_dbfs: float | None = None) -> SimulatedTake:
    """Play and record a scene; the same scene gives the same samples.

    Args:
        air: an impulse response of air_of; left out, the microphone hears the direct sound, with what closeness and a
            low-cut do to it where the source tells its spectrum, and the tail of a room whose share the chain tells.
        headroom_dbfs: the gain is turned down, as far as it goes, until the peak lies there.
    """
    setup, truth, rate_hz = scene.chain, scene.truth, scene.sample_rate_hz
    rng = np.random.default_rng([scene.seed, 23, *([scene.side + 1] if scene.side else [])])
    if not isinstance(setup, PluggedSetup):
        setup = replace(setup, distance_m=setup.distance_m + truth.behind_m)
    if isinstance(setup, PluggedSetup):
        sound, caveats = _at_plug(_played(scene).whole, setup, truth, rate_hz)
    elif air is not None or setup.source.octaves_db is None:
        sound, caveats = _at_microphone(_played(scene).whole, setup, truth, rate_hz)
        if air is not None:
            sound = _heard_through(sound, air)
        elif (around := _tail(scene, setup)) is not None:
            sound = sound + _heard_through(sound, around)
    else:
        sound, caveats = _close_up(scene, setup, setup.source.octaves_db)
    if not isinstance(setup, PluggedSetup):
        room_pa = spl_db_to_pascal(setup.room_noise_dba + truth.room_noise_db)
        room_pa /= directivity_factor(setup.microphone.pattern) ** 0.5
        sound = sound + weighted_noise(rng, len(sound), rate_hz, room_pa, ROOM_SLOPE_DB_PER_OCTAVE)
    turned_down_db = 0.0
    if headroom_dbfs is not None:
        setup, turned_down_db = _turned_down(setup, sound, truth, headroom_dbfs)
    codes = _quantised(_recorded(rng, sound, setup, truth, rate_hz), scene.bit_depth, rng)
    return SimulatedTake(samples=codes, sample_rate_hz=rate_hz, caveats=caveats, turned_down_db=turned_down_db)


def _played(scene: Scene) -> Performance:
    """Return what is played; of a wide source each side hears its own half louder than the other's."""

    def half(seed: int) -> Performance:
        truth = scene.truth
        duration_s, rate_hz = scene.duration_s, scene.sample_rate_hz
        return perform(scene.source, duration_s, rate_hz, truth.tilt_db_per_octave, seed, phrase_seed=truth.world_seed)

    if not scene.side:
        return half(scene.seed)
    own, other = scene.seed + (scene.side > 0), scene.seed + (scene.side < 0)
    return half(own) + half(other).times(OTHER_HALF)


def simulate_pair(scene: Scene) -> SimulatedTake:
    """Play and record a scene on two channels, left and right, whose noises know nothing of each other."""
    left, right = (simulate(replace(scene, side=side)) for side in (-1, 1))
    return replace(left, samples=np.column_stack([left.samples, right.samples]))


def _close_up(scene: Scene, setup: MikedSetup, octaves_db: tuple[float, ...]) -> tuple[np.ndarray, tuple[str, ...]]:
    """Bring a performance with the spectrum that is told to a microphone near it; a P is wind, not sound."""
    rate_hz, played = scene.sample_rate_hz, _played(scene)
    voice = played.voice
    coloured = with_octaves(voice, octaves_db, scene.truth.tilt_db_per_octave, rate_hz)
    sound, caveats = _at_microphone(coloured, setup, scene.truth, rate_hz)
    if caveats:  # some waveforms cannot have both this spectrum and this crest: the crest decides levels
        sound, caveats = _at_microphone(voice, setup, scene.truth, rate_hz)
    sound = sound + _more_hiss(scene, played.hiss, sound)
    puffs = played.puffs * _puff_scale(scene, played.puffs, np.sqrt(np.square(sound).mean() / np.square(voice).mean()))

    def response(distance_m: float) -> np.ndarray:
        return close_up(
            setup.microphone.pattern,
            distance_m,
            off_axis_deg=setup.off_axis_deg,
            extent_m=setup.extent_m,
            low_cut_hz=setup.low_cut_hz,
            rate_hz=rate_hz,
        )

    heard = _heard_through(sound, response(setup.distance_m)) + puffs
    around = _tail(scene, setup)
    if around is not None:  # what comes from all around knows no closeness
        heard += _heard_through(_heard_through(sound, around), response(FAR_OFF_M))
    return heard, caveats


def _more_hiss(scene: Scene, hiss: np.ndarray, sound: np.ndarray) -> np.ndarray:
    """Return what a stronger or weaker S adds to a voice that has its spectrum already.

    Args:
        hiss: the S as performed, sound: all of the voice at the microphone.
    """
    ratio, power = db_to_ratio(scene.truth.hiss_db + scene.beam_db), float(np.dot(hiss, hiss))
    if ratio == 1.0 or not power:
        return np.zeros(len(sound))
    # The S of the voice went through the same filter: so much of it is in the sound.
    return np.asarray((ratio - 1.0) * float(np.dot(sound, hiss)) / power * hiss)


def _puff_scale(scene: Scene, puffs: np.ndarray, as_the_voice: float) -> float:
    """Return what brings the air of the Ps to pascals at the capsule."""
    highest = float(np.abs(puffs).max())
    if scene.puff_m_per_s is None or highest == 0:
        return as_the_voice
    return PUFF_PA_PER_SPEED_SQUARED * scene.puff_m_per_s**2 / highest


def _tail(scene: Scene, setup: MikedSetup) -> np.ndarray | None:
    """Return the response of the room's own sound, None where the chain tells none."""
    lead_db = setup.direct_to_reverberant_db
    if lead_db is None:
        return None
    rng = np.random.default_rng([scene.world_seed, 47, scene.side + 1])
    return tail_of(rng, lead_db - scene.truth.reverberant_db, setup.rt60_s or USUAL_RT60_S, scene.sample_rate_hz)


def _heard_through(sound: np.ndarray, response: np.ndarray) -> np.ndarray:
    from scipy.signal import fftconvolve  # takes a second to load, and few commands need it

    return fftconvolve(sound, response)[: len(sound)]


def _recorded(rng: np.random.Generator, sound: np.ndarray, setup: LineSetup, truth: Truth, rate_hz: int) -> np.ndarray:
    """Send a sound through whatever it is recorded with: pascal at a capsule, or volts at a plug."""
    match setup:
        case PluggedSetup():
            return _through_plug(rng, sound, setup, truth, rate_hz)
        case UsbSetup():
            return _through_usb(rng, sound, setup, truth, rate_hz)
        case _:
            return _through_interface(rng, sound, setup, truth, rate_hz)


def _turned_down(setup: LineSetup, pressure_pa: np.ndarray, truth: Truth, peak_dbfs: float) -> tuple[LineSetup, float]:
    """Return a miked setup with its gain as low as the performance asks for, and by how much that is lower."""
    if not isinstance(setup, XlrSetup):
        return setup, 0.0
    microphone, preamp = setup.microphone, setup.preamp
    volt = np.abs(pressure_pa).max() * microphone.sensitivity_mv_per_pa / 1000 * db_to_ratio(truth.sensitivity_db)
    peak_dbu = ratio_to_db(float(volt) / 2**0.5 / dbu_to_volt(0.0))
    gain_db = preamp.gain_min_db + preamp.max_input_dbu + peak_dbfs - peak_dbu
    wanted = min(max(min(gain_db, preamp.gain_db), preamp.gain_min_db), preamp.gain_max_db)
    return replace(setup, preamp=replace(preamp, gain_db=wanted)), preamp.gain_db - wanted


def write_take(take: SimulatedTake, path: Path | str, bit_depth: int = 24) -> None:
    """Write a take as a WAV file, with as many channels as it has."""
    soundfile.write(path, take.samples, take.sample_rate_hz, subtype=SUBTYPES[bit_depth], format="WAV")


def _at_microphone(
    performance: np.ndarray, setup: MikedSetup, truth: Truth, rate_hz: int
) -> tuple[np.ndarray, tuple[str, ...]]:
    """Bring a performance to the source's peak and typical level, in pascals where the microphone stands."""
    source = setup.source
    a, off = PATTERNS[setup.microphone.pattern], np.radians(setup.off_axis_deg)
    fall = source.at_m / setup.distance_m * max(abs(a + (1 - a) * np.cos(off)), DEEPEST_NULL)
    peak_pa = spl_db_to_pascal(source.peak_db_spl + truth.loudness_db) * 2**0.5 * fall
    return _shaped(performance, source.peak_db_spl - source.typical_db_spl, peak_pa, rate_hz)


def _at_plug(
    performance: np.ndarray, setup: PluggedSetup, truth: Truth, rate_hz: int
) -> tuple[np.ndarray, tuple[str, ...]]:
    """Bring a performance to the plug's peak and typical level, in volts, unloaded."""
    plug = setup.plug
    peak_volt = dbu_to_volt(plug.peak_dbu + truth.loudness_db) * 2**0.5
    return _shaped(performance, plug.peak_dbu - plug.typical_dbu, peak_volt, rate_hz)


def _shaped(performance: np.ndarray, crest_db: float, peak: float, rate_hz: int) -> tuple[np.ndarray, tuple[str, ...]]:
    """Give a performance a crest (a sine with its peak over its active RMS) and a peak, in any unit."""
    wanted_crest = db_to_ratio(crest_db) * 2**0.5
    shaped = _with_crest(performance, wanted_crest, rate_hz)
    reached = _crest(shaped, rate_hz)
    caveats: tuple[str, ...] = ()
    if abs(20 * np.log10(reached / wanted_crest)) > 1:
        crest_db = 20 * np.log10(reached / 2**0.5)
        caveats = (f"this performer's peaks lie {crest_db:.1f} dB over the typical level, whatever was asked",)
    return shaped * peak / np.abs(shaped).max(), caveats


def active_rms(samples: np.ndarray, rate_hz: int) -> float:
    """Return the RMS of the 100 ms stretches within 25 dB of the loudest."""
    return _active_rms(_power(samples, _stretch(rate_hz)))


def _stretch(rate_hz: int) -> int:
    return max(1, rate_hz // 10)


def _power(samples: np.ndarray, length: int) -> np.ndarray:
    """Return the mean squares of whole stretches."""
    return np.asarray(np.square(samples[: len(samples) // length * length]).reshape(-1, length).mean(axis=1))


def _active_rms(power: np.ndarray) -> float:
    return float(np.sqrt(power[power >= power.max() * 10**-2.5].mean()))


def _with_crest(performance: np.ndarray, wanted: float, rate_hz: int) -> np.ndarray:
    """Play the strongest moments softer, or the very strongest louder, until peak over active RMS is as wanted."""
    performance = performance.copy()
    for _ in range(80):
        if _crest(performance, rate_hz) <= wanted:
            break
        moment, accent = _moment_of_peak(performance, rate_hz)
        performance[moment] *= 1 - 0.12 * accent
    moment, accent = _moment_of_peak(performance, rate_hz)
    length, there = _stretch(rate_hz), performance[moment]
    power = _power(performance, length)
    here = slice(moment.start // length, moment.start // length + len(there) // length)
    others = max(np.abs(rest).max(initial=0.0) for rest in (performance[: moment.start], performance[moment.stop :]))
    low, high = 0.0, 11.0
    for _ in range(24):
        middle = (low + high) / 2
        tried = there * (1 + middle * accent)
        power[here] = _power(tried, length)
        if max(others, np.abs(tried).max()) / _active_rms(power) < wanted:
            low = middle
        else:
            high = middle
    performance[moment] *= 1 + low * accent
    return performance


def _crest(samples: np.ndarray, rate_hz: int) -> float:
    return float(np.abs(samples).max() / active_rms(samples, rate_hz))


def _moment_of_peak(samples: np.ndarray, rate_hz: int) -> tuple[slice, np.ndarray]:
    """Return the stretches round the highest peak, and a smooth window of about half a second on them."""
    peak, length = int(np.abs(samples).argmax()), _stretch(rate_hz)
    # Further off the window is next to nothing.
    first, last = (peak - 16 * length) // length * length, (peak + 17 * length) // length * length
    moment = slice(max(first, 0), min(last, len(samples)))
    distance_s = (np.arange(moment.start, moment.stop) - peak) / rate_hz
    return moment, np.exp(-np.square(distance_s / 0.25))


def _through_interface(
    rng: np.random.Generator, pressure_pa: np.ndarray, setup: XlrSetup, truth: Truth, rate_hz: int
) -> np.ndarray:
    """Capsule and cable, each with its noise and its ceiling, then preamp and converter."""
    microphone, preamp = setup.microphone, setup.preamp
    volt_per_pa = microphone.sensitivity_mv_per_pa / 1000 * db_to_ratio(truth.sensitivity_db)
    highest_pa = spl_db_to_pascal(microphone.max_spl_db + microphone.pad_db) * 2**0.5
    volt = np.clip(pressure_pa, -highest_pa, highest_pa) * volt_per_pa / db_to_ratio(microphone.pad_db)
    own_noise_pa = spl_db_to_pascal(microphone.self_noise_dba)
    volt += weighted_noise(rng, len(volt), rate_hz, own_noise_pa * volt_per_pa)
    volt *= preamp.input_impedance_ohm / (preamp.input_impedance_ohm + microphone.impedance_ohm)
    return _through_preamp(rng, volt, setup, truth, rate_hz)


def _through_plug(
    rng: np.random.Generator, volt: np.ndarray, setup: PluggedSetup, truth: Truth, rate_hz: int
) -> np.ndarray:
    """The instrument's own noise, the load that pulls it down, perhaps a box, then preamp and converter."""
    plug, box, preamp, before = setup.plug, setup.box, setup.preamp, setup.before
    volt = volt * db_to_ratio(before.own_volume_db)
    volt = volt + weighted_noise(rng, len(volt), rate_hz, dbu_to_volt(plug.noise_dbu))
    volt = volt * db_to_ratio(before.pedal_db + before.mixer_db)
    load_ohm = box.input_impedance_ohm if box else preamp.input_impedance_ohm
    volt = volt * load_ohm / (load_ohm + plug.output_ohm)
    if box:
        highest_volt = dbu_to_volt(box.max_output_dbu) * 2**0.5
        volt = np.clip(volt * db_to_ratio(box.gain_db), -highest_volt, highest_volt)
        volt = volt + weighted_noise(rng, len(volt), rate_hz, dbu_to_volt(box.noise_dbu))
        volt = volt * preamp.input_impedance_ohm / (preamp.input_impedance_ohm + box.output_ohm)
    return _through_preamp(rng, volt, setup, truth, rate_hz)


def _through_preamp(
    rng: np.random.Generator, volt: np.ndarray, setup: XlrSetup | PluggedSetup, truth: Truth, rate_hz: int
) -> np.ndarray:
    """Preamp and converter, each with its noise and its ceiling; full scale is 1."""
    preamp, count = setup.preamp, len(volt)
    volt = volt / db_to_ratio(preamp.pad_db)
    volt += weighted_noise(rng, count, rate_hz, dbu_to_volt(preamp.ein_dbu))
    highest_volt = dbu_to_volt(preamp.max_input_dbu) * 2**0.5
    gain = db_to_ratio(preamp.gain_db - preamp.gain_min_db + truth.gain_db)
    codes = np.clip(volt, -highest_volt, highest_volt) / highest_volt * gain
    return codes + weighted_noise(rng, count, rate_hz, db_to_ratio(-setup.converter.dynamic_range_db) / 2**0.5)


def _through_usb(
    rng: np.random.Generator, pressure_pa: np.ndarray, setup: UsbSetup, truth: Truth, rate_hz: int
) -> np.ndarray:
    microphone = setup.microphone
    full_scale_pa = spl_db_to_pascal(microphone.full_scale_db_spl - truth.sensitivity_db) * 2**0.5
    own_noise_pa = spl_db_to_pascal(microphone.self_noise_dba)
    heard_pa = pressure_pa + weighted_noise(rng, len(pressure_pa), rate_hz, own_noise_pa)
    return heard_pa / full_scale_pa * db_to_ratio(microphone.gain_db + truth.gain_db)


def _quantised(codes: np.ndarray, bit_depth: int, rng: np.random.Generator) -> np.ndarray:
    """Round to the converter's bits with triangular dither, and stop at full scale."""
    steps = 2 ** (bit_depth - 1)
    dither = rng.random(len(codes)) - rng.random(len(codes))
    return np.clip(np.round(codes * steps + dither), -steps, steps - 1) / steps
