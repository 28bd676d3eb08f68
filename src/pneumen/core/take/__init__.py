"""What a recorded file holds, and what it teaches about performer, room and chain."""

from pneumen.core.take.correct import Correction, Prediction, correction_from, predict
from pneumen.core.take.findings import Finding, worst_verdict
from pneumen.core.take.measure import Format, Level, Measurement, Noise, measure
from pneumen.core.take.outline import Outline
from pneumen.core.take.recording import Recording, open_recording

__all__ = [
    "Correction",
    "Finding",
    "Format",
    "Level",
    "Measurement",
    "Noise",
    "Outline",
    "Prediction",
    "Recording",
    "correction_from",
    "measure",
    "open_recording",
    "predict",
    "worst_verdict",
]
