"""Template filters and tags: figures, glyphs."""

import math

from django import template
from django.forms import BoundField, Select
from django.utils.html import format_html
from django.utils.safestring import SafeString

from pneumen.core.verdict import Verdict
from pneumen.web.fields import LengthField, StepForm
from pneumen.web.figures import Figures
from pneumen.wording import figures as written
from pneumen.wording import lengths
from pneumen.wording.figures import habits
from pneumen.wording.language import _

register = template.Library()
register.filter("figure", written.figure)
register.filter("kilohertz", written.kilohertz)
for spelling in (lengths.near, lengths.far, lengths.near_field, lengths.far_field):
    register.filter(spelling.__name__, spelling)
register.filter("size", written.size_told)
register.filter("money", written.money)


@register.simple_tag
def near_unit() -> str:
    return lengths.near_unit()


@register.simple_tag
def far_unit() -> str:
    return lengths.far_unit()


@register.simple_tag
def drag(px_per_unit: float, units: float = 1.0, step: float = 1.0) -> SafeString:
    """How a handle moves its value: so much a pixel, and so much for a press of a key.

    Args:
        px_per_unit: how far it goes on the paper for a unit of the picture; negative where it counts the other way.
        units: so many of the field's own are one of the picture's.
        step: of a key, in the picture's units.
    """
    per_px, pressed = units / px_per_unit, step * units * math.copysign(1, px_per_unit)
    return format_html('data-per-px="{}" data-step="{}"', f"{per_px:.6g}", f"{pressed:.6g}")


@register.simple_tag
def drag_distance(px_per_db: float) -> SafeString:
    """How a handle moves a distance: by a ratio, so that as many decibels are as far anywhere (6.02 dB a doubling)."""
    per_px, pressed = 10 ** (-1 / (20 * px_per_db)), 10 ** (-math.copysign(1, px_per_db) / 20)
    return format_html('data-law="ratio" data-per-px="{}" data-step="{}"', f"{per_px:.8g}", f"{pressed:.8g}")


@register.inclusion_tag("components/written.html")
def lengths_written(form: StepForm) -> dict[str, object]:
    """The lengths of a form as their reader measures: a drag can only say what they are in metric."""
    lengths_of = [field for field in form if isinstance(field.field, LengthField)] if habits.get().feet else []
    return {"fields": lengths_of}


@register.filter
def cm(length_m: float) -> str:
    """A length for a slider or a hidden field's number: those are metric whatever is read."""
    return px(100 * length_m)


@register.filter
def signed(value: float, decimals: int = 0) -> str:
    return written.figure(value, decimals, sign=True)


@register.filter
def px(value: float) -> SafeString:
    """A coordinate: a tenth of a pixel is enough. A picture has hundreds, and a number has nothing to escape."""
    return SafeString(f"{value:.1f}".rstrip("0").rstrip("."))


@register.filter
def minus(value: float, other: float) -> float:
    return value - other


@register.filter
def half(value: float) -> str:
    return px(value / 2)


@register.filter
def shade(strength: float) -> str:
    """How dark a step of room sound is drawn: never so dark that words over it cannot be read."""
    return f"{0.06 + 0.34 * strength:.2f}"


@register.filter
def strip_shade(strength: float) -> str:
    return f"{0.05 + 0.6 * strength:.2f}"


@register.filter
def words(text: str) -> list[str]:
    return text.split()


@register.filter
def verdict_label(verdict: Verdict) -> str:
    return written.verdict_words(verdict)


@register.filter
def planned_label(verdict: Verdict) -> str:
    """The verdict of what is not recorded yet."""
    return written.verdict_words(verdict, before=True)


@register.filter
def item(mapping: dict, key: str) -> object:
    return mapping.get(key)


GLYPHS = {
    Verdict.CLEAR: '<circle cx="10" cy="10" r="6.5" fill="none" stroke="currentColor" stroke-width="2.25"/>',
    Verdict.WATCH: '<circle cx="10" cy="10" r="6.5" fill="none" stroke="currentColor" stroke-width="2"/>'
    '<path d="M10 3.5a6.5 6.5 0 0 1 0 13z" fill="currentColor"/>',
    Verdict.MENDABLE: '<circle cx="10" cy="10" r="6.5" fill="none" stroke="currentColor" stroke-width="2.25"'
    ' stroke-dasharray="4.6 2.2"/>',
    Verdict.BAKED_IN: '<path d="M3.5 3.5h8v5h5v8h-13z" fill="currentColor"/>',
    Verdict.STOP: '<path d="M10 2l8 8-8 8-8-8z" fill="currentColor"/><path class="glyph-bar" d="M6.5 10h7"/>',
    Verdict.OPEN: '<circle cx="10" cy="10" r="2.75" fill="currentColor"/>',
}


@register.simple_tag
def glyph(verdict: Verdict, size: int = 18) -> SafeString:
    """Draw a verdict's glyph; its word always stands beside it, so it is hidden from assistive technology."""
    drawing = SafeString(GLYPHS[verdict])
    return format_html(
        '<svg class="glyph v-{}" width="{}" height="{}" viewBox="0 0 20 20" aria-hidden="true">{}</svg>',
        verdict,
        size,
        size,
        drawing,
    )


@register.simple_tag
def marked(figures: Figures | None, name: str, text: str) -> str:
    """Write a figure so that anyone can gather it; plain text where it is only tried out, or does not exist."""
    if figures is None or name not in figures.values:
        return text
    return format_html(
        '<data data-figure="{}" data-part="{}" value="{}">{}</data>',
        name,
        figures.part_id,
        repr(figures.values[name]),
        text,
    )


ORIGINS = {"": _("planned, follows changes"), "yours": _("yours"), "take": _("as in the last take")}


@register.simple_tag
def origin(who: str) -> str:
    """Say who set a value."""
    return ORIGINS[who]


@register.simple_tag
def attached(field: BoundField) -> SafeString:
    """Write a field that stands outside its form, with its label for those who hear the page."""
    told = getattr(field.field, "unit", "")
    unit = f", {told}" if told else ""
    how: dict[str, str | bool] = {"form": "settings", "aria-label": f"{field.label}{unit}"}
    classes = field.field.widget.attrs
    classes["class"] = "w-auto" if isinstance(field.field.widget, Select) else "short"
    return field.as_widget(attrs=how) + field.as_hidden(attrs={"form": "settings"}, only_initial=True)


@register.inclusion_tag("components/slider.html")
def slider(field: str, low: float, high: float, now: float, step: float = 1, **how: object) -> dict[str, object]:
    """The range behind a field: what handles of the pictures move and the script reads.

    Args:
        how: unit (near or far, where the field is a length: with feet a drag writes the metric unit along
            until the server has answered in theirs), per (so many of the range's units make one
            of the handle's), less (what the field leaves out of it), turns (where it begins anew).
    """
    metric = {"near": " cm", "far": " m"}
    how["suffix"] = metric.get(str(how.get("unit", "")), "") if habits.get().feet else ""
    return {"field": field, "low": px(low), "high": px(high), "now": now, "step": step} | how
