"""Setting the control step by step, where the next decibels pay, compression, and the performer's history."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from pneumen.core.forecast import Outcome, levels_by_section, window_missed_db
from pneumen.core.gain import Compressor, compressed, dial_plan, gentle_for, predictive
from pneumen.core.line import gain_still_helps, worth_by_stage_db
from pneumen.core.setup import PluggedChain, PlugLevels, RecorderChain
from pneumen.web.gain.schools import asked_by
from pneumen.web.part.models import Part
from pneumen.web.reading import number_of
from pneumen.web.settle import outcome_of
from pneumen.web.take.models import Lesson
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import near
from pneumen.wording.setting import (
    BY_ITSELF,
    GAINLESS,
    KNOB,
    SPREAD,
    change_of_take,
    dial_told,
    expected_told,
    gain_told,
    worth_told,
)

MOST_TAKES: Final = 12
LEAST_FOR_SPREAD: Final = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Squeezed:
    """A section behind a compressor: where it peaks without and with it, and by how much it is turned down."""

    name: str
    before: str
    after: str
    taken: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SettingScreen:
    """What the page shows."""

    steps: tuple[str, ...]
    dial: tuple[str, ...]
    by_itself: tuple[str, ...]
    gain_told: str
    worths: tuple[str, ...]
    compressor: Compressor
    squeezed: tuple[Squeezed, ...]
    history: tuple[tuple[str, str, str], ...]
    spread: str


def usual_compressor(part: Part) -> Compressor:
    """Return the gentle compressor that touches only a part's loudest section."""
    return gentle_for(_sections(part, outcome_of(part)))


def compressor_from(sent: Mapping[str, str], usual: Compressor) -> Compressor:
    """Return the compressor a page asks about; the usual one where it asks nothing.

    Raises:
        PneumenError: for one that cannot be.
    """
    return Compressor(
        ratio=number_of(sent["ratio"], "ratio") if sent.get("ratio") else usual.ratio,
        threshold_dbfs=number_of(sent["threshold"], "threshold") if sent.get("threshold") else usual.threshold_dbfs,
        slow=sent.get("speed", "slow") != "fast",
    )


def setting_screen(part: Part, compressor: Compressor) -> SettingScreen:
    """Return what the page shows of a part as it is set up."""
    found = outcome_of(part)
    school = found.setup.school
    window = _("{low_dbfs} to {high_dbfs}").format(low_dbfs=figure(school.low_dbfs), high_dbfs=figure(school.high_dbfs))
    history, spread = _history(part)
    return SettingScreen(
        steps=_steps(found, window),
        dial=_dial(found),
        by_itself=() if found.setup.chain.gain_marking == "none" else _by_itself(window),
        gain_told=gain_told(found.levels.noise_set_by, helps=gain_still_helps(found.levels)),
        worths=worth_told(worth_by_stage_db(found.levels), plugged=part.is_plugged),
        compressor=compressor,
        squeezed=_squeezed(part, found, compressor),
        history=history,
        spread=spread,
    )


def _steps(found: Outcome, window: str) -> tuple[str, ...]:
    setup, chain = found.setup, found.setup.chain
    if chain.gain_marking == "none":
        return tuple(step.format(distance=near(setup.placement.distance_m)) for step in GAINLESS)
    misses_db = window_missed_db(setup, found.levels)
    expected = expected_told(asked_by(found, setup.school)[0], misses_db, plugged=isinstance(chain, PluggedChain))
    return tuple(step.format(window=window, expected=expected) for step in KNOB)


def _dial(found: Outcome) -> tuple[str, ...]:
    """Return the procedure of the school that sets a recorder's dial from above; nothing for another control."""
    setup, chain = found.setup, found.setup.chain
    if not isinstance(chain, RecorderChain) or chain.gain_marking != "bare":
        return ()
    return dial_told(dial_plan(chain.knob, found.levels.peak_dbfs, found.gain_db, setup.school))


def _by_itself(window: str) -> tuple[str, ...]:
    return tuple(step.format(window=window) for step in BY_ITSELF)


def _squeezed(part: Part, found: Outcome, compressor: Compressor) -> tuple[Squeezed, ...]:
    sections = _sections(part, found)
    return tuple(
        Squeezed(
            name=after.name,
            before=figure(peak_dbfs),
            after=figure(after.peak_dbfs),
            taken=figure(after.takes_db, 1),
        )
        for (_label, peak_dbfs, _clean), after in zip(sections, compressed(compressor, sections), strict=True)
    )


def _sections(part: Part, found: Outcome) -> tuple[tuple[str, float, float], ...]:
    """Return each section's name, peak and typical level; of a part without sections the whole."""
    levels = found.levels
    return levels_by_section(found, part.core_sections) or ((_("All of it"), levels.peak_dbfs, levels.typical_dbfs),)


def _history(part: Part) -> tuple[tuple[tuple[str, str, str], ...], str]:
    """Return each take that told how loud it was: which, how loud, and against the one before it; and the spread."""
    rows = [row for row in part.lessons.all() if row.what == "level" and not row.undone and row.levels]
    rows = sorted(rows, key=lambda row: (row.number, row.pk))
    told, unit = [], "dBu" if part.is_plugged else _("dB SPL at 1\N{NO-BREAK SPACE}m")
    for number, row in enumerate(rows):
        before = rows[number - 1] if number else None
        change = change_of_take(_peak(row) - _peak(before), _named(before)) if before else ""
        told.append((_named(row), f"{figure(_peak(row))} {unit}", change))
    spread = ""
    if len(rows) >= LEAST_FOR_SPREAD:
        low, high = predictive(0.0, 0.0, [_peak(row) for row in rows]).within()
        spread = SPREAD.format(band=figure((high - low) / 2, 1), count=len(rows))
    return tuple(told[-MOST_TAKES:]), spread


def _peak(row: Lesson) -> float:
    levels = row.source_levels
    return levels.peak_dbu if isinstance(levels, PlugLevels) else levels.peak_db_spl


def _named(row: Lesson) -> str:
    """Name a take, with the section it was of where its person told."""
    section = ((row.take.recorded if row.take else None) or {}).get("section", "")
    return f"{'simulated ' if row.simulated else ''}take {row.number}{f' ({section})' if section else ''}"
