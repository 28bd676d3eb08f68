"""What to do next, in words: what, what it brings, and the values one press applies."""

from dataclasses import dataclass

from pneumen.core.forecast import Action, Outcome
from pneumen.wording.controls import CONTROLS
from pneumen.wording.figures import figure
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
    effect = f"peak {figure(peak, sign=True)} dB, to {figure(after.levels.peak_dbfs)} dBFS"
    beside = f"clean range {figure(clean, sign=True)} dB" if abs(clean) >= 0.5 else "clean range unchanged"
    if action.kind == "quieter-room":
        effect, beside = f"clean range {figure(clean, sign=True)} dB", f"peak at {figure(after.levels.peak_dbfs)} dBFS"
    if action.kind in ("distance", "aside"):
        effect, beside = _place_effect(before, after), f"peak at {figure(after.levels.peak_dbfs)} dBFS"
    bare = before.setup.chain.gain_marking == "bare"
    return Todo(
        title=_title(action, before),
        effect=effect,
        beside=beside,
        button="Done that" if action.kind == "quieter-room" or (bare and action.kind == "gain") else "Apply",
        kind=action.kind,
        values=_values(action, before),
        peak_change_db=peak,
    )


def _title(action: Action, before: Outcome) -> str:
    after = action.after
    if action.kind == "gain":
        return _gain_words(before, after)
    if action.kind == "quieter-room":
        return "Quieten the room: fridge and fans off, laptop a metre away"
    if action.kind == "aside":
        off = abs(after.setup.placement.aside_deg)
        return f"Take it {figure(off)}° off the mouth’s axis, or put a pop screen before it"
    to_m = after.setup.placement.distance_m
    closer = to_m < before.setup.placement.distance_m
    title = f"Move {'closer' if closer else 'back'}, to {near(to_m)}"
    if abs(after.gain_db - before.gain_db) >= 1:
        title += f"; {_gain_words(before, after, inside=True)}"
    return title


def _place_effect(before: Outcome, after: Outcome) -> str:
    """Name what changes most by moving."""
    words = {"bass": "bass build-up", "pops": "pops", "room": "room sound", "sway": "sway"}
    units = {"pops": "m/s"}
    now, then = before.in_air.felt, after.in_air.felt
    changes = {name: then[name] - now[name] for name in words if name in now}
    level = after.levels.peak_dbfs - before.levels.peak_dbfs
    least = min(changes, key=lambda name: changes[name])
    if changes[least] > -0.1:
        return f"peak {figure(level, sign=True)} dB"
    unit = units.get(least, "dB")
    return f"{words[least]} {figure(changes[least], 1, sign=True)} {unit}, to {figure(then[least], 1)}"


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
        return f"{verb} the gain to {figure(after.gain_db)} dB"
    control = CONTROLS[before.setup.chain.control]
    way = "higher" if change_db > 0 else "lower"
    peak = after.levels.peak_dbfs - before.levels.peak_dbfs
    if inside:
        return f"{verb} the {control} until it peaks at {figure(after.levels.peak_dbfs)} dBFS again"
    return f"{verb} the {control} until the same phrase peaks {figure(abs(peak))} dB {way}"
