"""What to do next, in words: what, what it brings, and the values one press applies."""

from dataclasses import dataclass

from pneumen.core.forecast import Action, Outcome
from pneumen.wording.controls import CONTROLS
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import near


@dataclass(frozen=True, slots=True, kw_only=True)
class Todo:
    """One thing to do: what, what it brings, and the values one press applies (only what it changes)."""

    title: str
    effect: str
    beside: str
    button: str
    kind: str
    values: dict[str, str]
    peak_change_db: float


def todo_of(action: Action, before: Outcome) -> Todo:
    """Put an action of the core into words."""
    after = action.after
    clean = after.levels.clean_range_db - before.levels.clean_range_db
    peak = after.levels.peak_dbfs - before.levels.peak_dbfs
    effect = _("peak {peak} dB, to {peak_dbfs} dBFS").format(
        peak=figure(peak, sign=True), peak_dbfs=figure(after.levels.peak_dbfs)
    )
    beside = (
        _("clean range {clean} dB").format(clean=figure(clean, sign=True))
        if abs(clean) >= 0.5
        else _("clean range unchanged")
    )
    if action.kind == "quieter-room":
        effect, beside = (
            _("clean range {clean} dB").format(clean=figure(clean, sign=True)),
            _("peak at {peak_dbfs} dBFS").format(peak_dbfs=figure(after.levels.peak_dbfs)),
        )
    if action.kind in ("distance", "aside"):
        effect, beside = (
            _place_effect(before, after),
            _("peak at {peak_dbfs} dBFS").format(peak_dbfs=figure(after.levels.peak_dbfs)),
        )
    bare = before.setup.chain.gain_marking == "bare"
    return Todo(
        title=_title(action, before),
        effect=effect,
        beside=beside,
        button=_("Done that") if action.kind == "quieter-room" or (bare and action.kind == "gain") else "Apply",
        kind=action.kind,
        values=_values(action, before),
        peak_change_db=peak,
    )


def _title(action: Action, before: Outcome) -> str:
    after = action.after
    if action.kind == "gain":
        return _gain_words(before, after)
    if action.kind == "quieter-room":
        return _("Quieten the room: fridge and fans off, laptop a metre away")
    if action.kind == "aside":
        off = abs(after.setup.placement.aside_deg)
        return _("Take it {off}° off the mouth’s axis, or put a pop screen before it").format(off=figure(off))
    to_m = after.setup.placement.distance_m
    closer = to_m < before.setup.placement.distance_m
    title = _("Move {which}, to {to_m}").format(which="closer" if closer else "back", to_m=near(to_m))
    if abs(after.gain_db - before.gain_db) >= 1:
        title += f"; {_gain_words(before, after, inside=True)}"
    return title


def _place_effect(before: Outcome, after: Outcome) -> str:
    """Name what changes most by moving."""
    words = {"bass": _("bass build-up"), "pops": _("pops"), "room": _("room sound"), "sway": _("sway")}
    units = {"pops": "m/s"}
    now, then = before.in_air.felt, after.in_air.felt
    changes = {name: then[name] - now[name] for name in words if name in now}
    level = after.levels.peak_dbfs - before.levels.peak_dbfs
    least = min(changes, key=lambda name: changes[name])
    if changes[least] > -0.1:
        return _("peak {level} dB").format(level=figure(level, sign=True))
    unit = units.get(least, "dB")
    return _("{words} {changes} {unit}, to {then}").format(
        words=words[least], changes=figure(changes[least], 1, sign=True), unit=unit, then=figure(then[least], 1)
    )


def _values(action: Action, before: Outcome) -> dict[str, str]:
    after = action.after
    values = {}
    if action.kind == "distance":
        values["distance"] = f"{100 * after.setup.placement.distance_m:.2f} cm"
    if action.kind == "aside":
        values["aside"] = f"{after.setup.placement.aside_deg:.0f}"
    if action.kind in ("gain", "distance") and abs(after.gain_db - before.gain_db) >= 0.05:
        values["gain"] = f"{after.gain_db:.2f}"
    if action.kind == "quieter-room":
        values["noise_change"] = f"{after.setup.drawn_space.noise_change_db:.2f}"
    return values


def _gain_words(before: Outcome, after: Outcome, *, inside: bool = False) -> str:
    """A dB scale gets a figure, a bare knob a difference one can see on the meter."""
    change_db = after.gain_db - before.gain_db
    verb = "raise" if change_db > 0 else "lower"
    verb = verb if inside else verb.capitalize()
    if before.setup.chain.gain_marking == "db":
        return _("{verb} the gain to {gain_db} dB").format(verb=verb, gain_db=figure(after.gain_db))
    control = CONTROLS[before.setup.chain.control]
    way = "higher" if change_db > 0 else "lower"
    peak = after.levels.peak_dbfs - before.levels.peak_dbfs
    if inside:
        return _("{verb} the {control} until it peaks at {peak_dbfs} dBFS again").format(
            verb=verb, control=control, peak_dbfs=figure(after.levels.peak_dbfs)
        )
    return _("{verb} the {control} until the same phrase peaks {peak} dB {way}").format(
        verb=verb, control=control, peak=figure(abs(peak)), way=way
    )
