"""Whether 48 V go on for a part."""

from pneumen.core.hookup import PhantomRule, phantom_rule, plugged_phantom_rule
from pneumen.web.part.models import Part


def phantom_rule_of(part: Part) -> PhantomRule:
    """Return whether 48 V go on for a part, and why."""
    microphone, box = part.microphone, part.box
    if microphone is None:
        return plugged_phantom_rule(box=box is not None, active_box=box is not None and box.active is True)
    return phantom_rule(microphone.microphone_family, booster=part.booster is not None)
