"""Five recorded seconds as answers: a file is measured, what it shows and does not show goes into the search."""

from typing import Final

from pneumen.core.errors import UnreadableFile
from pneumen.core.hookup import Recorded, recorded_signs
from pneumen.core.take import crackles, measure, open_recording
from pneumen.web.audio.services import Sent, received

LONGEST_S: Final = 60.0


def recorded_in(sent: Sent) -> Recorded:
    """Return what a short recording says of complaints; the file is not kept.

    Raises:
        UnreadableFile: where it is no recording, or a long one.
    """
    with received(sent) as incoming:
        with open_recording(incoming.path) as recording:
            if recording.frames > LONGEST_S * recording.sample_rate_hz:
                raise UnreadableFile("it is longer than a minute", "record five seconds in which the fault is heard")
            measured = measure(recording)
        kinds = {one.kind for one in measured.findings}
        if "silent" in kinds:
            return recorded_signs(kinds, measured.checked)
        with open_recording(incoming.path) as recording:
            samples = recording.loudest_channel(LONGEST_S)
            kinds |= {"click"} if crackles(samples, recording.sample_rate_hz) else set()
    return recorded_signs(kinds, {*measured.checked, "click"})
