"""A take's findings in sentences: what is wrong, and what to do before the next one."""

from typing import Final

from pneumen.core.take import Finding, FloorChange, Measurement, NotChecked
from pneumen.wording.figures import figure
from pneumen.wording.language import _

FLOOR_ALIKE: Final = _("The room’s noise stands where it stood in take {before}: the knob was not moved.")
FLOOR_UP: Final = _("The room’s noise rose by {db} ±{band} dB since take {before}: so much the knob was turned up.")
FLOOR_DOWN: Final = _("The room’s noise fell by {db} ±{band} dB since take {before}: so much the knob was turned down.")

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
WHY_NOT: Final = {
    "not-built": _("not looked for by this version: listen for it"),
    "no-backing": _("no backing was given to compare with"),
    "no-pause": _("the take has no pause to measure it in"),
    "silent": _("nothing was recorded"),
    "too-short": _("the file is too short to tell"),
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


def advice_on_take(finding: Finding) -> str:
    """Say what a finding means and what helps."""
    return ADVICE[finding.cause or finding.kind]


def floor_told(found: FloorChange, before: int) -> str:
    """Say how far the knob was turned since a take, as the floor tells."""
    if abs(found.gain_db) <= found.band_db:
        return FLOOR_ALIKE.format(before=before)
    words = {"before": before, "db": figure(abs(found.gain_db)), "band": figure(found.band_db, 1)}
    return (FLOOR_UP if found.gain_db > 0 else FLOOR_DOWN).format(**words)
