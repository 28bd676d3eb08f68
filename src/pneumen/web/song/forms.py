"""The settings as a form."""

from django import forms

from pneumen.web.song.models import Preferences
from pneumen.web.song.preferences import LENGTHS
from pneumen.wording.figures import NUMBER_STYLES
from pneumen.wording.language import _

PLACES = ((False, _("before: €5")), (True, _("after: 5 €")))


class PreferencesForm(forms.ModelForm):
    """The currency's sign, where it stands, how large numbers are written, and in what one measures."""

    sign_after = forms.TypedChoiceField(
        label=_("Where it stands"), choices=PLACES, coerce=lambda value: value == "True", required=False
    )
    number_style = forms.ChoiceField(
        label=_("Large numbers"),
        choices=[(slug, f"1{thousands}234{point}50") for slug, (thousands, point) in NUMBER_STYLES.items()],
    )

    lengths = forms.ChoiceField(label="Lengths", choices=tuple(LENGTHS.items()), required=False)

    class Meta:
        model = Preferences
        fields = ("currency_sign", "sign_after", "number_style", "lengths")
        labels = {"currency_sign": _("Currency sign")}  # noqa: RUF012 - Django reads a plain dictionary here

    def clean_lengths(self) -> str:
        return self.cleaned_data["lengths"] or "metric"

    def clean_currency_sign(self) -> str:
        sign = self.cleaned_data["currency_sign"].strip()
        if any(letter.isdigit() or letter in "+-.,=<>&" for letter in sign):
            raise forms.ValidationError(_("give a sign or letters, as €, £, kr or CHF."))
        return sign
