"""How a take was recorded, where that differs from how the part was set."""

from typing import Any

from pneumen.web.fields import CheckField, LengthField, NumberField, PickField, StepForm
from pneumen.web.gain.turn import share_turned
from pneumen.web.take.models import Take
from pneumen.wording.controls import DIAL, DIAL_TO, UNITS
from pneumen.wording.language import _

WHOLE = _("the loudest passage, or all of it")


class RecordedForm(StepForm):
    """Distance, gain (per cent of a knob's turn, a dial's number), section and gear of a take."""

    problem_id = "recorded-problem"
    emptied = ("section",)
    distance = LengthField("Distance")
    gain = NumberField("Gain", unit="dB", signed=True)
    turn = NumberField("Gain", unit=_("% of its range"), decimals=0)
    dial = NumberField("Gain", unit=UNITS["dial"])
    section = PickField(_("What was played"))
    other_gear = CheckField(_("With another microphone or interface"))

    def __init__(self, take: Take, *args: Any, **kwargs: Any) -> None:
        self.take, self.marking = take, take.snapshot["gain_marking"]
        recorded = take.recorded or {}
        shown = {
            "distance": take.distance_m,
            "gain": take.gain_db,
            "turn": 100 * take.knob.share_at(take.gain_db) if self.marking == "bare" else None,
            "dial": DIAL_TO * take.knob.share_at(take.gain_db) if self.marking == "bare" else None,
            "section": take.section,
            "other_gear": recorded.get("other_gear", False),
        }
        super().__init__(*args, shown=shown, **kwargs)
        names = [section.name for section in take.part.core_sections]
        self.offer("section", [("", WHOLE), *((name, name) for name in names)])
        asked = {"db": "gain", "bare": "dial" if take.control == DIAL else "turn"}.get(self.marking)
        unasked = [name for name in ("gain", "turn", "dial") if name != asked]
        unasked += [] if "microphone" in take.snapshot["setup"] else ["distance"]
        unasked += [] if names else ["section"]
        for name in unasked:
            del self.fields[name]

    @property
    def told(self) -> dict[str, Any]:
        """All that was answered, as the core calls it; what was left as the page showed it stays as it was told."""
        known = {"section": self.take.section} | (self.take.recorded or {})
        recorded = {name: value for name, value in known.items() if name != "trusted"}
        names = {"distance": "distance_m", "gain": "gain_db"}
        changes = self.changes
        if (share := share_turned(changes)) is not None:
            recorded["gain_db"] = self.take.knob.gain_at(share)
        told = {names.get(name, name): value for name, value in changes.items() if name not in ("turn", "dial")}
        return recorded | told
