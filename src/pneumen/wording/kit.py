"""Kits in sentences: why each thing is in one, what is worth knowing of it, what lacks, and why nothing fits."""

from typing import Final

from pneumen.core.errors import NothingFits, given
from pneumen.core.kit import BetterKit, Item, KitFinding, Needs
from pneumen.wording.figures import figure, money
from pneumen.wording.language import _
from pneumen.wording.lengths import far

SHORT_LEAD_M: Final = 5.0

REASONS: Final = {
    "microphone": _("hears you"),
    "interface": _("amplifies, converts, and feeds the headphones"),
    "recorder": _("hears, converts and keeps it, without a computer"),
    "booster": _("lifts a weak microphone over the preamp's noise"),
    "inline-pad": _("takes a loud source down to what the input bears"),
    "di-box": _("takes the instrument’s plug to a microphone input"),
    "bundle": _("holds several of these for less"),
    "covering": _("takes the room out from behind you"),
    "boom-stand": _("reaches a standing mouth, or an instrument; a desk stand does not"),
    "desk-stand": _("holds it on the table you sit at"),
    "stand-clip": _("holds the microphone on its stand"),
    "pop-filter": _("breaks the air of P and B before it hits the capsule"),
    "xlr-cable": _("microphone to interface, balanced"),
    "instrument-cable": _("from the instrument’s plug"),
    "headphones": _("closed: what you hear must not reach the microphone"),
    "phones-adapter": _("the socket is thick, the plug thin"),
    "software": _("records each input to a track of its own"),
    "memory-card": _("takes the recording"),
    "usb-cable": _("to the computer"),
    "monitor": _("to hear the mix in the room"),
    "line-cable": _("from the interface to a monitor, balanced"),
    "clamps": _("hold what is hung"),
    "pole": _("carries what is hung"),
}
"""Why a kind of thing is in a kit."""

TRAITS: Final = {
    "inputs": _("more microphone inputs"),
    "phantom-per-channel": _("48 V switched per channel"),
    "gain-scale": _("a gain scale in dB"),
    "gain": _("more gain to spare"),
    "headphones": _("louder headphones"),
    "sturdy-interface": _("a sturdier interface"),
    "bright": _("a brighter tone"),
    "dark": _("a darker tone"),
    "neutral": _("a neutral tone"),
    "sturdy-microphone": _("a sturdier microphone"),
    "round-trip": _("a quicker way to your ears"),
}
"""What a swap brings that is not counted in decibels."""

EASED: Final = {
    "monitors": _("leave the monitors for later"),
    "inputs_at_once": _("record one part at a time"),
    "standing": _("sit"),
    "lent": _("take gear that has to be handled with care"),
    "route": _("leave the route open"),
    "computer": _("use another computer"),
    "must": _("do without what must be in it"),
    "never": _("allow what was never to be in it"),
}
"""What easing a need means."""


BRINGS: Final = {
    "sound": _("any sound at all arrives in a file"),
    "air": _("no blasts of air from P and B, which no one can take out later"),
    "ears": _("what you hear while playing along stays out of the microphone"),
    "room": _("less of the room, which stays in the file for good"),
    "stand": _("the microphone stays where it was set, take after take"),
    "finesse": _("what is nice to have"),
}
MEANWHILE: Final = {
    "sound": _("until then: a telephone’s own recorder, an arm’s length away, in the softest room; or borrow"),
    "lead": _("until then: borrow a lead"),
    "air": _("until then: a stocking over a wire hoop, or sing past the microphone, 15 to 30° beside it"),
    "ears": _("until then: closed headphones of any kind, low, the other ear on the cup; or record without a backing"),
    "room": _("until then: duvets and coats from the house, behind and beside whoever performs"),
    "stand": _("until then: a stack of books or a shelf, on a folded towel, and a mark on the floor"),
    "finesse": _("it can wait"),
}
"""What each step of the buying order brings, and what works without it (common practice, no source)."""


def reason_for(kind: str) -> str:
    """Say why a kind of thing is in a kit: a chain needs it, or it was asked for."""
    return REASONS.get(kind, _("you want it"))


def why_nothing_fits(error: NothingFits) -> str:
    """Say why no kit fits, and what would lift it, without a full stop."""
    lifts = [
        _("{ease} (then {price} does)").format(ease=EASED[need], price=money(price))
        for need, price in error.lifts.items()
    ]
    if error.cheapest_total is None:
        because = _("no kit of this catalogue can do all that is asked")
    else:
        cheapest = money(error.cheapest_total)
        because = _("the cheapest complete kit costs {cheapest}, the budget is {budget}").format(
            cheapest=cheapest, budget=money(error.budget)
        )
        lifts.insert(0, _("raise the budget to {cheapest}").format(cheapest=cheapest))
    return f"{because}; {_(' or ').join(lifts)}" if lifts else because


def better_told(found: BetterKit, total: float, *, affordable: bool) -> str:
    """Say what another kit would bring a part, and what it costs."""
    told = _("{devices} would leave {clean} dB of clean range, the peak at {peak} dBFS; the whole kit costs {total}.")
    if not affordable:
        told = _(
            "{devices} would leave {clean} dB of clean range, the peak at {peak} dBFS; the whole kit costs {total}, "
            "more than there is."
        )
    return told.format(
        devices=_(" with ").join(item.name for item in reversed(found.devices)),
        clean=figure(found.clean_range_db),
        peak=figure(found.peak_dbfs),
        total=money(total),
    )


def software_lack(lack: str, needs: Needs, item: Item) -> str:
    """Say what recording software lacks, by the lack's name."""
    return {
        "system": _("does not run on {system}").format(system=needs.computer),
        "tracks": _("has {there} tracks, {needed} are needed").format(there=item.tracks or 0, needed=needs.tracks),
        "overdubs": _("does not line overdubs up with the backing"),
        "takes": _("does not keep takes"),
        "no-fees": _("is paid by the month"),
    }[lack]


def advice_on_kit(finding: KitFinding) -> str:
    """Say what a finding means and what helps."""
    return _ADVICE[finding.kind](finding)


def _overload(finding: KitFinding) -> str:
    told = _(
        "{source}: {item} clips {short:.0f} dB before the loudest passage as believed (±{band:.0f} dB), whatever the "
        "gain. Step back, use a pad, or take what bears more."
    )
    if finding.short_db >= 0:
        told = _(
            "{source}: {item} bears only {short:.0f} dB more than the loudest passage as believed, and that may be off "
            "by {band:.0f} dB. What clips there no gain brings back: step back, use a pad, or take what bears more."
        )
    return told.format(
        source=given("source", finding.source).label,
        item=given("item", finding.item).name,
        short=abs(finding.short_db),
        band=finding.level_db,
    )


def _level_low(finding: KitFinding) -> str:
    item = given("item", finding.item)
    return _(
        "{source}: with all that {item} gives, the peak stays at {peak} dBFS. It costs clean range, nothing else: lift "
        "the file afterwards{slider}."
    ).format(
        source=given("source", finding.source).label,
        item=item.name,
        peak=figure(finding.level_db),
        slider=_(", or raise the computer’s own input slider") if item.kind == "microphone" else "",
    )


def _very_dead(finding: KitFinding) -> str:
    return _(
        "More than half of the walls would be hung: the reverberation time falls to {rt60:.2f} s: very dead."
    ).format(rt60=finding.rt60_s)


def _lows_missed(finding: KitFinding) -> str:
    item = given("item", finding.item)
    return _(
        "{item} begins at {low:.0f} Hz; {source} has much from {lowest:.0f} Hz on. What lies below is thin in the file."
    ).format(
        item=item.name,
        low=given("low_hz", item.low_hz),
        source=given("source", finding.source).label.lower(),
        lowest=finding.lowest_hz,
    )


def _highs_missed(finding: KitFinding) -> str:
    item = given("item", finding.item)
    return _("{item} ends at {high:.0f} kHz: the shimmer of cymbals above it is not in the file.").format(
        item=item.name, high=given("high_hz", item.high_hz) / 1000
    )


def _pops_easily(finding: KitFinding) -> str:
    return _(
        "{item} is a small-diaphragm condenser: fast and bright, and it pops more easily before a mouth. Keep the pop "
        "screen, a palm’s width off, and sing past it."
    ).format(item=given("item", finding.item).name)


def _room_heard(finding: KitFinding) -> str:
    return _("The room is heard behind the part and cannot be taken out again: hang something, or find a better spot.")


def _room_sets_noise(finding: KitFinding) -> str:
    return _("The room sets the noise: a dearer microphone would hear the same room. Choose the hour, or quieten it.")


def _noise(finding: KitFinding) -> str:
    return _("The clean range stays small; the {stage} sets it.").format(stage=finding.stage)


def _without_box(finding: KitFinding) -> str:
    return _(
        "{source}: no DI box needed; this interface’s instrument input ({load:g} Mohm) takes it straight from a lead "
        "under {lead}. A box pays where the lead is longer or the ground hums."
    ).format(
        source=given("source", finding.source).label,
        load=(given("interface", finding.hub).instrument_ohm or 0.0) / 1e6,
        lead=far(SHORT_LEAD_M, 0),
    )


def _with_box(finding: KitFinding) -> str:
    source, box = given("source", finding.source), given("box", finding.item)
    passive = given("direct", source.direct).passive
    fitting = _("a passive one for an output with its own preamp")
    if passive:
        fitting = _("an active one for a passive pickup")
    told = (
        _("{source} goes through a DI box, {fitting}.")
        if bool(box.active) == passive
        else _("{source} goes through a DI box; {fitting} is the usual choice, this one serves here too.")
    )
    worth = _(
        "A fifth of the instrument, about {worth}, is what a box is worth by rule of thumb; this one costs {price}."
    )
    sentences = (
        told.format(source=source.label, fitting=fitting),
        worth.format(worth=money(finding.worth), price=money(box.price)),
    )
    return " ".join(sentences)


def _headphones_quiet(finding: KitFinding) -> str:
    told = _("These headphones reach only {level:.0f} dB SPL from this output: quiet over a loud voice.")
    return told.format(level=finding.level_db)


def _headphones_loud(finding: KitFinding) -> str:
    minutes = 60 * finding.safe_h
    time = _("{minutes:.0f} minutes").format(minutes=minutes) if minutes >= 1 else _("less than a minute")
    told = _(
        "These headphones can reach {level:.0f} dB SPL here, safe for {time} a day (NIOSH, 1998): start from silence."
    )
    return told.format(level=finding.level_db, time=time)


def _ribbon(finding: KitFinding) -> str:
    told = _("{name}: phantom power may destroy it. 48 V stays off while it is plugged.")
    if finding.hub is not None and finding.hub.phantom == "shared":
        told += " " + _("This interface has one switch for all inputs.")
    return told.format(name=given("microphone", finding.item).name)


def _monitors_later(finding: KitFinding) -> str:
    return _(
        "Monitors can wait: to record you need closed headphones. To mix later take active ones with a flat response, "
        "balanced from the interface, sized to the room."
    )


def _monitors(finding: KitFinding) -> str:
    return _(
        "In {volume:.0f} m³ a monitor needs {level:.0f} dB peaks at {at}. The lowest mode lies near {lowest:.0f} Hz: "
        "one that reaches below that only stirs up the room’s bass."
    ).format(volume=finding.volume_m3, level=finding.level_db, at=far(1.0, 0), lowest=finding.lowest_hz)


def _mono_only(finding: KitFinding) -> str:
    told = _(
        "{source} was to be in stereo. Nothing within this money records both sides, so it is planned on one channel: "
        "that mixes well among other parts. Stereo takes two microphones of one model and two inputs, or a recorder."
    )
    return told.format(source=given("source", finding.source).label)


def _stereo_pair(finding: KitFinding) -> str:
    told = _(
        "{source} in stereo: two pieces of {name}, one model for both sides, each on its own input, both gains alike."
    )
    name = given("microphone", finding.item).name
    return told.format(source=given("source", finding.source).label, name=name)


def _stereo_built_in(finding: KitFinding) -> str:
    told = _("{source} in stereo: {name} brings both microphones; face it to the middle of the source.")
    name = given("recorder", finding.item).name
    return told.format(source=given("source", finding.source).label, name=name)


def _stereo_plugged(finding: KitFinding) -> str:
    told = _("{source} in stereo: two leads, left and right, into two inputs of one kind, both gains alike.")
    return told.format(source=given("source", finding.source).label)


_ADVICE: Final = {
    "overload": _overload,
    "level-low": _level_low,
    "very-dead": _very_dead,
    "lows-missed": _lows_missed,
    "highs-missed": _highs_missed,
    "pops-easily": _pops_easily,
    "room-heard": _room_heard,
    "room-sets-noise": _room_sets_noise,
    "noise": _noise,
    "di-not-needed": _without_box,
    "di-box": _with_box,
    "headphones-quiet": _headphones_quiet,
    "headphones-loud": _headphones_loud,
    "ribbon-phantom": _ribbon,
    "mono-only": _mono_only,
    "stereo-pair": _stereo_pair,
    "stereo-built-in": _stereo_built_in,
    "stereo-plugged": _stereo_plugged,
    "monitors-later": _monitors_later,
    "monitors-for-room": _monitors,
}
