"""The five answers. Ranges are the core's; the form only asks it."""

from collections.abc import Iterator
from typing import Any

from django import forms
from django.http import QueryDict

from pneumen.core.delay import COMPUTERS
from pneumen.core.errors import PneumenError
from pneumen.core.gear import (
    INTERFACE_FAMILIES,
    OWN_FAMILIES,
    PATTERNS,
    dbv_per_pa_to_mv_per_pa,
    ein_to_weighted_dbu,
    interface_from_sheet,
    microphone_from_sheet,
    self_noise_from_signal_to_noise,
)
from pneumen.core.kit import CABLE_M, DEAREST, ROUTES
from pneumen.core.part import FORMATS, GROUPS, LOUDNESSES, SOURCES
from pneumen.core.room import AT_HAND, FURNISHINGS, NOISES
from pneumen.web.fields import NumberField, choose_from
from pneumen.web.gear.models import Interface, Microphone
from pneumen.web.part.models import Part
from pneumen.web.room.models import Room
from pneumen.web.room.services import MOST_COVERINGS
from pneumen.web.song.models import AUDIENCES
from pneumen.wording.language import _
from pneumen.wording.lengths import far
from pneumen.wording.refusals import refusal
from pneumen.wording.room import sizes_told

OWNED_KINDS = {
    "headphones": _("closed headphones"),
    "phones-adapter": _("headphone adapter"),
    "software": _("recording software"),
}
COUNTED_KINDS = {
    "boom-stand": _("Boom stands"),
    "pop-filter": _("Pop filters, bought or home-made"),
    "xlr-cable": _("XLR cables, {} or more"),
    "instrument-cable": _("Instrument leads"),
}
"""Of these every microphone or plug needs its own, so their number counts."""
MOST_OWNED = 20
ROUTE_WORDS = (_("whichever serves best"), _("one cable (USB)"), _("through an interface"), _("a handheld recorder"))
ROUTE_LABELS = dict(zip(ROUTES, ROUTE_WORDS, strict=True))
LOUDNESS_LABELS = dict(zip(LOUDNESSES, ("softly", _("as usual"), _("full out"), _("I don’t know")), strict=True))
FORMAT_LABELS = dict(zip(FORMATS, (_("one channel (mono)"), _("two channels (stereo)")), strict=True))
COMPUTER_LABELS = {slug: computer.label for slug, computer in COMPUTERS.items()}
USB_GAINS = {"none": _("none"), "bare": _("a small dial"), "slider": _("the computer’s input slider")}
COMMON_SOURCES = ("voice-pop", "spoken-word", "acoustic-guitar", "lever-harp", "clarinet", "hand-drum")
NONE = "none"


SOFT = dict(zip(("duvets", "blankets", "towels"), (usual.material for usual in AT_HAND), strict=True))
"""The form's field for each soft thing that most homes have, with its material."""
COUNTED = dict(zip(("stands", "filters", "cables", "leads"), COUNTED_KINDS, strict=True))
"""The form's field for each counted kind."""


def _sent(value: object) -> list[str]:
    """Return what a field that holds a value sends."""
    if isinstance(value, bool):
        return ["on"] if value else []
    if isinstance(value, tuple | list):
        return [str(one) for one in value]
    return ["" if value is None else str(value)]


def _with_only_what_changed(data: QueryDict, answers: dict[str, Any]) -> QueryDict:
    """Return what was sent, with today's answer wherever a field came as its page had shown it."""
    if not any(name.startswith("was-") for name in data):
        return data
    data = data.copy()
    for name, value in answers.items():
        if data.getlist(name) == data.getlist(f"was-{name}"):
            data.setlist(name, _sent(value))
    return data


def choice(label: str, table: dict[str, Any], *, required: bool = True) -> forms.ChoiceField:
    return forms.ChoiceField(label=label, choices=list(table.items()), required=required)


def count(label: str) -> forms.IntegerField:
    return forms.IntegerField(label=label, required=False, min_value=0, max_value=MOST_OWNED)


class StartForm(forms.Form):
    """What, how loud, money, what is owned, room, for whom."""

    source = choice(_("What is recorded"), {slug: source.label for slug, source in SOURCES.items()})
    loudness = choice(_("How loud it gets"), LOUDNESS_LABELS)
    format = choice(_("Mono or stereo"), FORMAT_LABELS, required=False)
    budget = NumberField(_("Money to spend"))
    route = choice("Route", ROUTE_LABELS)
    microphone = forms.ChoiceField(label=_("Microphone you own"))
    other_microphone = forms.ChoiceField(label=_("Another one you own"), required=False)
    microphone_name = forms.CharField(label=_("Its name"), required=False, max_length=80)
    sensitivity = NumberField("Sensitivity")
    sensitivity_unit = choice("Unit", {"mv": "mV/Pa", "dbv": "dBV/Pa"})
    own_noise = NumberField("Noise")
    own_noise_unit = choice("Unit", {"self": _("dBA self-noise"), "snr": _("dB signal-to-noise")})
    max_spl = NumberField(_("Maximum SPL"))
    impedance = NumberField("Impedance")
    pattern = choice("Pattern", {"": _("as the family"), **{name: name for name in PATTERNS}}, required=False)
    usb_gain = choice(_("Gain control (USB)"), USB_GAINS)
    interface = forms.ChoiceField(label=_("Interface you own"))
    interface_name = forms.CharField(label=_("Its name"), required=False, max_length=80)
    ein = NumberField("EIN")
    ein_unit = choice("Unit", {"a": _("dBu, A-weighted"), "flat": _("dBu, unweighted")})
    gain_min = NumberField(_("Lowest gain"))
    gain_max = NumberField(_("Highest gain"))
    gain_step = NumberField(_("Step of the control"))
    max_input = NumberField(_("Maximum input"))
    owned = forms.MultipleChoiceField(label=_("Small things"), choices=list(OWNED_KINDS.items()), required=False)
    stands = count(COUNTED_KINDS["boom-stand"])
    filters = count(COUNTED_KINDS["pop-filter"])
    cables = count(COUNTED_KINDS["xlr-cable"])
    leads = count(COUNTED_KINDS["instrument-cable"])
    computer = choice("Computer", COMPUTER_LABELS)
    size = forms.ChoiceField(label="Size", choices=sizes_told)
    furnishing = choice("Furnishing", dict(FURNISHINGS))
    duvets = count("Duvets")
    blankets = count("Heavy blankets")
    towels = count("Bath towels")
    noise = choice("Noise", {slug: label for slug, (label, *_rest) in NOISES.items()})
    standing = forms.BooleanField(label=_("recorded standing"), required=False)
    room = forms.ModelChoiceField(
        label=_("Room of your home"), queryset=Room.objects.none(), required=False, empty_label=None
    )
    audience = choice(_("Who gets the file"), {slug: label for slug, (label, *_rest) in AUDIENCES.items()})

    def __init__(self, part: Part, data: QueryDict | None = None) -> None:
        answers = answers_of(part)
        super().__init__(_with_only_what_changed(data, answers) if data else None, initial=answers)
        self.part = part
        self.fields["cables"].label = COUNTED_KINDS["xlr-cable"].format(far(CABLE_M, 0))
        room = self.fields["room"]
        if isinstance(room, forms.ModelChoiceField):
            room.queryset = Room.objects.mine(part.owner)
        mine = [(f"own:{row.pk}", f"{row.name} (yours)") for row in Microphone.objects.mine(part.owner)]
        families = [(slug, _("{label}, by family").format(label=family.label)) for slug, family in OWN_FAMILIES.items()]
        choose_from(self.fields["microphone"], [(NONE, _("none yet")), *mine, *families])
        choose_from(self.fields["other_microphone"], [(NONE, _("no other")), *mine, *families])
        mine = [(f"own:{row.pk}", f"{row.name} (yours)") for row in Interface.objects.mine(part.owner)]
        families = [(slug, family.label) for slug, family in INTERFACE_FAMILIES.items()]
        choose_from(self.fields["interface"], [(NONE, _("none yet")), *mine, *families])

    @property
    def was(self) -> list[tuple[str, str]]:
        """What the page shows, as its fields would send it: it goes along, so that only what was changed is stored."""
        return [(name, sent) for name, value in self.initial.items() for sent in _sent(value)]

    def clean_budget(self) -> float:
        budget = self.cleaned_data.get("budget") or 0.0
        if not 0 <= budget <= DEAREST:
            told = _("Give an amount from 0 to {most:,.0f}; {budget:g} is outside.")
            raise forms.ValidationError(told.format(most=DEAREST, budget=budget))
        return budget

    def clean(self) -> dict[str, Any]:
        super().clean()
        data = self.cleaned_data
        counted = [kind for name, kind in COUNTED.items() for _rest in range(data.get(name) or 0)]
        data["owned"] = [*data.get("owned", ()), *counted]
        data["at_hand"] = {material: data[name] for name, material in SOFT.items() if data.get(name) is not None}
        self._check_at_hand(data["at_hand"])
        for kind, read in (("microphone", self._microphone_sheet), ("interface", self._interface_sheet)):
            data[f"{kind}_sheet"] = {}
            if not self.errors:
                try:
                    data[f"{kind}_sheet"] = read(data)
                except PneumenError as error:
                    self._refuse(error)
        return data

    def _check_at_hand(self, counts: dict[str, int]) -> None:
        others = sum(row.material not in counts for row in self.part.song.room.coverings.all())
        most = MOST_COVERINGS - others
        if sum(counts.values()) > most:
            self.add_error(
                "duvets",
                _("Give at most {most} soft things in all: more are not told apart on the plan.").format(most=most),
            )

    def _refuse(self, error: PneumenError) -> None:
        """Put a fault of the core's at the field it came from."""
        fields = {
            "sensitivity_mv_per_pa": "sensitivity",
            "sensitivity_dbv_per_pa": "sensitivity",
            "self_noise_dba": "own_noise",
            "signal_to_noise_dba": "own_noise",
            "max_spl_db": "max_spl",
            "full_scale_db_spl": "max_spl",
            "impedance_ohm": "impedance",
            "ein_dbu": "ein",
            "gain_min_db": "gain_min",
            "gain_max_db": "gain_max",
            "gain_step_db": "gain_step",
            "max_input_dbu": "max_input",
        }
        field = fields.get(getattr(error, "field", ""))
        self.add_error(field, refusal(error, str(self.fields[field].label) if field else ""))

    def _microphone_sheet(self, data: dict[str, Any]) -> dict[str, Any]:
        family = _family_of(data["microphone"], Microphone, self.part)
        if family is None:
            return {}
        usb = OWN_FAMILIES[family].plug != "xlr"
        sheet = {"pattern": data["pattern"], "impedance_ohm": data["impedance"]}
        sheet["full_scale_db_spl" if usb else "max_spl_db"] = data["max_spl"]
        sheet["self_noise_dba"] = data["own_noise"]
        if data["own_noise"] is not None and data["own_noise_unit"] == "snr":
            sheet["self_noise_dba"] = self_noise_from_signal_to_noise(data["own_noise"])
        sheet["sensitivity_mv_per_pa"] = data["sensitivity"]
        if data["sensitivity"] is not None and data["sensitivity_unit"] == "dbv":
            sheet["sensitivity_mv_per_pa"] = dbv_per_pa_to_mv_per_pa(data["sensitivity"])
        sheet = {name: value for name, value in sheet.items() if value not in (None, "")}
        microphone_from_sheet(family, sheet)
        Microphone(pk=0, family=family, name=family, **sheet).to_core()  # as every page will, for what it refuses
        return sheet

    def _interface_sheet(self, data: dict[str, Any]) -> dict[str, Any]:
        family = _family_of(data["interface"], Interface, self.part)
        if family is None:
            return {}
        ein = data["ein"]
        if ein is not None and data["ein_unit"] == "flat":
            ein = ein_to_weighted_dbu(ein)
        sheet = {
            "ein_dbu": ein,
            "gain_min_db": data["gain_min"],
            "gain_max_db": data["gain_max"],
            "gain_step_db": data["gain_step"],
            "max_input_dbu": data["max_input"],
        }
        sheet = {name: value for name, value in sheet.items() if value is not None}
        interface_from_sheet(family, sheet)
        Interface(pk=0, family=family, name=family, **sheet).to_core()
        return sheet

    @property
    def counted(self) -> list[forms.BoundField]:
        return [self[name] for name in COUNTED]

    @property
    def soft(self) -> list[forms.BoundField]:
        """How many soft things there are that can hang for a take."""
        return [self[name] for name in SOFT]

    @property
    def common_sources(self) -> list[tuple[str, str]]:
        """The sources asked for most, as slug and label."""
        return [(slug, SOURCES[slug].label) for slug in COMMON_SOURCES]

    @property
    def rare_sources(self) -> list[tuple[str, list[tuple[str, str]]]]:
        """All others, by group."""
        rare = [(slug, source) for slug, source in SOURCES.items() if slug not in COMMON_SOURCES]
        groups = [(label, [(s, one.label) for s, one in rare if one.group == group]) for group, label in GROUPS.items()]
        return [(label, sources) for label, sources in groups if sources]

    @property
    def has_rare_source(self) -> bool:
        return self["source"].value() not in COMMON_SOURCES

    def error_slots(self) -> Iterator[tuple[str, list[str]]]:
        """Every field with its errors, for answers that only fill in what is wrong."""
        for name in self.fields:
            if not name.endswith("_unit"):  # a unit's fault is told at its figure
                yield name, [str(error) for error in self.errors.get(name, ())]


def _family_of(choice: str, model: type[Microphone] | type[Interface], part: Part) -> str | None:
    if choice == NONE:
        return None
    if choice.startswith("own:"):
        return model.objects.mine(part.owner).values_list("family", flat=True).get(pk=choice[4:])
    return choice


def answers_of(part: Part) -> dict[str, Any]:
    """Return what was answered before, in the units the fields show."""
    song, microphone, interface = part.song, part.own_microphone, part.own_interface
    owned = song.core_owned_kinds
    answers = {
        "source": part.source,
        "loudness": part.loudness,
        "format": part.format,
        "budget": _short(song.budget),
        "route": song.route,
        "microphone": f"own:{microphone.pk}" if microphone else NONE,
        "other_microphone": f"own:{part.other_microphone_id}" if part.other_microphone_id else NONE,
        "interface": f"own:{interface.pk}" if interface else NONE,
        "owned": tuple(kind for kind in owned if kind in OWNED_KINDS),
        **{name: owned.count(kind) for name, kind in COUNTED.items()},
        **{name: song.room.count_of(material) for name, material in SOFT.items()},
        "computer": song.computer,
        "size": song.room.size,
        "furnishing": song.room.furnishing,
        "noise": song.room.noise,
        "audience": song.audience,
        "standing": song.standing,
        "room": song.room_id,
    }
    if microphone:
        answers |= {
            "microphone_name": microphone.name,
            "sensitivity": _short(microphone.sensitivity_mv_per_pa),
            "own_noise": _short(microphone.self_noise_dba),
            "max_spl": _short(microphone.max_spl_db or microphone.full_scale_db_spl),
            "impedance": _short(microphone.impedance_ohm),
            "pattern": microphone.pattern,
            "usb_gain": microphone.gain_marking,
        }
    if interface:
        answers |= {
            "interface_name": interface.name,
            "ein": _short(interface.ein_dbu),
            "gain_min": _short(interface.gain_min_db),
            "gain_max": _short(interface.gain_max_db),
            "gain_step": _short(interface.gain_step_db),
            "max_input": _short(interface.max_input_dbu),
        }
    return answers


def _short(value: float | None) -> str | None:
    """A number without a tail: 18.0 as 18."""
    return None if value is None else f"{round(value, 3):g}"
