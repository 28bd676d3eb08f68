"""Five recorded seconds as answers: a file is measured, what it shows and does not show goes into the search."""

from typing import Final

from pneumen.core.errors import UnreadableFile
from pneumen.core.hookup import Recorded, recorded_signs
from pneumen.core.take import crackles, measure, open_recording
from pneumen.web.audio.services import Sent, received
from pneumen.wording.language import _

LONGEST_S: Final = 60.0


def recorded_in(sent: Sent) -> Recorded:
    """Return what a short recording says of complaints; the file is not kept.

    Raises:
        UnreadableFile: where it is no recording, or a long one.
    """
    with received(sent) as incoming, open_recording(incoming.path) as recording:
        if recording.frames > LONGEST_S * recording.sample_rate_hz:
            raise UnreadableFile(_("it is longer than a minute"), _("record five seconds in which the fault is heard"))
        measured = measure(recording)
    kinds = [one.kind for one in measured.findings]
    found = set(kinds) if crackles(kinds.count("click")) else set(kinds) - {"click"}
    return recorded_signs(found, measured.checked)
