"""What the Gain screen says: sentence, reading, what to do next, why."""

from dataclasses import dataclass

from pneumen.core.gain import (
    SCHOOLS,
    GainVerdict,
    School,
    actions_for,
    gain_window_db,
    judge,
    school_named,
    share_at_gain,
)
from pneumen.core.line import Levels
from pneumen.core.take import Prediction
from pneumen.web.gain.marks import Frame, Gorge, Handle
from pneumen.web.gain.picture import (
    distance_handle,
    draw_gorge,
    gain_handle,
    narrow_frame,
    wide_frame,
)
from pneumen.web.gain.todo import Todo, todo_of
from pneumen.web.gain.why import Why, whys_of
from pneumen.web.lengths import near
from pneumen.web.song.models import Part, Take
from pneumen.web.song.outlook import Outlook, outlook_of
from pneumen.web.wording import decimals_for, figure, off_window, with_band


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """One line of the reading: name, figure split at its point, unit, and what a take measured."""

    name: str
    whole: str
    tenths: str
    unit: str
    measured: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Knob:
    """The gain control as a field: its range, where the target window lies on it, and how it reads."""

    marking: str
    minimum: float
    maximum: float
    value: float
    low_label: str
    high_label: str
    window_left: float
    window_width: float
    window_label: str
    share: float
    spoken: str


@dataclass(frozen=True, slots=True, kw_only=True)
class GainScreen:
    """All the Gain screen shows."""

    verdict: GainVerdict
    sentence: str
    hero: str
    hero_band: str
    hero_note: str
    in_window: bool
    hero_verdict: str
    nothing_to_do: str
    rows: tuple[Row, ...]
    todos: tuple[Todo, ...]
    whys: tuple[Why, ...]
    gorges: tuple[Gorge, ...]
    knob: Knob
    school: School
    schools: tuple[tuple[School, str, bool], ...]
    distance_m: float
    nearest_m: float
    farthest_m: float
    distance_share: float
    from_take: Take | None
    against_pinned: str


def gain_screen(
    part: Part, *, distance_m: float | None = None, gain_db: float | None = None, school: str | None = None
) -> GainScreen:
    """Return what the Gain screen shows for a part, as stored or with other values tried out."""
    outlook = outlook_of(part, distance_m=distance_m, gain_db=gain_db)
    prediction, setup = outlook.prediction, outlook.setup
    chosen = school_named(school or part.school)
    verdict = judge(prediction.levels, chosen)
    gain = setup.gain_db
    distance_span = outlook.farthest_m - outlook.nearest_m
    return GainScreen(
        verdict=verdict,
        sentence=sentence(part, prediction, chosen, verdict),
        hero=figure(prediction.levels.peak_dbfs, decimals_for(prediction.signal_band_db)),
        hero_band=figure(max(prediction.signal_band_db, 0.5), decimals_for(prediction.signal_band_db)),
        hero_note=_hero_note(prediction, chosen),
        in_window=not off_window(prediction.levels.peak_dbfs, chosen.low_dbfs, chosen.high_dbfs),
        hero_verdict=_hero_verdict(prediction, chosen, verdict),
        nothing_to_do=_nothing_to_do(outlook, prediction, chosen),
        rows=_rows(part, outlook, prediction),
        todos=tuple(todo_of(action, outlook) for action in actions_for(outlook.situation, chosen)[:3]),
        whys=whys_of(part, outlook, setup, prediction, chosen),
        gorges=_gorges(part, outlook, prediction, chosen, gain),
        knob=_knob(part, outlook, prediction.levels, chosen, gain),
        school=chosen,
        schools=_schools(outlook, prediction.levels, chosen, gain),
        distance_m=outlook.distance_m,
        nearest_m=outlook.nearest_m,
        farthest_m=outlook.farthest_m,
        distance_share=100 * min(max((outlook.distance_m - outlook.nearest_m) / distance_span, 0), 1),
        from_take=part.known_from if outlook.from_take else None,
        against_pinned=_against_pinned(part, prediction),
    )


def sentence(part: Part, prediction: Prediction, school: School, verdict: GainVerdict) -> str:
    """Say how things stand and what sets it."""
    levels = prediction.levels
    phrase = part.source_facts.phrase
    phrase = phrase[0].upper() + phrase[1:]
    lands = f"{phrase} lands at {with_band(levels.peak_dbfs, prediction.signal_band_db, 'dBFS')}"
    noise = f"the {levels.noise_set_by} sets your noise"
    first = levels.clips_first
    return {
        "clips": f"{phrase} passes what the {first} can take by {figure(-levels.headroom_db)} dB.",
        "near-ceiling": f"{lands}, only {figure(levels.headroom_db)} dB under the {first}.",
        "above": f"{lands}, above the {school.label.lower()} window; {noise}.",
        "below": f"{lands}, below the {school.label.lower()} window; {noise}.",
        "too-quiet": f"{lands}, far below any window; {noise}.",
        "noisy": f"Only {figure(levels.clean_range_db)} dB lie between the typical level and the noise; {noise}.",
        "in-window": f"{lands}; {_not_others(levels)} sets your noise.",
    }[verdict.reason]


def _not_others(levels: Levels) -> str:
    other = "preamp" if "preamp" in levels.noise_by_stage_dbfs else "microphone"
    return f"the room, not the {other}," if levels.noise_set_by == "room" else f"the {levels.noise_set_by}"


def _hero_note(prediction: Prediction, school: School) -> str:
    off = off_window(prediction.levels.peak_dbfs, school.low_dbfs, school.high_dbfs)
    return f"{off} the window" if off else "in the window"


def _hero_verdict(prediction: Prediction, school: School, verdict: GainVerdict) -> str:
    """The level's own verdict: what the noise does is told elsewhere."""
    if not off_window(prediction.levels.peak_dbfs, school.low_dbfs, school.high_dbfs):
        return "clear"
    return "watch" if verdict.reason == "noisy" else verdict.verdict


def _against_pinned(part: Part, prediction: Prediction) -> str:
    """Tell in decibels what differs from the pinned setup."""
    if not part.pinned:
        return ""
    levels, pinned = prediction.levels, part.pinned
    clean_before = pinned["typical_dbfs"] - pinned["noise_dbfs"]
    changes = (
        ("peak", levels.peak_dbfs - pinned["peak_dbfs"]),
        ("noise", levels.noise_dbfs - pinned["noise_dbfs"]),
        ("clean range", levels.clean_range_db - clean_before),
    )
    told = [f"{name} {figure(change, sign=True)} dB" for name, change in changes if abs(change) >= 0.5]
    return f"Against the pinned setup: {', '.join(told) or 'no difference'}."


def _nothing_to_do(outlook: Outlook, prediction: Prediction, school: School) -> str:
    """Say why no advice stands here: all is well, or nothing within reach would help."""
    off = off_window(prediction.levels.peak_dbfs, school.low_dbfs, school.high_dbfs)
    if not off:
        return "Nothing to change. "
    clean = figure(prediction.levels.clean_range_db)
    if "below" in off:
        return (
            f"Nothing within reach brings the peak higher. It can be raised afterwards at the price of its noise: "
            f"{clean} dB of clean range go with it. "
        )
    return "Nothing within reach brings the peak lower: play softer, or use a less sensitive microphone. "


def _rows(part: Part, outlook: Outlook, prediction: Prediction) -> tuple[Row, ...]:
    levels, measured = prediction.levels, measured_of(part)
    whole = [
        ("Typical", levels.typical_dbfs, "dBFS", measured.get("typical_dbfs")),
        ("Quietest phrase", levels.quiet_dbfs, "dBFS", None),
        ("Noise (A)", levels.noise_dbfs, "dBFS", measured.get("noise_dbfs")),
        ("Clean range", levels.clean_range_db, "dB", measured.get("clean_range_db")),
        ("Headroom", levels.headroom_db, "dB", None),
    ]
    rows = [
        Row(name=name, whole=figure(value), tenths="", unit=unit, measured=figure(took) if took is not None else "")
        for name, value, unit, took in whole
    ]
    if outlook.chain.gain_marking == "bare":
        share = share_at_gain(outlook.gain_db, outlook.chain.gain_range_db)
        rows.append(Row(name="Knob turn, about", whole=figure(100 * share), tenths="", unit="%"))
    return tuple(rows)


def measured_of(part: Part) -> dict[str, float | None]:
    """Return what the take that taught this part measured, while the setup is still the one it was taken with."""
    take = part.known_from
    if take is None or not take.measurement:
        return {}
    snapshot = take.snapshot
    same = snapshot["chain_name"] == part.chain_name and (snapshot["distance_m"], snapshot["gain_db"]) == (
        part.distance_m,
        part.gain_db,
    )
    if not same:
        return {}
    level, noise = take.measurement["level"], take.measurement["noise"]
    return {
        "peak_dbfs": level["sample_peak_dbfs"],
        "typical_dbfs": level["active_rms_dbfs"],
        "noise_dbfs": noise["floor_dbfs_a"],
        "clean_range_db": noise["clean_range_db"],
    }


def _knob(part: Part, outlook: Outlook, levels: Levels, school: School, gain_db: float) -> Knob:
    marking, (low, high) = outlook.chain.gain_marking, outlook.chain.gain_range_db
    window = [min(max(edge, low), high) for edge in gain_window_db(levels, gain_db, school)]
    span = (high - low) or 1.0
    share = share_at_gain(gain_db, (low, high))
    if marking == "bare":
        ends, spoken = ("left stop", "full turn"), f"{round(100 * share)} % of the turn"
        label = f"window about {round(100 * (window[0] - low) / span)} to {round(100 * (window[1] - low) / span)} %"
    else:
        ends, spoken = (f"{figure(low)} dB", f"{figure(high)} dB"), f"{figure(gain_db)} dB"
        label = f"window {figure(window[0])} to {figure(window[1])} dB"
    reachable = window[1] > window[0]
    return Knob(
        marking=marking,
        minimum=low,
        maximum=high,
        value=round(gain_db, 1),
        low_label=ends[0],
        high_label=ends[1],
        window_left=100 * (window[0] - low) / span,
        window_width=100 * (window[1] - window[0]) / span,
        window_label=label if reachable else "window out of reach",
        share=100 * share,
        spoken=spoken,
    )


def _schools(outlook: Outlook, levels: Levels, chosen: School, gain_db: float) -> tuple[tuple[School, str, bool], ...]:
    """Every school with the gain it would ask for here."""
    marking, (low, high) = outlook.chain.gain_marking, outlook.chain.gain_range_db
    asked = []
    for school in SCHOOLS:
        wanted = gain_db + school.aim_dbfs - levels.peak_dbfs
        if marking == "none":
            wants = near(outlook.distance_m * 10 ** ((levels.peak_dbfs - school.aim_dbfs) / 20))
        elif not low <= wanted <= high:
            wants = "out of reach"
        elif marking == "bare":
            wants = f"{figure(100 * share_at_gain(wanted, (low, high)))} %"
        else:
            wants = f"{figure(wanted)} dB"
        asked.append((school, wants, school == chosen))
    return tuple(asked)


def _gorges(part: Part, outlook: Outlook, prediction: Prediction, school: School, gain_db: float) -> tuple[Gorge, ...]:
    lowest = min(prediction.levels.noise_by_stage_dbfs.values())
    gorges = []
    for frame in (wide_frame(lowest), narrow_frame(lowest)):
        reach = (outlook.nearest_m, outlook.farthest_m)
        handles = [] if part.is_plugged else [distance_handle(frame, prediction, reach, outlook.distance_m)]
        if outlook.chain.gain_marking != "none":
            handles.append(_gain_handle(frame, outlook, prediction, gain_db))
        gorges.append(
            draw_gorge(
                prediction,
                school,
                source_label="" if part.is_plugged else part.source_facts.label.split()[-1].capitalize(),
                frame=frame,
                handles=tuple(handles),
                pinned=part.pinned,
                measured={key: value for key, value in measured_of(part).items() if key != "typical_dbfs"},
            )
        )
    return tuple(gorges)


def _gain_handle(frame: Frame, outlook: Outlook, prediction: Prediction, gain_db: float) -> Handle:
    """The gain's handle in the units of its field: dB, or per cent of a bare knob's turn."""
    low, high = outlook.chain.gain_range_db
    if outlook.chain.gain_marking == "db":
        spoken = f"{figure(gain_db)} dB"
        return gain_handle(frame, prediction, (low, high), gain_db, units_per_db=1, spoken=spoken)
    turn = 100 * share_at_gain(gain_db, (low, high))
    spoken = f"{figure(turn)} % of the turn"
    return gain_handle(frame, prediction, (0, 100), turn, units_per_db=100 / ((high - low) or 1), spoken=spoken)
