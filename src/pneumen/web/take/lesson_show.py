"""What the Takes screen asks before it learns, and the list of what was learnt."""

from dataclasses import dataclass

from pneumen.core.setup import PlugLevels
from pneumen.core.take import LEVEL, NOISE, Correction
from pneumen.web.part.models import Part
from pneumen.web.take.forms import RecordedForm
from pneumen.web.take.lessons import may_teach
from pneumen.web.take.models import Lesson, Take
from pneumen.wording.controls import stands_at
from pneumen.wording.figures import figure, with_band
from pneumen.wording.language import _
from pneumen.wording.lengths import near
from pneumen.wording.live import altered_told


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """What is asked of a take: about is "how" it was recorded, or an outlier ("level", "noise"); "" is nothing."""

    about: str
    sentence: str
    as_set: str
    form: RecordedForm


@dataclass(frozen=True, slots=True, kw_only=True)
class LessonLine:
    """One thing learnt: when, from which take, and whether it is what plans start from."""

    lesson: Lesson
    title: str
    told: str
    in_force: bool


def asked_of(take: Take, form: RecordedForm | None = None) -> Asked | None:
    """Return what is asked of a take; None for a simulated one that was learnt from, or that must not teach."""
    if take.simulated and not (take.doubts and may_teach(take)):
        return None
    about, sentence = _about(take)
    return Asked(about=about, sentence=sentence, as_set=_as_set(take), form=form or RecordedForm(take))


def _about(take: Take) -> tuple[str, str]:
    correction, doubts = take.core_correction(), take.doubts
    if (take.recorded or {}).get("other_gear"):
        return "", _("Recorded with other gear: nothing is learnt from it.")
    if correction is None:
        return "", ""
    if take.origin is not None and take.origin.alters_levels and doubts:
        return LEVEL, altered_told(take.origin.processing)
    if LEVEL in doubts:
        return LEVEL, _level_doubt(correction)
    if take.is_asked_about:
        return "how", _("Nothing is learnt from it before you tell.")
    if NOISE in doubts:
        return NOISE, _(
            "Its noise is that of a room of {room_noise_dba} dBA, far from what was expected: hum, "
            "or a fan or a laptop near the microphone, rather than the room. It was not learnt."
        ).format(room_noise_dba=figure(correction.room_noise_dba))
    return "", ""


def _level_doubt(correction: Correction) -> str:
    off = correction.level_offset_db
    return _(
        "It came {off} dB {which} than this setup gives. That is a knob, a "
        "pad, another input or another distance rather than a person: nothing is learnt from it until you tell."
    ).format(off=figure(abs(off)), which="higher" if off > 0 else "lower")


def _as_set(take: Take) -> str:
    """Say how the take is believed to be recorded."""
    snapshot = take.snapshot
    told = [near(take.distance_m)] if "microphone" in snapshot["setup"] else [_("plugged in")]
    if snapshot["gain_marking"] == "db":
        told.append(_("gain at {gain_db} dB").format(gain_db=figure(take.gain_db)))
    elif snapshot["gain_marking"] == "bare":
        share = take.knob.share_at(take.gain_db)
        told.append(_("gain at ") + stands_at(share, take.control))
    return _("{told}, with {snapshot}").format(told=", ".join(told), snapshot=snapshot["gear"])


def lesson_lines(part: Part) -> tuple[LessonLine, ...]:
    """Return all that was learnt of a part, the newest first."""
    chain = part.chain_name
    everything = list(Lesson.objects.filter(part=part).with_take())
    in_force = {part.lesson(LEVEL, chain), part.lesson(NOISE, chain)}
    return tuple(
        LessonLine(
            lesson=lesson,
            title=f"{'Simulated take' if lesson.simulated else 'Take'} {lesson.number}",
            told=_told(part, lesson, same_chain=lesson.chain == chain),
            in_force=lesson in in_force,
        )
        for lesson in everything
    )


def _told(part: Part, lesson: Lesson, *, same_chain: bool) -> str:
    only = "" if lesson.absolute or same_chain else _(", with other gear only")
    if lesson.what == NOISE and not lesson.absolute:
        return _("the noise in the file, with this gear{only}").format(only=only)
    if lesson.what == NOISE:
        return _("the room’s noise {noise_dba}{only}").format(
            noise_dba=with_band(lesson.noise_dba, lesson.other_chain_band_db, "dBA"), only=only
        )
    levels, band_db = lesson.source_levels, lesson.other_chain_band_db
    if not lesson.absolute:
        change = _("the level in the file, at this knob")
        return f"{change}{only}"
    if isinstance(levels, PlugLevels):
        return _("typically {typical_dbu} at the plug").format(
            typical_dbu=with_band(levels.typical_dbu, band_db, "dBu")
        )
    return _("the {performer} typically {typical_db_spl} at 1 m").format(
        performer=part.source_facts.performer, typical_db_spl=with_band(levels.typical_db_spl, band_db, "dB SPL")
    )
