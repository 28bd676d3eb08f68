"""What the Part screen asks for: each section, and how the part is recorded."""

from collections.abc import Sequence
from typing import Any

from django.forms import Textarea

from pneumen.core.part import ROLES
from pneumen.web.fields import NumberField, PickField, StepForm, TextField, WholeField
from pneumen.web.part.models import Backing, Section
from pneumen.web.part.services import MOST_WORDS
from pneumen.wording.language import _

ROLE_LABELS = dict(zip(ROLES, ("lead", "backing", _("a double of another")), strict=True))
OF_SECTION = {"name": "name", "bars": "bars", "loud": "loudness_db", "words": "words"}
"""A section's fields on the page, each followed by its id, and what the row calls them."""


class PartForm(StepForm):
    problem_id = "part-problem"

    role = PickField(_("Its role"), ROLE_LABELS)
    doubles = WholeField(_("Doubled how often"))
    session = WholeField(_("Recorded in session"))

    def __init__(self, *args: Any, sections: Sequence[Section], **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["session"].widget.attrs["aria-describedby"] = "session-told"
        for row in sections:
            words = TextField(
                _("Words of {name}").format(name=row.name), most=MOST_WORDS, widget=Textarea(attrs={"rows": 3})
            )
            self.fields |= {
                f"name-{row.pk}": TextField("Name", most=60),
                f"bars-{row.pk}": WholeField("Bars"),
                f"loud-{row.pk}": NumberField("Loudness", unit="dB", signed=True),
                f"words-{row.pk}": words,
            }
        self.emptied = tuple(name for name in self.fields if name.startswith(("name-", "words-")))
        self._sections = sections
        self.remember()

    def sections(self) -> list[dict[str, Any]]:
        """Return the fields of each section, to be shown."""
        return [{"row": row} | {name: self[f"{name}-{row.pk}"] for name in OF_SECTION} for row in self._sections]


class BackingForm(StepForm):
    """A backing track's tempo and where its first bar begins, found by itself until they are typed."""

    problem_id = "backing-problem"
    emptied = ("tempo",)

    tempo = NumberField("Tempo", unit="bpm", decimals=2)
    zero = NumberField(_("Time zero"), unit="s", decimals=3, signed=True)

    @classmethod
    def of(cls, row: Backing | None) -> "BackingForm | None":
        """Return the form as a backing is; None where there is none."""
        return cls(shown={"tempo": row.tempo_bpm, "zero": row.zero_s}) if row else None
