"""What one press changes at a joint so that a fault is gone, where a choice can do it."""

from pneumen.core.hookup.chain import Chain
from pneumen.core.hookup.choices import Choice
from pneumen.core.hookup.finding import Fault

SHORT_M = 3.0


def cure_of(chain: Chain, fault: Fault) -> Choice | None:
    """Return the choice that cures a fault; None where another device, or a person, has to."""
    match fault.code:
        case "condenser-no-phantom" | "phantom-missing" if "held_by" not in fault.words:
            device = chain.by_id[fault.at.partition(".")[0]]
            feared = any(chain.by_id[one.from_device].fears_phantom for one in chain.into(device.id))
            shared = device.phantom_shared and feared
            return None if shared else Choice(what="phantom", at=fault.at, value="on")
        case "ribbon-phantom":
            return Choice(what="phantom", at=fault.at, value="off")
        case "long-unbalanced":
            return Choice(what="length", at=fault.at, value=f"{SHORT_M:g}")
        case "phantom-unbalanced":
            return Choice(what="balanced", at=fault.at, value="balanced")
        case "mic-into-line":
            return Choice(what="input", at=fault.at, value="mic")
        case "pickup-loading":
            return Choice(what="input", at=fault.at, value="instrument")
        case "line-into-mic":
            return Choice(what="input", at=fault.at, value="line")
        case "ground-loop":
            if fault.words.get("box"):
                return Choice(what="lift", at=fault.words["box"], value="on")
            return _one_strip(chain, fault)
        case _:
            return None


def _one_strip(chain: Chain, fault: Fault) -> Choice | None:
    """Return the move of one mains plug to where the others are."""
    ends = fault.words["path"].split(", ")
    first = next((one for one in chain.cables if one.connector == "mains" and one.to_device == ends[0]), None)
    other = next((one for one in chain.cables if one.connector == "mains" and one.to_device == ends[-1]), None)
    if first is None or other is None:
        return None
    plugs = [one.from_device for one in chain.cables if one.connector == "mains"]
    lonely = min((first, other), key=lambda one: plugs.count(one.from_device))
    return Choice(what="outlet", at=lonely.to_device, value="strip")
