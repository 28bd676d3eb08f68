"""Controls written out at once are the ones Django's own templates would make."""

from django import forms
from django.forms.renderers import DjangoTemplates
from django.test import SimpleTestCase

from pneumen.web.widgets import QuickRenderer

ODD = "<b>\"&'</b>"


class Asked(forms.Form):
    words = forms.CharField(widget=forms.TextInput(attrs={"autocomplete": "off", "class": "x y"}), initial=ODD)
    empty = forms.CharField(required=False, show_hidden_initial=True)
    on = forms.BooleanField(initial=True, show_hidden_initial=True)
    off = forms.BooleanField(initial=False, required=False)
    one = forms.ChoiceField(choices=[("", "none"), (ODD, ODD), ("3", "three")], initial=ODD)
    group = forms.ChoiceField(choices=[(ODD, [("1", "first"), ("2", ODD)]), ("3", "alone")], initial="2")
    number = forms.IntegerField(initial=3, min_value=0)
    prose = forms.CharField(widget=forms.Textarea(attrs={"rows": 2}), initial=f"\n{ODD}\ntwo lines")
    blank = forms.CharField(widget=forms.Textarea(), required=False)


class Controls(SimpleTestCase):
    def test_each_is_what_djangos_templates_make(self):
        own, theirs = Asked(renderer=QuickRenderer()), Asked(renderer=DjangoTemplates())
        for name in own.fields:
            with self.subTest(name):
                self.assertHTMLEqual(str(own[name]), str(theirs[name]))
