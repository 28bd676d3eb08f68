"""A take's findings in sentences: what is wrong, and what to do before the next one."""

from typing import Final

from pneumen.core.take import Finding
from pneumen.wording.language import _

ADVICE: Final = {
    "clipping": _(
        "A stage ran out of room here. Lower the gain and record this passage again; turning the file down does not "
        "bring the tops back."
    ),
    "silent": _("Nothing was recorded. Follow the signal from the interface's own light to the track's meter."),
    "too-hot": _("Not clipped, but less than 1 dB was left: lower the gain before the next take."),
    "too-quiet": _("The level is low: raise the gain or move closer; raising the file later raises its noise too."),
    "noise": _("The noise is near the music: quieten the room, move closer, or raise the weakest stage first."),
    "dc": _("The wave does not sit on zero, which eats headroom and clicks at cuts: a high-pass at 20 Hz mends it."),
    "wrong-channels": _("The channels are no pair: export the part as a mono file."),
    "dual-mono": _("Both channels are the same: export the part as a mono file."),
    "one-sided": _("One channel is empty: export the part as a mono file."),
}
"""By the kind of a finding, or the cause where a kind has several."""


def advice_on_take(finding: Finding) -> str:
    """Say what a finding means and what helps."""
    return ADVICE[finding.cause or finding.kind]
