"""What the Part screen says: sentence, shape, reading, format, why."""

from dataclasses import dataclass

from pneumen.core.part import GROUPS, GUESS_BAND_DB, OCTAVES_HZ, USUAL_SECTIONS, guessed_levels, loudest_of
from pneumen.core.part import Section as CoreSection
from pneumen.core.setup import PlugLevels, SourceLevels
from pneumen.core.verdict import Verdict
from pneumen.web.drawing import is_seen, those_seen
from pneumen.web.figures import Figures, figures_of
from pneumen.web.gain.why import Why
from pneumen.web.kept_rows import as_read
from pneumen.web.part.models import Backing, Part
from pneumen.web.part.picture import NARROW, WIDE, Shape, draw_shape
from pneumen.web.settle import outcome_of, performance_of
from pneumen.web.song.models import AUDIENCES
from pneumen.wording.figures import figure, kilohertz, with_band
from pneumen.wording.language import _


@dataclass(frozen=True, slots=True, kw_only=True)
class PartScreen:
    verdict: Verdict
    sentence: str
    shapes: tuple[Shape, ...]
    figures: Figures | None
    reading: tuple[tuple[str, str, str, str], ...]
    measured_at: str
    unit_label: str
    spectrum: tuple[tuple[str, float], ...]
    source_label: str
    group_label: str
    session_told: str
    usual: tuple[str, ...]
    backing: Backing | None
    backing_told: str
    format_label: str
    format_reason: str
    whys: tuple[Why, ...] | None


def part_screen(part: Part, *, tried: bool = False) -> PartScreen:
    """Return what the Part screen shows of a part with its sections; tried: they are not those stored."""
    rows = [(row.pk, row.to_core()) for row in part.sections.all()]
    source, guess = part.source_facts, guessed_levels(part.source, part.loudness)
    usual_db = source_figures(guess.levels)[1]
    performance = performance_of(part)
    levels, known = performance.levels, performance.from_take
    backing, others = as_read(("beside", part.pk), lambda: _beside(part))
    audience, rate_hz, reason = AUDIENCES[part.song.audience]
    return PartScreen(
        verdict=Verdict.CLEAR if rows else Verdict.OPEN,
        sentence=_sentence(part, rows, usual_db, guess.band_db),
        shapes=tuple(draw_shape(tuple(rows), usual_db, frame) for frame in those_seen(WIDE, NARROW)),
        figures=None if tried else figures_of(part.pk, outcome_of(part)),
        reading=_reading(part, levels),
        measured_at=_("At the plug") if part.is_plugged else "At 1 m",
        unit_label=_("dBu at the plug") if part.is_plugged else _("dB SPL at 1 m"),
        spectrum=tuple(
            (f"{hertz:g}" if hertz < 1000 else f"{hertz / 1000:g} k", max(0.0, 100 + 2 * level))
            for hertz, level in zip(OCTAVES_HZ, source.octave_spectrum_db, strict=True)
        ),
        source_label=source.label,
        group_label=GROUPS[source.group],
        session_told=_session_told(others),
        usual=tuple(name for name, *_rest in USUAL_SECTIONS),
        backing=backing,
        backing_told=_backing_told(backing, rate_hz) if backing else "",
        format_label=f"24-bit, {kilohertz(rate_hz)}, WAV, {'stereo' if part.channels > 1 else 'mono'}: {audience.lower()}",
        format_reason=reason,
        whys=_whys(part, known) if is_seen("why") else None,
    )


def source_figures(levels: SourceLevels | PlugLevels) -> tuple[float, float, float]:
    """Return peak, typical and quietest level, in dB SPL or in dBu."""
    if isinstance(levels, PlugLevels):
        return levels.peak_dbu, levels.typical_dbu, levels.quiet_dbu
    return levels.peak_db_spl, levels.typical_db_spl, levels.quiet_db_spl


def _reading(part: Part, levels: SourceLevels | PlugLevels) -> tuple[tuple[str, str, str, str], ...]:
    """Name, figure, unit and the name it is marked with."""
    unit = "dBu" if part.is_plugged else "dB SPL"
    peak, typical, quiet = source_figures(levels)
    return (
        (_("Loudest peak"), figure(peak), unit, "source_peak_db_spl"),
        ("Typical", figure(typical), unit, "source_typical_db_spl"),
        ("Quietest", figure(quiet), unit, ""),
        (_("Dynamic range"), figure(peak - quiet), "dB", ""),
        (_("Takes to record"), figure(3 * (1 + part.doubles)), "", ""),
    )


def _sentence(part: Part, rows: list[tuple[int, CoreSection]], usual_db: float, band_db: float) -> str:
    if not rows:
        return _("No sections yet: the whole part is taken as one, at its usual loudness.")
    sections = [core for _rest, core in rows]
    loudest = sections[loudest_of(sections) or 0]
    softest = min(sections, key=lambda one: one.loudness_db)
    span = loudest.loudness_db - softest.loudness_db
    unit = _("dBu at the plug") if part.is_plugged else _("dB SPL at 1 m")
    level = with_band(usual_db + loudest.loudness_db, band_db, unit)
    if span < 1:
        return _("All sections are alike, about {level}.").format(level=level)
    return _("{name} is the loudest, about {level}, and sets the gain; {name_2} lies {span} dB under it.").format(
        name=loudest.name, level=level, name_2=softest.name, span=figure(span)
    )


def _beside(part: Part) -> tuple[Backing | None, list[str]]:
    """Return the song's backing, and the names of the parts that are recorded at once with this one."""
    others = part.song.parts.filter(session=part.session).exclude(pk=part.pk)
    return Backing.objects.filter(song=part.song_id).first(), list(others.values_list("name", flat=True))


def _session_told(others: list[str]) -> str:
    return _("Now with {others}.").format(others=_(" and ").join(others)) if others else _("Now on its own.")


def _backing_told(backing: Backing, rate_hz: int) -> str:
    minutes, seconds = divmod(round(backing.duration_s), 60)
    told = _("{name}: {minutes}:{seconds:02d}, {rate}, {channels} channel{plural}.").format(
        name=backing.original_name,
        minutes=minutes,
        seconds=seconds,
        rate=kilohertz(backing.sample_rate_hz),
        channels=backing.channels,
        plural="s" if backing.channels > 1 else "",
    )
    if backing.sample_rate_hz != rate_hz:
        told += _(" The song goes out at {rate_hz}: set the project to one rate before the first take.").format(
            rate_hz=kilohertz(rate_hz)
        )
    return told


def _whys(part: Part, measured: bool) -> tuple[Why, ...]:
    source = part.source_facts
    rms, where = (
        (source.direct.rms_dbu, _("dBu at the plug")) if source.direct else (source.rms_at_1m_db, _("dB SPL at 1 m"))
    )
    ranges = _(" to ").join(figure(rms[n]) for n in (0, 2))
    if source.direct:
        kind = _("passive: it needs a high-impedance input or an active DI box") if source.direct.passive else "active"
        second = Why(
            title=_("What the plug asks for"),
            lines=(
                _("{output_ohm:g} ohm, {kind}; its own noise lies at {noise_dbu} dBu (A).").format(
                    output_ohm=source.direct.output_ohm, kind=kind, noise_dbu=figure(source.direct.noise_dbu)
                ),
            ),
            source="estimate",
        )
    else:
        second = Why(
            title=_("How it sounds into a room"),
            lines=(
                _(
                    "{text} it sends {directivity_factor:g} times the mean (directivity factor); its attack is {transient}."
                ).format(
                    text=_("To the wall behind") if source.radiates_back else _("Towards the microphone"),
                    directivity_factor=source.directivity_factor,
                    transient=source.transient,
                ),
            ),
            source="estimate",
        )
    return (
        Why(
            title=_("Where the level comes from"),
            lines=(
                _("A test take told it: the file is a sound-level reading.")
                if measured
                else _(
                    "{label}: {ranges} {where} while sounding, soft to loud; ±{guess_band_db:g} dB until a test take tells."
                ).format(label=source.label, ranges=ranges, where=where, guess_band_db=GUESS_BAND_DB),
                _("Its peaks lie {crest_db} dB over that (as the sine with that peak).").format(
                    crest_db=figure(source.crest_db)
                ),
                _(
                    "Over the sections: the loudest one's peak, the energy mean over the bars, the softest one's quiet phrase."
                ),
            ),
            source=source.origin,
        ),
        second,
    )
