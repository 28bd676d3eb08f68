"""What a kit lets one do later, and how much there is to learn, in words."""

from typing import Final

from pneumen.core.kit import Burden, Growth
from pneumen.wording.language import _

GROWTH: Final = {
    "one-cable": _("One source at a time; a second microphone means beginning anew with an interface."),
    "anywhere": _("Records anywhere, without a computer."),
    "own-pair": _("Its own pair: stereo without more gear; other microphones only where it has sockets for them."),
    "more-microphones": _("{count} more microphones at the same time."),
    "one-more-microphone": _("One more microphone at the same time."),
    "no-more-microphones": _("No more microphones at the same time; any other one after the other."),
    "instruments": _("{count} instruments plugged straight in."),
    "one-instrument": _("An instrument plugged straight in."),
    "monitors": _("Monitors later: it has the outputs for them."),
    "any-microphone": _("Any microphone with a cable of three pins, condensers too."),
    "no-condensers": _("No condensers: it gives no 48 V."),
}
SOFTWARE: Final = {
    0: _("no software to record"),
    1: _("software learned in an evening"),
    2: _("software learned in days"),
    3: _("software that takes weeks to know"),
    4: _("software that takes months to know"),
}


def growth_told(growth: Growth) -> str:
    """Say one thing a kit leaves open for later, or does not."""
    single = {"more-microphones": "one-more-microphone", "instruments": "one-instrument"}
    kind = single.get(growth.kind, growth.kind) if growth.count == 1 else growth.kind
    return GROWTH[kind].format(count=growth.count)


def burden_told(burden: Burden) -> str:
    """Say how much there is to learn."""
    return _("{steps} steps from silence to a moving meter; {software}.").format(
        steps=burden.steps, software=SOFTWARE[min(burden.software, 4)]
    )
