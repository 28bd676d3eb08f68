"""What to do next, in words: what, what it brings, and the values one press applies."""

from dataclasses import dataclass

from pneumen.core.gain import Action
from pneumen.web.lengths import near
from pneumen.web.song.outlook import Outlook
from pneumen.web.wording import figure


@dataclass(frozen=True, slots=True, kw_only=True)
class Todo:
    """One thing to do: what, what it brings, and the values one press applies."""

    title: str
    effect: str
    beside: str
    button: str
    kind: str
    distance: str
    gain_db: float
    room_noise_dba: float


def todo_of(action: Action, outlook: Outlook) -> Todo:
    """Put an action of the core into words."""
    marking = outlook.chain.gain_marking
    change = action.gain_db - outlook.gain_db
    clean = action.clean_range_change_db
    titles = {
        "gain": _gain_words(marking, action.gain_db, change, outlook),
        "distance": f"{'Move closer' if action.distance_m < outlook.distance_m else 'Move back'}, to {near(action.distance_m)}",
        "closer": f"Move closer, to {near(action.distance_m)}",
        "farther": f"Move back, to {near(action.distance_m)}",
        "quieter-room": "Quieten the room: fridge and fans off, laptop a metre away",
    }
    title = titles[action.kind]
    if action.kind in ("closer", "farther") and abs(change) >= 1:
        title += f"; {_gain_words(marking, action.gain_db, change, outlook, inside=True)}"
    effect = f"peak {figure(action.peak_change_db, sign=True)} dB, to {figure(action.peak_dbfs)} dBFS"
    beside = f"clean range {figure(clean, sign=True)} dB" if abs(clean) >= 0.5 else "clean range unchanged"
    if action.kind in ("closer", "quieter-room"):
        effect, beside = f"clean range {figure(clean, sign=True)} dB", f"peak at {figure(action.peak_dbfs)} dBFS"
    return Todo(
        title=title,
        effect=effect,
        beside=beside,
        button="Done that" if action.kind == "quieter-room" or marking == "bare" else "Apply",
        kind=action.kind,
        distance=f"{100 * action.distance_m:.1f} cm",
        gain_db=action.gain_db,
        room_noise_dba=round(action.room_noise_dba, 1),
    )


def _gain_words(marking: str, gain_db: float, change_db: float, outlook: Outlook, *, inside: bool = False) -> str:
    """A dB scale gets a figure, a bare knob a difference one can see on the meter."""
    verb = "raise" if change_db > 0 else "lower"
    verb = verb if inside else verb.capitalize()
    if marking == "db":
        return f"{verb} the gain to {figure(gain_db)} dB"
    return f"{verb} the knob until the same phrase peaks {figure(abs(change_db))} dB {'higher' if change_db > 0 else 'lower'}"
