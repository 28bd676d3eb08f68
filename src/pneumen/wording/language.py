"""The language of the sentences, through gettext: English is what stands in the source, and the only one so far."""

from gettext import translation
from pathlib import Path

_ = translation("pneumen", Path(__file__).with_name("locale"), fallback=True).gettext
