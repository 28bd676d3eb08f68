"""Sound as an answer: samples as a file to download."""

import io

import numpy as np
import soundfile
from django.http import HttpResponse

from pneumen.wording.language import _


def wav_answer(samples: np.ndarray, sample_rate_hz: int, name: str) -> HttpResponse:
    """Return samples as a 24-bit WAV file to download."""
    out = io.BytesIO()
    soundfile.write(out, samples, sample_rate_hz, format="WAV", subtype="PCM_24")
    answer = HttpResponse(out.getvalue(), content_type="audio/wav")
    answer["Content-Disposition"] = _('attachment; filename="{name}"').format(name=name)
    return answer
