"""A take's findings in sentences: what is wrong, and what to do before the next one."""

from typing import Final

from pneumen.core.take import Finding, FloorChange, Measurement, NotChecked
from pneumen.wording.figures import figure
from pneumen.wording.language import _

FLOOR_ALIKE: Final = _("The room’s noise stands where it stood in take {before}: the knob was not moved.")
FLOOR_UP: Final = _("The room’s noise rose by {db} ±{band} dB since take {before}: so much the gain was turned up.")
FLOOR_DOWN: Final = _("The room’s noise fell by {db} ±{band} dB since take {before}: so much the gain was turned down.")

ADVICE: Final = {
    "clipping": _(
        "A stage ran out of room here. Lower the gain and record this passage again; turning the file down does not "
        "bring the tops back."
    ),
    "silent": _("Nothing was recorded. Follow the signal from the interface's own light to the track's meter."),
    "too-hot": _("Not clipped, but less than 1 dB was left: lower the gain before the next take."),
    "too-quiet": _("The level is low: raise the gain or move closer; raising the file later raises its noise too."),
    "noise": _("The noise is near the music: quieten the room, move closer, or raise the weakest stage first."),
    "hum": _(
        "A steady line of the mains and its multiples. Lead away from power supplies and dimmers, balanced, one outlet "
        "strip for all, the ground lifted at a DI box; a notch in the mix mends what is left. Hookup’s search finds it."
    ),
    "dropout": _(
        "Samples were lost here. Take a larger buffer, close other programs, and record this passage again; a gap or a "
        "repeated block is not mended by fades."
    ),
    "plosive": _(
        "A blast of air hit the capsule. Screen about a palm before the microphone, or the microphone 15 to 30 degrees "
        "beside the mouth; a low-cut takes off the weight, not the pop."
    ),
    "thump": _(
        "A knock came through the stand or the floor. A shock mount, a stand that stands free of floor and table, the "
        "cable hung loose and off the body; then this passage again."
    ),
    "echo": _(
        "The room rings on after the phrases. Move closer, hang something soft behind and beside the singer, or take a "
        "softer room; no tool takes a room out again."
    ),
    "early-comb": _(
        "One reflection follows the voice at once and combs its tone, as a table under the microphone or the wall of a "
        "small box does. Tilt or cover the table, move the microphone off the wall, or take a larger, softer place; no "
        "tool takes it out again."
    ),
    "room-as-planned": _(
        "The room rings on after the phrases, as it was predicted to and no more than is wanted of it here. Closer, or "
        "in a softer room, the next take is drier; no tool takes a room out again."
    ),
    "rings-itself": _(
        "What sounds here dies away slowly and evenly: the room, or the instrument itself. Clap once where it stands: "
        "the room’s own time tells which."
    ),
    "lossy": _(
        "This was an MP3 or the like once: sounds that its coder left out are gone. Record or export uncompressed, as "
        "WAV, AIFF or FLAC."
    ),
    "lossy-container": _(
        "The file itself is compressed with loss. Export it uncompressed, as WAV, AIFF or FLAC, from the recording."
    ),
    "edge": _(
        "Nothing is left above a steep edge. Some microphones end near 16 kHz; so do files that were an MP3 once. "
        "Compare with a take that you know was never compressed."
    ),
    "level-riding": _(
        "The noise rises between the phrases: a limiter, an automatic level or a hand rode the gain. Switch it off in "
        "the recorder, the interface’s panel or the computer’s sound settings, and set the gain once for the loudest."
    ),
    "bleed": _(
        "The backing is heard in the pauses. Turn it down, seal both cups against the head, take closed headphones; "
        "point the microphone’s back at them."
    ),
    "click-leak": _(
        "The click is heard alone in the pauses, where nothing covers it. Turn it down or mute it there, take a softer "
        "click sound, seal both cups against the head."
    ),
    "holds-backing": _(
        "The backing itself is in this file, not only its leak: the recording took in the mix. Record the microphone’s "
        "input alone, on a track of its own."
    ),
    "sibilance": _(
        "A harsh S. Turn the microphone 15 to 30 degrees off the mouth’s axis or raise it to the forehead; a de-esser "
        "mends what is left."
    ),
    "click": _(
        "A click: a single step or spike. Look for a loose plug, static or a clock that two devices do not share; in "
        "the file it can be drawn over."
    ),
    "dc": _("The wave does not sit on zero, which eats headroom and clicks at cuts: a high-pass at 20 Hz mends it."),
    "wrong-channels": _("The channels are no pair: export the part as a mono file."),
    "dual-mono": _("Both channels are the same: export the part as a mono file."),
    "one-sided": _("One channel is empty: export the part as a mono file."),
    "noise-sided": _("One channel holds nothing but a preamp's noise: export the other as a mono file."),
    "inverted": _(
        "One channel is the other turned over: together in mono they cancel. Export one of them as a mono file."
    ),
    "unequal": _("Both channels are the same at two levels: export the louder as a mono file."),
    "likely-clipping": _(
        "Samples stand at full scale more than once: clipping is likely, if too short to prove. Lower the gain by 3 dB."
    ),
    "driven": _(
        "Flat tops: the amplifier may be meant to sound so. Play it clean once; if they stay, a stage behind it clips."
    ),
    "over-full-scale": _(
        "The file goes over full scale, which only floating point holds: it clips as soon as it is stored otherwise. "
        "Turn it down before exporting."
    ),
}
"""By the kind of a finding, or the cause where a kind has several."""


FAULTS: Final = {
    "clipping": _("clipping"),
    "dropout": _("dropouts"),
    "plosive": _("pops"),
    "thump": _("thumps"),
    "echo": _("echo of the room"),
    "lossy": _("traces of lossy coding"),
    "level-riding": _("an automatic level"),
    "bleed": _("leak of the backing"),
    "silent": _("silence"),
    "too-hot": _("a level too high"),
    "too-quiet": _("a level too low"),
    "noise": _("noise"),
    "hum": _("hum"),
    "sibilance": _("harsh S"),
    "click": _("clicks"),
    "dc": _("an offset"),
    "wrong-channels": _("channels that are no pair"),
}
"""What is looked for, in words."""
PLACES: Final = _("{fault} in {count} places")
TOLD_BY_LEVEL: Final = ("too-hot", "too-quiet")
HOLDS: Final = _("The take holds {faults}; ")
WHY_NOT: Final = {
    "no-backing": _("no backing was given to compare with"),
    "no-pause": _("the take has no pause to measure it in"),
    "few-pauses": _("too few pauses between phrases are long and even enough to follow the noise through"),
    "silent": _("nothing was recorded"),
    "too-short": _("the file is too short to tell"),
    "no-words": _("no words are heard in it, as far as can be told"),
    "low-source": _("what plays lies so low that they cannot be told from its strokes"),
    "low-rate": _("the sample rate leaves no room for it"),
    "no-free-end": _("too few of its sounds die away freely"),
}


def why_not_checked(one: NotChecked) -> str:
    """Say why a fault was not looked for."""
    return WHY_NOT[one.why]


def checked_told(measurement: Measurement) -> str:
    """Say what a verdict rests on: what was looked for, and what was not."""
    if not measurement.checked:
        return ""
    looked = _(", ").join(FAULTS[kind] for kind in measurement.checked)
    told = _("Looked for: {looked}.").format(looked=looked)
    by_why: dict[str, list[str]] = {}
    for one in measurement.not_checked:
        by_why.setdefault(one.why, []).append(FAULTS[one.kind])
    missed = [f"{', '.join(kinds)} ({WHY_NOT[why]})" for why, kinds in by_why.items()]
    return f"{told} {_('Not:')} {'; '.join(missed)}." if missed else told


def found_told(measurement: Measurement) -> str:
    """Say what sets a take's verdict, to stand before its level, which says itself where it is too high or too low."""
    counts: dict[str, int] = {}
    for finding in measurement.findings:
        if finding.verdict == measurement.verdict and finding.kind not in TOLD_BY_LEVEL:
            counts[finding.kind] = counts.get(finding.kind, 0) + 1
    words = [
        FAULTS[kind] if count == 1 else PLACES.format(fault=FAULTS[kind], count=count) for kind, count in counts.items()
    ]
    return HOLDS.format(faults=_(", ").join(words)) if words else ""


def advice_on_take(finding: Finding) -> str:
    """Say what a finding means and what helps."""
    return ADVICE[finding.cause or finding.kind]


def floor_told(found: FloorChange, before: int) -> str:
    """Say how far the knob was turned since a take, as the floor tells."""
    if abs(found.gain_db) <= found.band_db:
        return FLOOR_ALIKE.format(before=before)
    words = {"before": before, "db": figure(abs(found.gain_db)), "band": figure(found.band_db, 1)}
    return (FLOOR_UP if found.gain_db > 0 else FLOOR_DOWN).format(**words)
