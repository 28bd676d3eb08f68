"""How the microphone stands, as the Place screen asks for it."""

from typing import Any, ClassVar

from pneumen.core.gear import GRILLE_M
from pneumen.core.place import LOW_CUTS_HZ
from pneumen.web.fields import CheckField, LengthField, NumberField, PickField, StepForm
from pneumen.web.place.services import SHEETS_M
from pneumen.wording.language import _
from pneumen.wording.lengths import near

CAPSULE, GRILLE = "", "yes"
LOW_CUT_LABELS = {one: f"{one} Hz" if one else "off" for one in LOW_CUTS_HZ}


class PlaceForm(StepForm):
    problem_id = "place-problem"
    CORE: ClassVar = {
        "height over the mouth": "above",
        "pop screen before the capsule": "screen_before",
        "low-cut": "low_cut",
        "data sheet": "sheet",
    }

    distance = LengthField("Distance")
    from_grille = PickField(_("measured to the"))
    above = LengthField(_("Over the mouth"), signed=True)
    aside = NumberField(_("Off the mouth’s axis"), unit=_("degrees (left −)"), signed=True)
    turned = NumberField(_("Microphone turned"), unit=_("degrees (left −)"), signed=True)
    low_cut = PickField("Low-cut", LOW_CUT_LABELS)
    sheet = PickField(_("Data sheet’s curve taken at"))
    pop_screen = CheckField(_("a pop screen,"))
    screen_before = LengthField(_("Pop screen before the capsule"))

    def __init__(self, *args: Any, pops: bool, paired: bool = False, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        if paired:  # the two of a pair are turned by its angle
            del self.fields["turned"]
        self.offer(
            "from_grille",
            [(CAPSULE, "capsule"), (GRILLE, _("grille, {grille_m} before it").format(grille_m=near(GRILLE_M)))],
        )
        self.fields["from_grille"].widget.attrs["data-reload"] = True
        self.offer("sheet", [(one, _("far off") if one == SHEETS_M[-1] else near(one)) for one in SHEETS_M])
        self.fields["screen_before"].widget.attrs["class"] = "short"
        if not pops:  # an instrument has neither a mouth to stand beside nor a screen before it
            self.fields["above"].label = _("Over the instrument’s middle")
            for name in ("aside", "pop_screen", "screen_before"):
                del self.fields[name]
