"""The manifest in words: what goes, what is missing, what is doubtful, what has changed since."""

from collections.abc import Mapping, Sequence
from typing import Final

from pneumen.core.verdict import Verdict
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import near

NOTHING: Final = _("Nothing goes yet: record a take, or tick one.")
GOES: Final = _("{count} files go, each from the song’s zero to its end at {length}, {rate} and {bits} bit.")
GOES_ONE: Final = _("One file goes, from the song’s zero to its end at {length}, {rate} and {bits} bit.")
MISSING: Final = _("{names} send nothing yet.")
ONE_MISSING: Final = _("{names} sends nothing yet.")
OTHERS: Final = _("What may go too: {count} takes, each whole")
PROBLEMS: Final = {
    "stale": (Verdict.WATCH, _("The track was made before the last choice: make it again on Comp.")),
    "not-listened": (Verdict.WATCH, _("Not listened through yet: once or twice before it goes.")),
    "doubled": (Verdict.WATCH, _("The same recording goes twice.")),
}
WHO: Final = {
    "song": _("For a release: one file a part, mono where it is mono."),
    "film": _("For pictures: 48 kHz runs with them."),
    "classical": _("For a classical recording: stereo as it was heard."),
    "audition": _("For an audition: one stereo file that any player opens is usual; send the track alone."),
    "mixer": _("For a mix engineer: one mono file a part, dry, nothing normalised. Ask them for the rate first."),
}
CHANGED: Final = _("Another now: {names}.")
ADDED: Final = _("Would go now and did not: {names}.")
GONE: Final = _("Went and would not now: {names}.")
UNCHANGED: Final = _("Nothing has changed since.")
PROVEN: Final = _("Read back: every sample of all {count} files stands where it was laid, from zero to {length}.")
PROVEN_ONE: Final = _("Read back: every sample stands where it was laid, from zero to {length}.")
TAKE: Final = _("Take {number}")
SIMULATED: Final = _("simulated")
GAIN: Final = _("gain {gain} dB")
COMP_OF: Final = _("Comp of {lineage}")
TIGHTENED: Final = _("Tightened to the lead.")
BACKING: Final = _("The backing track, {name}.")
CHANNELS: Final = {"auto": _("as it is"), "mono": _("mono"), "stereo": _("stereo")}


def recorded_told(gear: str, distance_m: float | None, gain_db: float | None, *, simulated: bool) -> str:
    """Say how something was recorded: with what, how near, at which gain; nothing where that is not known."""
    told = [gear] if gear else []
    told += [] if distance_m is None else [near(distance_m)]
    told += [] if gain_db is None else [GAIN.format(gain=figure(gain_db))]
    return ", ".join([*told, SIMULATED] if simulated else told)


def take_about(number: int, how: str) -> str:
    """Say which take a file is, and how it was recorded."""
    told = TAKE.format(number=number)
    return f"{told}: {how}." if how else f"{told}."


def comp_about(lineage: str, hows: Mapping[int, str]) -> str:
    """Say what a track is made of; how its takes were recorded once for all, or for each where they differ."""
    told = COMP_OF.format(lineage=lineage)
    alike = set(hows.values())
    if len(alike) == 1:
        how = alike.pop()
        return f"{told}: {how}." if how else f"{told}."
    return " ".join([f"{told}.", *(take_about(number, how) for number, how in sorted(hows.items()))])


def changes_told(changed: Sequence[str], added: Sequence[str], gone: Sequence[str]) -> str:
    """Say what has changed since a package was made."""
    told = [
        sentence.format(names=", ".join(names))
        for sentence, names in ((CHANGED, changed), (ADDED, added), (GONE, gone))
        if names
    ]
    return " ".join(told) or str(UNCHANGED)
