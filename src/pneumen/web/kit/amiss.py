"""What a song asks for and does not get as it is set up, in the sentence that Start and Kit begin with."""

from pneumen.core.errors import given
from pneumen.web.kit.services import in_mono, misfits_in, without_a_second
from pneumen.web.song.models import Song
from pneumen.wording.order import one_channel_told, second_told
from pneumen.wording.room import misfits_told


def amiss_told(song: Song, *, set_up: bool = True) -> str:
    """Say what does not fit into the room and, of the song as it is set up, what is in mono against its wish."""
    told = [misfits_told([part.source_facts for part in misfits_in(song)], song.room.size_m)]
    if set_up:
        told += [one_channel_told(part.name, given("device", part.devices[0]).name) for part in in_mono(song)]
        told += [second_told(part.name, given("device", part.microphone).name) for part in without_a_second(song)]
    return " ".join(filter(None, told))
