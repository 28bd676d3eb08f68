"""The looks at an unknown microphone, what it may be, and what to do about 48 V."""

from typing import Final

from pneumen.wording.language import _

LOOKS: Final = {
    "plug": _("What does its cable end in?"),
    "opening": _("Where does it look out?"),
    "power": _("Does anything else feed it?"),
    "weight": _("How heavy is it in the hand?"),
    "printed": _("What is printed on it?"),
}
ANSWERS: Final = {
    "plug": {
        "xlr": _("three pins (XLR)"),
        "usb": _("USB"),
        "many-pins": _("five pins or more"),
        "jack": _("a jack, thick or thin"),
    },
    "opening": {
        "side": _("a window of mesh at its side"),
        "end": _("a ball or a cap of mesh at its end"),
        "slots": _("a slim tube, open at its end, slots at the side"),
    },
    "power": {
        "battery": _("a battery inside: there is a door for it"),
        "own-supply": _("a box of its own on the mains"),
        "none": _("nothing I can see"),
    },
    "weight": {
        "light": _("light, as a pen or an egg (under 150 g)"),
        "middle": _("as a full glass (150 to 400 g)"),
        "heavy": _("heavy (over 400 g)"),
    },
    "printed": {
        "48v": _("that it takes 48 V (P48)"),
        "no-48v": _("a warning against 48 V"),
        "condenser": _("condenser or capacitor"),
        "dynamic": _("dynamic"),
        "ribbon": _("ribbon"),
        "nothing": _("nothing of the kind"),
    },
}
KINDS: Final = {
    "dynamic": _("Dynamic"),
    "large-condenser": _("Large-diaphragm condenser"),
    "small-condenser": _("Small-diaphragm condenser"),
    "battery-condenser": _("Condenser with a battery (electret)"),
    "valve-condenser": _("Valve condenser"),
    "ribbon": _("Ribbon, passive"),
    "active-ribbon": _("Ribbon, active"),
    "usb-condenser": _("USB condenser"),
    "usb-dynamic": _("USB dynamic"),
}
PHANTOM: Final = {
    "off": _(
        "48 V stays off. Looks do not tell a ribbon, which it may destroy, from a condenser, which needs it. Find the "
        "model’s name and its sheet, or 48 V printed on it: only that releases it. Try it without first: a dynamic "
        "gives sound at once."
    ),
    "printed": _(
        "It says that it takes 48 V, so it may have it. Volumes down, plug it in, then 48 V on, on its channel alone."
    ),
    "never": _(
        "48 V has no business here: the plug does not carry it, it brings its own supply, or warns of it. Leave it off."
    ),
}
