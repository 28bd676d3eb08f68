"""Random songs for laws that hold for all: every source, family, kind of room and route, with takes and without."""

import re

import msgspec
import numpy as np
from django.contrib.auth import get_user_model

from pneumen.core.gear import INTERFACE_FAMILIES, MICROPHONE_FAMILIES
from pneumen.core.kit import ROUTES, built_in_catalogue
from pneumen.core.levels import FULL_SCALE_SINE_RMS_DB
from pneumen.core.line import levels_of
from pneumen.core.part import LOUDNESSES, SOURCES
from pneumen.core.room import FURNISHINGS, NOISES, SIZES
from pneumen.core.setup import setup_from_object
from pneumen.core.take import Correction, Measurement
from pneumen.web.gain.services import freeze
from pneumen.web.gear.services import set_mark
from pneumen.web.job.models import Job
from pneumen.web.kit.services import keep_options
from pneumen.web.part.models import Part
from pneumen.web.room import furnish
from pneumen.web.room import services as room_services
from pneumen.web.song.services import add_part, create_song
from pneumen.web.start.forms import StartForm
from pneumen.web.start.services import save_answers
from pneumen.web.take.lessons import learn_from
from pneumen.web.take.models import Take
from pneumen.web.take.snapshot import snapshot_of

STEPS = ("start", "part", "kit", "room", "hookup", "place", "gain", "takes")
SMALL = ("headphones", "phones-adapter", "software")
FIGURE = re.compile(r'<data data-figure="([a-z0-9_]+)" data-part="(\d+)" value="([^"]+)">([^<]*)</data>')


def random_song(seed):
    """Return the parts of a song made as its person would: answered on Start, perhaps drawn, perhaps with a take."""
    rng = np.random.default_rng(seed)
    owner = get_user_model().objects.get_or_create(username=f"player-{seed}")[0]

    def one_of(names):
        return str(rng.choice(list(names)))

    song = create_song(owner, f"Song {seed}")
    sources = list(SOURCES)
    wanted = [sources[seed % len(sources)], *(one_of(sources) for _ in range(int(rng.integers(0, 2))))]
    parts = [song.parts.first(), *(add_part(owner, song, source) for source in wanted[1:])]
    for part, source in zip(parts, wanted, strict=True):
        answer(
            part,
            source=source,
            loudness=one_of(LOUDNESSES),
            budget=str(int(rng.choice([0, 50, 150, 400, 900]))),
            route=one_of(ROUTES),
            microphone=one_of(("none", "none", *MICROPHONE_FAMILIES)),
            usb_gain=one_of(("none", "bare")),
            interface=one_of(("none", *INTERFACE_FAMILIES)),
            size=one_of(SIZES),
            furnishing=one_of(FURNISHINGS),
            noise=one_of(NOISES),
            owned=[name for name in SMALL if rng.random() < 0.5],
            standing="on" if rng.random() < 0.6 else "",
        )
    if rng.random() < 0.3:
        _own_something(song, rng)
    if rng.random() < 0.5:
        _draw(fresh(parts[0]), rng)
    if rng.random() < 0.5:
        learn_from_a_take(fresh(parts[0]), rng)
    return [fresh(part) for part in parts]


def fresh(part):
    return Part.objects.whole().get(pk=part.pk)


def answer(part, **changes):
    """Answer Start as a plain submit does."""
    part = fresh(part)
    sent = {name: value for name, value in StartForm(part).initial.items() if value is not None}
    units = {"sensitivity_unit": "mv", "own_noise_unit": "self", "ein_unit": "a", "usb_gain": "none", "pattern": ""}
    form = StartForm(part, units | sent | changes)
    assert form.is_valid(), form.errors
    save_answers(part, form.cleaned_data)


def _own_something(song, rng):
    """Mark a device of the catalogue as owned, and have the song planned with it."""
    kinds = ("recorder", "microphone", "interface")
    items = [item for item in built_in_catalogue() if item.kind in kinds]
    set_mark(song.owner, items[int(rng.integers(len(items)))].id, have="owned")
    keep_options(song, {"budget": song.budget})


def _draw(part, rng):
    """Change the room by hand: something to hang, something that stands, a noise, another place to stand."""
    room = part.song.room
    room_services.add_covering(room, label="", material="duvet", width_m=1.4, height_m=2.0)
    at = {"x_m": 0.3, "y_m": 0.3, "z_m": 0.3}
    room_services.add_noise(room, name="fan", level_dba=45.0, from_hour=0.0, to_hour=24.0, spectrum="even", **at)
    if rng.random() < 0.5 and room.size_x_m > 3:
        furnish.add_furniture(room, "armchair")
    if rng.random() < 0.5:
        at = {"x_m": room.size_x_m * rng.uniform(0.2, 0.8), "y_m": room.size_y_m * rng.uniform(0.2, 0.8)}
        room_services.stand(fresh(part), **{name: round(value, 2) for name, value in at.items()}, facing_deg=90.0)


def learn_from_a_take(part, rng):
    """Let a take be measured that was a little louder and noisier than believed, without making its sound."""
    take = Take.objects.create(owner=part.owner, part=part, number=1, original_name="take.wav", snapshot={})
    Job.objects.create(owner=part.owner, target=take, state=Take.DONE)
    freeze(part)
    take.snapshot = snapshot_of(part)
    louder = float(rng.uniform(-5, 5))
    setup, _ = setup_from_object(take.snapshot["setup"])
    levels = levels_of(setup)
    marking = take.snapshot["gain_marking"]
    correction = Correction(
        level_offset_db=louder,
        level_band_db=1.5,
        absolute=marking != "bare",
        source=setup.source.shifted(peak_db=louder, typical_db=louder, quiet_db=louder),
        source_band_db=2.0,
        room_noise_dba=None if part.is_plugged else setup.room_noise_dba + float(rng.uniform(-4, 4)),
        room_band_db=2.0,
        room_is_bound=False,
        lower_bound=False,
        caveats=(),
    )
    peak = levels.peak_dbfs + louder
    found = measured(peak, levels.typical_dbfs + louder, levels.noise_dbfs)
    take.judge(msgspec.convert(found, Measurement))
    take.peaks, take.peak_s = bytes([200] * 40), 0.1
    take.correction, take.recorded = msgspec.to_builtins(correction), {}
    take.save()
    learn_from(take, part)


def measured(peak_dbfs, typical_dbfs, noise_dbfs):
    """Return a measurement as it is stored, of a clean take with these levels."""
    return {
        "file": "take.wav",
        "format": {
            "container": "WAV",
            "encoding": "PCM_24",
            "sample_rate_hz": 48_000,
            "channels": 1,
            "duration_s": 4.0,
            "truncated": False,
        },
        "level": {
            "sample_peak_dbfs": min(peak_dbfs, 0.0),
            "true_peak_dbtp": min(peak_dbfs, 0.0),
            "rms_dbfs": typical_dbfs + FULL_SCALE_SINE_RMS_DB,
            "active_rms_dbfs": typical_dbfs,
            "loudness_lufs": typical_dbfs,
            "loudest_3s_lufs": typical_dbfs,
            "crest_db": peak_dbfs - typical_dbfs,
        },
        "noise": {
            "floor_dbfs": noise_dbfs + 5,
            "floor_dbfs_a": noise_dbfs,
            "clean_range_db": typical_dbfs - noise_dbfs,
        },
        "dc_offset": 0.0,
        "channels_say": "mono",
        "findings": [],
        "verdict": "clear",
    }


def verdicts_on(page):
    """Return the verdict a page begins with (None without one), and that of every step in its thread, by slug."""
    own = re.search(r'<p class="verdict"[^>]*>.*?<b class="v-([a-z-]+)">', page, re.DOTALL)
    thread = re.findall(r'data-step="([a-z]+)".*?<span class="says v-([a-z-]+)">', page, re.DOTALL)
    return own and own[1], dict(thread)


def figures_on(html):
    """Return every marked figure of a page: (part, name) to the set of its values."""
    found = {}
    for name, part, value, shown in FIGURE.findall(html):
        assert shown.strip(), f"{name} of part {part} shows nothing"
        found.setdefault((int(part), name), set()).add(float(value))
    return found
