"""What the Takes screen says: sentence, predicted beside measured, what the take taught, what to change."""

from dataclasses import dataclass
from typing import Any, Final

from pneumen.core.errors import given
from pneumen.core.forecast import Mending
from pneumen.core.gain import School, school_named
from pneumen.core.levels import SPEED_OF_SOUND_M_S
from pneumen.core.setup import PlugLevels
from pneumen.core.take import NOISE, Correction, Finding, Measurement
from pneumen.core.verdict import Verdict
from pneumen.web.gain.show import GainScreen, gain_screen
from pneumen.web.gain.todo import Todo
from pneumen.web.part.models import Part
from pneumen.web.take.floor import floor_of
from pneumen.web.take.forms import RecordedForm
from pneumen.web.take.lesson_show import Asked, asked_of
from pneumen.web.take.lessons import may_teach
from pneumen.web.take.models import Take
from pneumen.web.take.performance_show import PerformanceScreen, performance_screen
from pneumen.web.take.readings import FIGURES, ToldFigure
from pneumen.web.take.strip import StripScreen, strip_screen
from pneumen.wording.figures import clock, figure, kilohertz, off_window, with_band
from pneumen.wording.formats import format_told
from pneumen.wording.language import _
from pneumen.wording.lengths import near
from pneumen.wording.live import origin_told, origin_troubles
from pneumen.wording.mending import mending_told
from pneumen.wording.noise import noise_told
from pneumen.wording.takes import FAULTS, advice_on_take, checked_told, found_told

MOST_PLACES: Final = 12

SHORT_S = 0.05
"""What is told in seconds and is shorter is told in milliseconds."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared:
    """A figure predicted and measured; within tells whether the measured lies in the band."""

    name: str
    predicted: str
    measured: str
    unit: str
    within: bool | None
    note: str

    @property
    def verdict(self) -> Verdict:
        return Verdict.OPEN if self.within is None else Verdict.CLEAR if self.within else Verdict.WATCH


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """A moment of a take to listen from."""

    when: str
    start_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Said:
    """All findings of one kind and cause in words, with the moments to listen from; more is how many are not listed."""

    kind: str
    places: tuple[Place, ...]
    more: int
    verdict: Verdict
    value: str
    advice: str
    here: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeScreen:
    """All that is shown of one measured take."""

    take: Take
    verdict: Verdict
    sentence: str
    strip: StripScreen
    compared: tuple[Compared, ...]
    facts: tuple[tuple[str, str], ...]
    findings: tuple[Said, ...]
    performance: PerformanceScreen | None
    checked: str
    noise: tuple[str, ...]
    lessons: tuple[str, ...]
    asked: Asked | None
    captured: str
    floor_told: str
    troubles: tuple[str, ...]
    caveats: tuple[str, ...]
    todo: Todo | None
    after: GainScreen | None
    school: School


def take_screen(
    part: Part, take: Take, form: RecordedForm | None = None, span: tuple[float, float] | None = None
) -> TakeScreen:
    """Return what is shown of a take that is done; form is a refused answer to how it was recorded."""
    measurement, snapshot = given("measurement", take.to_core()), take.snapshot
    school = school_named(snapshot["school"])
    correction = take.core_correction()
    teaches = part.learnt is not None and part.learnt.take_id == take.pk
    after = gain_screen(part) if teaches else None
    todo = next((todo for todo in after.todos if todo.kind in ("gain", "distance")), None) if after else None
    return TakeScreen(
        take=take,
        verdict=given("verdict", take.verdict),
        sentence=sentence_of(measurement, school),
        strip=strip_screen(part, take, span),
        compared=_compared(take),
        facts=_facts(measurement, take),
        findings=_gathered(measurement, take.mendings),
        performance=performance_screen(part, take, measurement.format.duration_s),
        checked=checked_told(measurement),
        noise=tuple(noise_told(part) for part in measurement.noise.parts),
        lessons=_lessons(part, take, correction),
        asked=asked_of(take, form),
        captured=origin_told(take.origin) if take.origin else "",
        floor_told=floor_of(take),
        troubles=origin_troubles(take.origin) if take.origin else (),
        caveats=(*_caveats(correction), *_of_channels(measurement, snapshot), *_of_format(measurement, snapshot)),
        todo=todo,
        after=after,
        school=school,
    )


def sentence_of(measurement: Measurement, school: School) -> str:
    """Say how a take stands, and what sets it."""
    peak = measurement.level.sample_peak_dbfs
    kinds = {finding.kind for finding in measurement.findings}
    if "silent" in kinds or peak is None:
        return _("The take is silent: nothing came through.")
    if "clipping" in kinds:
        places = sum(finding.kind == "clipping" for finding in measurement.findings)
        return _("The take clips in {places} place{plural}; its highest peak stands at {peak} dBFS.").format(
            places=places, plural="s" if places > 1 else "", peak=figure(peak, 1)
        )
    found = found_told(measurement)
    lands = _("{which} highest peak lands at {peak} dBFS").format(which="its" if found else "The", peak=figure(peak, 1))
    off = off_window(school.outside_db(peak))
    return _("{found}{lands}, {text} the {lower} window.").format(
        found=found, lands=lands, text=off or "inside", lower=school.label.lower()
    )


def _compared(take: Take) -> tuple[Compared, ...]:
    return tuple(_one_compared(figure, take) for figure in FIGURES)


def _one_compared(figure_: ToldFigure, take: Take) -> Compared:
    reading, predicted_db = figure_.reading_of(take), figure_.predicted_db(take)
    if reading is None:
        note = _("no pause to measure it in")
    else:
        note = _("as predicted") if reading.within else f"{figure(reading.off_db, sign=True)} dB"
    return Compared(
        name=figure_.name,
        predicted=with_band(predicted_db, figure_.band_db(take), figure_.unit),
        measured=figure(figure_.measured_db(take), 1),
        unit=figure_.unit if reading else "",
        within=reading.within if reading else None,
        note=note,
    )


def _facts(measurement: Measurement, take: Take) -> tuple[tuple[str, str], ...]:
    level, shape = measurement.level, measurement.format
    lufs = level.loudness_lufs
    depth = shape.encoding.replace("PCM_", "").replace("_", " ").lower()
    depth = f"{depth}-bit" if depth.isdigit() else depth
    return (
        (_("True peak"), f"{figure(level.true_peak_dbtp, 1)} dBTP"),
        ("RMS", f"{figure(level.rms_dbfs, 1)} dBFS"),
        ("Loudness", f"{figure(lufs, 1)} LUFS" if lufs is not None else _("below the gate")),
        ("Length", clock(round(shape.duration_s, 1)) + (_(" (cut short)") if shape.truncated else "")),
        (
            "File",
            f"{shape.container}, {kilohertz(shape.sample_rate_hz)}, {depth}, {measurement.channels_say}",
        ),
        (_("Recorded with"), _recorded_with(take)),
    )


def _recorded_with(take: Take) -> str:
    if (take.recorded or {}).get("other_gear"):
        return _("other gear than was set")
    miked = "microphone" in take.snapshot["setup"]
    return str(take.snapshot["gear"]) + (
        _(", at {distance_m}").format(distance_m=near(take.distance_m)) if miked else _(", plugged in")
    )


def _gathered(measurement: Measurement, known: dict[str, Mending]) -> tuple[Said, ...]:
    """Gather the findings by kind, what cannot be mended first, with what the setup tells of each."""
    groups: dict[tuple[str, str], list[Finding]] = {}
    for finding in measurement.findings:
        groups.setdefault((finding.kind, finding.cause), []).append(finding)
    ranked = sorted(groups.values(), key=lambda one: -one[0].verdict.gravity)
    return tuple(_said(group, None if group[0].cause == "early-comb" else known.get(group[0].kind)) for group in ranked)


def _said(group: list[Finding], known: Mending | None) -> Said:
    worst = max(group, key=lambda finding: abs(finding.value or 0.0))
    return Said(
        kind=FAULTS[worst.kind],
        places=tuple(Place(when=clock(round(one.start_s, 1)), start_s=one.start_s) for one in group[:MOST_PLACES]),
        more=max(0, len(group) - MOST_PLACES),
        verdict=worst.verdict,
        value=_value(worst.value, worst.unit),
        advice=advice_on_take(worst),
        here=mending_told(known),
    )


def _value(value: float | None, unit: str) -> str:
    """Write a finding's figure; digital silence has none."""
    if value is None:
        return ""
    if unit == "samples":
        return f"{value:.0f} samples"
    if unit == "s" and value < SHORT_S:
        return _("{value} ms, {value_2} m longer a way").format(
            value=figure(1000 * value, 1), value_2=figure(value * SPEED_OF_SOUND_M_S, 1)
        )
    if unit == "Hz":
        return f"{figure(value)} Hz"
    if unit == "channels":
        return _("{value:.0f} useful channel").format(value=value)
    return (
        _("{value} of full scale").format(value=figure(value, 3))
        if unit.startswith("fraction")
        else f"{figure(value, 1)} {unit}"
    )


def _lessons(part: Part, take: Take, correction: Correction | None) -> tuple[str, ...]:
    """Say what the take told about performer and room, and how surely."""
    if correction is None:
        return ()
    performer = f"{'simulated ' if take.simulated else ''}{part.source_facts.performer}"
    shift = correction.level_offset_db
    least = _("at least ") if correction.lower_bound else ""
    differs = _("{least}{shift} dB {which} than was believed").format(
        least=least, shift=figure(abs(shift)), which="louder" if shift >= 0 else "softer"
    )
    differs = _("as loud as was believed") if abs(shift) < 0.5 else differs
    lessons = []
    if correction.absolute:
        lessons.append(
            _("{which} {performer} is {differs}: typically {correction}.").format(
                which="The" if take.simulated else "Your",
                performer=performer,
                differs=differs,
                correction=_typical(correction),
            )
        )
        if correction.room_noise_dba is not None and NOISE not in take.doubts:
            below = _("at most ") if correction.room_is_bound else ""
            lessons.append(
                _("The room’s noise is {below}{room_noise_dba}.").format(
                    below=below, room_noise_dba=with_band(correction.room_noise_dba, correction.room_band_db, "dBA")
                )
            )
    else:
        lessons.append(
            _(
                "The file is {differs}. A bare knob does not tell whether "
                "{performer} or knob made the difference; for this setting it does not matter."
            ).format(differs=differs, performer=performer)
        )
    if not may_teach(take):
        lessons.append(_("Nothing is learnt from it: a real take has told of this part."))
    return tuple(lessons)


def _typical(correction: Correction) -> str:
    source, band_db = correction.source, correction.source_band_db
    if isinstance(source, PlugLevels):
        return _("{typical_dbu} at the plug").format(typical_dbu=with_band(source.typical_dbu, band_db, "dBu"))
    return _("{typical_db_spl} at 1 m").format(typical_db_spl=with_band(source.typical_db_spl, band_db, "dB SPL"))


def _of_channels(measurement: Measurement, snapshot: dict[str, Any]) -> tuple[str, ...]:
    """Say where a file has other channels than the part was set for."""
    wanted, say = snapshot.get("channels", 1), measurement.channels_say
    if wanted > 1 and say != "stereo":
        return (_("The part is set for stereo, and both channels of this file hold one sound, or one holds none."),)
    if wanted == 1 and say == "stereo":
        return (
            _(
                "The part is set for one microphone, and this file is in stereo: record one channel, or set it to stereo."
            ),
        )
    return ()


def _of_format(measurement: Measurement, snapshot: dict[str, Any]) -> tuple[str, ...]:
    """Say where a file is not of the planned format."""
    shape, planned_hz = measurement.format, snapshot["world"]["sample_rate_hz"]
    return format_told(shape.sample_rate_hz, shape.encoding, planned_hz)


def _caveats(correction: Correction | None) -> tuple[str, ...]:
    words = {
        "clipped": _("The tops are cut off, so the true peak is only guessed: expect a second round."),
        "no-pause": _("The take never pauses, so its noise could not be measured. Leave two seconds of silence."),
        "blown": _(
            "A pop, a knock or a click is its highest peak: how loud you are was told from the body of the take."
        ),
        "cut-short": _("The file was cut short; it was measured as far as it goes."),
    }
    return tuple(words[caveat] for caveat in correction.caveats) if correction else ()
