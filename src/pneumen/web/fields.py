"""Forms that speak as people measure: fields with units, what was changed since the page was drawn, one refusal."""

from collections.abc import Iterable, Mapping
from typing import Any, ClassVar

from django import forms
from django.core.exceptions import ValidationError
from django.http import QueryDict

from pneumen.core.errors import PneumenError
from pneumen.web.lengths import metres_of
from pneumen.web.reading import number_of, whole_of
from pneumen.web.widgets import QuickRenderer
from pneumen.wording.figures import habits, plain_number
from pneumen.wording.lengths import FOOT_M, INCH_M, far_field, far_unit, near_field, near_unit
from pneumen.wording.refusals import refusal

MOST_LETTERS = 200


class NumberField(forms.Field):
    """A number as people type it, with a comma or a true minus too; what is left empty stays as it is."""

    def __init__(self, label: str, *, unit: str = "", decimals: int = 1, signed: bool = False, **how: Any) -> None:
        widget = forms.TextInput(attrs={"inputmode": "text" if signed else "decimal", "autocomplete": "off"})
        super().__init__(label=label, required=False, widget=widget, **how)
        self.stated_unit, self.decimals = unit, decimals

    @property
    def unit(self) -> str:
        """What stands beside the label; a length's is the reader's own."""
        return self.stated_unit

    @property
    def called(self) -> str:
        """Its label, as a refusal names it."""
        return str(self.label)

    def prepare_value(self, value: object) -> object:
        return self.written(value) if isinstance(value, int | float) else value

    def written(self, value: float) -> str:
        return plain_number(value, self.decimals)

    def to_python(self, value: object) -> float | None:
        text = str(value or "").strip()[:MOST_LETTERS]
        try:
            return self.read(text) if text else None
        except PneumenError as error:
            raise ValidationError(refusal(error)) from None

    def read(self, text: str) -> float:
        return number_of(text, self.called)


class WholeField(NumberField):
    """A whole number, as a count is."""

    def __init__(self, label: str, **how: Any) -> None:
        super().__init__(label, decimals=0, **how)
        self.widget.attrs["inputmode"] = "numeric"

    def read(self, text: str) -> int:
        return whole_of(text, self.called)


class LengthField(NumberField):
    """A length with any unit; a bare number counts in the reader's own. Metres come out.

    far: it lies in a room (metres, or feet and inches), not at a microphone (centimetres, or inches).
    """

    def __init__(self, label: str, *, far: bool = False, signed: bool = False, **how: Any) -> None:
        super().__init__(label, signed=signed, **how)
        self.far = far

    @property
    def unit(self) -> str:
        return far_unit() if self.far else near_unit()

    def written(self, value: float) -> str:
        return far_field(value) if self.far else near_field(value)

    def read(self, text: str) -> float:
        feet = habits.get().feet
        bare_m = (FOOT_M if feet else 1.0) if self.far else (INCH_M if feet else 0.01)
        return metres_of(text, self.called, bare_m)


class PickField(forms.ChoiceField):
    """One of a table's slugs; one that is not there is refused by the core, which knows the table."""

    unit = ""

    def __init__(self, label: str, table: Mapping[Any, str] | None = None, **how: Any) -> None:
        super().__init__(label=label, required=False, choices=list((table or {}).items()), **how)

    def valid_value(self, value: str) -> bool:
        return True


class TextField(forms.CharField):
    """Words of one's own, on one line."""

    unit = ""

    def __init__(self, label: str, *, most: int = 40, **how: Any) -> None:
        super().__init__(label=label, required=False, max_length=most, **how)


class CheckField(forms.BooleanField):
    unit = ""

    def __init__(self, label: str, **how: Any) -> None:
        super().__init__(label=label, required=False, **how)


def choose_from(field: forms.Field, choices: Iterable[tuple[Any, str]]) -> None:
    """Set what a field lets one choose from, where it is one that does."""
    if isinstance(field, forms.ChoiceField):
        field.choices = list(choices)


class AskedField(forms.BoundField):
    """A field on the page: its classes, its error and where the error is told."""

    KINDS: ClassVar = ((forms.CheckboxInput, "form-check-input"), (forms.Select, "form-select"))

    def build_widget_attrs(self, attrs: dict[str, Any], widget: forms.Widget | None = None) -> dict[str, Any]:
        widget = widget or self.field.widget
        attrs = super().build_widget_attrs(attrs, widget)
        if widget.is_hidden:
            return attrs
        kind = next((name for one, name in self.KINDS if isinstance(widget, one)), "form-control")
        attrs["class"] = " ".join(filter(None, (kind, widget.attrs.get("class"), "is-invalid" if self.errors else "")))
        told_at = widget.attrs.get("aria-describedby") or getattr(self.form, "problem_id", "")
        attrs.setdefault("aria-describedby", str(told_at))
        return attrs


class StepForm(forms.Form):
    """A form of a step: it shows what holds, reads what people type, and knows what they changed.

    Each field goes along with what the page showed of it (was-FIELD), so that only what was changed is stored: the
    later of two changes wins by field, and what is planned stays planned.

    problem_id names the line that tells what is wrong, CORE the field where the core calls a value otherwise, emptied
    the fields in which nothing is an answer too.
    """

    problem_id: ClassVar[str] = "problem"
    emptied: tuple[str, ...] = ()
    remembers: ClassVar[bool] = True
    CORE: ClassVar[Mapping[str, str]] = {}
    bound_field_class = AskedField
    default_renderer = QuickRenderer()

    def __init__(self, data: QueryDict | None = None, *, shown: Mapping[str, Any] | None = None) -> None:
        super().__init__(data, initial=dict(shown or {}), auto_id="%s", label_suffix="")
        self.use_required_attribute = False
        self.remember()

    def remember(self) -> None:
        """Have every field go along with what the page showed of it."""
        for field in self.fields.values():
            field.show_hidden_initial = self.remembers

    def offer(self, name: str, choices: Iterable[tuple[Any, str]]) -> None:
        """Set what a field lets one choose from."""
        choose_from(self.fields[name], choices)

    def add_prefix(self, field_name: str) -> str:
        return f"{self.prefix}_{field_name}" if self.prefix else field_name

    def add_initial_prefix(self, field_name: str) -> str:
        return f"was-{self.add_prefix(field_name)}"

    @property
    def changes(self) -> dict[str, Any]:
        """What was typed and differs from what the page showed, by field; what was left empty or out is not there."""
        return {name: self.cleaned_data[name] for name in self.changed_data if self._was_sent(name)}

    def _was_sent(self, name: str) -> bool:
        if isinstance(self.fields[name], forms.BooleanField):  # an empty box sends nothing but what it was
            return self.add_prefix(name) in self.data or self.add_initial_prefix(name) in self.data
        if name in self.emptied and self.add_prefix(name) in self.data:
            return True
        return self.cleaned_data.get(name) not in (None, "")

    def refuse(self, error: PneumenError) -> None:
        """Put a fault of the core's at the field it came from."""
        told = getattr(error, "field", "")
        name = self.CORE.get(told, told.replace(" ", "_"))
        self.add_error(name if name in self.fields else None, refusal(error))

    @property
    def problem(self) -> str:
        """What is wrong, in sentences; empty where nothing is."""
        return " ".join(str(error) for errors in self.errors.values() for error in errors)
