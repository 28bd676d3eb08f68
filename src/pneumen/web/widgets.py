"""The controls of a form, written out at once: a page with seventy of them is not drawn from seventy templates."""

from collections.abc import Iterable, Mapping
from typing import Any

from django.forms.renderers import DjangoTemplates
from django.forms.utils import flatatt
from django.http import HttpRequest
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

INPUTS = frozenset(f"django/forms/widgets/{kind}.html" for kind in ("text", "number", "hidden", "checkbox", "email"))
SELECT = "django/forms/widgets/select.html"
TEXTAREA = "django/forms/widgets/textarea.html"


class QuickRenderer(DjangoTemplates):
    """Django's renderer of forms, which writes the plain controls itself, as Django's own templates would."""

    def render(self, template_name: str, context: dict[str, Any], request: HttpRequest | None = None) -> str:
        if template_name in INPUTS:
            return _input(context["widget"])
        if template_name == SELECT:
            return _select(context["widget"])
        if template_name == TEXTAREA:
            return _textarea(context["widget"])
        return super().render(template_name, context, request)


def _input(widget: Mapping[str, Any]) -> SafeString:
    value = "" if widget["value"] is None else format_html(' value="{}"', widget["value"])
    return format_html(
        '<input type="{}" name="{}"{}{}>', widget["type"], widget["name"], value, flatatt(widget["attrs"])
    )


def _textarea(widget: Mapping[str, Any]) -> SafeString:
    # A browser drops the first line break, so that what is written begins behind it.
    return format_html(
        '<textarea name="{}"{}>\n{}</textarea>', widget["name"], flatatt(widget["attrs"]), widget["value"] or ""
    )


def _select(widget: Mapping[str, Any]) -> SafeString:
    groups = (
        format_html('<optgroup label="{}">{}</optgroup>', name, _options(options)) if name else _options(options)
        for name, options, _rest in widget["optgroups"]
    )
    inside = format_html_join("", "{}", ((group,) for group in groups))
    return format_html("<select{}>{}</select>", flatatt({"name": widget["name"], **widget["attrs"]}), inside)


def _options(options: Iterable[Mapping[str, Any]]) -> SafeString:
    rows = ((flatatt({"value": one["value"], **one["attrs"]}), one["label"]) for one in options)
    return format_html_join("", "<option{}>{}</option>", rows)
