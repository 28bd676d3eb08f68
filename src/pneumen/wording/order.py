"""The buying order in sentences: what a sum begins with, and what all of it costs."""

from collections import Counter
from collections.abc import Sequence
from typing import Final

from pneumen.core.kit import ANY, KIND_LABELS, Crowd, KitLine, Purchase, affordable, buying_order
from pneumen.wording.figures import money
from pneumen.wording.kit import MEANWHILE
from pneumen.wording.language import _

RECORDS_NOW: Final = _("What you have records now; {whole} more, in the order below, makes it complete.")
NOTHING_RECORDS: Final = _("{budget} buys nothing that records yet, {begins} does, {whole} completes it; {meanwhile}.")
BEGINS: Final = _("{budget} begins with {things}, and that records; {whole} completes the kit, in the order below.")
CROWDED: Final = {
    ANY: _("Not all at once: {wanted} channels are wanted, {there} go in."),
    "mic": _("Not all at once: {wanted} microphone inputs are wanted, there is {there}."),
    "instrument": _("Not all at once: {wanted} instrument inputs are wanted, there is {there}."),
    "line": _("Not all at once: {wanted} line inputs are wanted, there is {there}."),
}
ONE_CHANNEL: Final = _(
    "{part} was to be in stereo, and {device} records one channel: in mono as it is set up. Kit shows what takes both."
)
SECOND: Final = _(
    "Two microphones are placed for {part}: a second {device} is still to be found or borrowed; Place goes back to one."
)
WITH_OWN: Final = _("until then: {own}, which records by itself")
AND_THEN: Final = _("Kit shows what takes all; or one after the other.")
LEADS: Final = ("instrument-cable", "xlr-cable", "usb-cable", "line-cable")
SEVERAL: Final = _("{count} × {name}")


def things_told(purchases: Sequence[Purchase]) -> str:
    """Name what some purchases buy, alike things counted."""
    return ", ".join(
        _named(line, count) for purchase in purchases for line, count in Counter(purchase.lines).items() if line.price
    )


def money_short_told(lines: Sequence[KitLine], budget: float, own: str = "") -> str:
    """Say what a sum too small for a whole kit begins with, what works, and what all of it costs.

    Args:
        own: what its person has that records by itself, if not as the song asks.
    """
    order = buying_order(lines)
    whole = money(order[-1].total) if order else money(0)
    if not any(purchase.brings == "sound" for purchase in order):
        return RECORDS_NOW.format(whole=whole)
    within = affordable(order, budget)
    if not within:
        told = {"begins": money(order[0].total), "meanwhile": meanwhile(order[0], own)}
        return NOTHING_RECORDS.format(budget=money(budget), whole=whole, **told)
    return BEGINS.format(budget=money(budget), things=things_told(order[:within]), whole=whole)


def meanwhile(purchase: Purchase, own: str = "") -> str:
    """Say what works as long as a purchase is not made.

    Args:
        own: what its person has that records by itself, if not as the song asks.
    """
    only_leads = all(line.kind in LEADS for line in purchase.lines if line.price)
    if own and purchase.brings == "sound" and not only_leads:
        return WITH_OWN.format(own=own)
    return MEANWHILE["lead" if purchase.brings == "sound" and only_leads else purchase.brings]


def one_channel_told(part: str, device: str) -> str:
    """Say that a part that was to be in stereo is recorded on one channel."""
    return ONE_CHANNEL.format(part=part, device=device)


def second_told(part: str, device: str) -> str:
    """Say that a pair was placed, of which there is one."""
    return SECOND.format(part=part, device=device)


def _named(line: KitLine, count: int) -> str:
    name = line.item.name if line.item else KIND_LABELS[line.kind].lower()
    return SEVERAL.format(count=count, name=name) if count > 1 else name


def crowded_told(crowd: Crowd) -> str:
    """Say that not all can be recorded at once with what there is."""
    return f"{crowd_told(crowd)} {AND_THEN}"


def crowd_told(crowd: Crowd) -> str:
    """Say what is wanted at once, and what there is."""
    return CROWDED[crowd.kind].format(wanted=crowd.wanted, there=crowd.there)
