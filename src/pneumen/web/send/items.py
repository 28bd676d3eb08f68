"""Which files of a song go out: the track of each part, or whole takes, and the backing if it is wanted."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Final

from django.db import transaction

from pneumen.core.comp import Span, levels_in_song, sounding, sounds_in
from pneumen.core.errors import OutOfRange, UnknownName
from pneumen.core.send import CHANNELS, Also, Pack, SendFile
from pneumen.core.take import BITS, FORMATS, Measurement, PeakTrace
from pneumen.web.audio.models import AudioFile
from pneumen.web.comp.ground import offsets_of, song_length_s, takes_on_sheet
from pneumen.web.comp.models import CompTrack, SheetLine
from pneumen.web.comp.track import is_fresh, plan_of
from pneumen.web.comp.track_show import lineage_told
from pneumen.web.kept_rows import as_read
from pneumen.web.part.models import Backing, Part
from pneumen.web.send.models import RATES_HZ, SendItem, SendPlan
from pneumen.web.song.models import AUDIENCES, Song
from pneumen.web.take.models import Layer, Take
from pneumen.wording.language import _
from pneumen.wording.manifest import BACKING, TIGHTENED, comp_about, recorded_told, take_about

SPAN_S: Final = 10.0
"""Where a song has no lines, its manifest goes by so many seconds."""
MOST_LISTED: Final = 20
"""So many takes of a part are listed; with the marks of the log one has chosen among more."""
MOST_SPANS: Final = 200
STEREO_FOR: Final = ("audition", "classical")
"""Who gets stereo where the others get mono: one file as it is heard."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Item:
    """One file that may go along.

    key is `track:PART`, `take:TAKE` or backing; problems are keys of what is worded as what is wrong with it.
    """

    key: str
    part: Part | None
    take: Take | None
    goes: bool
    name: str
    channels: str
    audio: AudioFile
    offset_s: float
    band_ms: float | None
    about: str
    source: str
    measured: Measurement | None
    trace: PeakTrace | None
    problems: tuple[str, ...]
    drift_ppm: float | None = None
    into: str = ""


def plan_of_song(song: Song) -> SendPlan:
    return SendPlan.objects.filter(song=song).first() or SendPlan(owner=song.owner, song=song)


def parts_of(song: Song) -> list[Part]:
    rows = Part.objects.whole().filter(song=song).order_by("position", "pk")
    return as_read((_("whole parts"), song.pk), lambda: list(rows))


def items_of(song: Song, parts: Sequence[Part], plan: SendPlan) -> list[Item]:
    """Return every file that may go along, in the order of the parts; the backing last."""
    said = {(row.part_id, row.take_id): row for row in SendItem.objects.filter(part__song=song)}
    found: list[Item] = []
    for part in parts:
        found += _items_of_part(part, said, stereo=(plan.audience or song.audience) in STEREO_FOR)
    backing = Backing.objects.filter(song=song).select_related("audio").first()
    if backing is not None:
        found.append(_backing(backing, goes=plan.with_backing))
    # What goes into a file that does not go, or goes into another itself, is a file of its own.
    hosts = {one.key for one in found if one.goes and not one.into}
    found = [one if one.into in hosts and one.into != one.key else replace(one, into="") for one in found]
    times = Counter(one.audio.pk for one in found if one.goes)
    return [
        replace(one, problems=(*one.problems, "doubled")) if one.goes and times[one.audio.pk] > 1 else one
        for one in found
    ]


def _name_of(part: Part, take: Take, layer: Layer | None) -> str:
    if layer:
        return f"{part.name} {layer.kind.replace('-', ' ')}"
    return _("{name} take {number}").format(name=part.name, number=take.number)


def _items_of_part(part: Part, said: Mapping[tuple[int, int | None], SendItem], *, stereo: bool) -> Iterable[Item]:
    heard = takes_on_sheet(part, heard=True, set_up=True)
    takes = _to_list(heard, {take_id for (part_id, take_id), row in said.items() if part_id == part.pk and row.goes})
    offsets = offsets_of(part, takes)
    track = CompTrack.objects.filter(part=part).exclude(audio=None).select_related("audio").first()
    layers = {
        layer.take_id: layer
        for layer in Layer.objects.filter(part=part).exclude(take=None).select_related("track__audio")
    }
    # Once its person has said which takes go, a new one goes only when they say so.
    asked = any(part_id == part.pk for part_id, _rest in said)
    usual = None if track is not None or asked else _usual_take(takes)
    channels = CHANNELS[0]
    if track is not None and track.audio is not None:
        row = said.get((part.pk, None))
        problems = [] if is_fresh(track, plan_of(part, track)) else ["stale"]
        problems += [] if track.listened else ["not-listened"]
        yield Item(
            key=f"track:{part.pk}",
            part=part,
            take=None,
            goes=row.goes if row else True,
            name=(row.name if row else "") or part.name,
            channels=row.channels if row else channels,
            into=row.into if row else "",
            audio=track.audio,
            offset_s=0.0,
            band_ms=None,
            about=comp_about(lineage_told(track), _hows(track, heard)),
            source=track.made_of,
            measured=track.to_core(),
            trace=track.trace,
            problems=tuple(problems),
        )
    for take, offset in zip(takes, offsets, strict=True):
        if take.audio is None:
            continue
        row, layer = said.get((part.pk, take.pk)), layers.get(take.pk)
        tight = getattr(layer, "track", None) if layer else None
        name = _name_of(part, take, layer)
        marked = any((take.rhythm, take.feeling, take.pitch, take.remark))
        yield Item(
            key=f"take:{take.pk}",
            part=part,
            take=take,
            goes=row.goes if row else (layer is not None and layer.kind != "lead") or take == usual,
            name=(row.name if row else "") or name,
            channels=row.channels if row else channels,
            into=row.into if row else "",
            audio=tight.audio if tight and tight.audio else take.audio,
            offset_s=0.0 if tight and tight.audio else offset.offset_s,
            band_ms=None if tight and tight.audio else offset.band_ms,
            about=f"{_about(take)} {TIGHTENED}" if tight and tight.audio else _about(take),
            source=tight.made_of if tight and tight.audio else take.audio.checksum,
            measured=take.to_core(),
            trace=take.trace,
            problems=() if marked else ("not-listened",),
            drift_ppm=None if tight and tight.audio else offset.drift_ppm,
        )


def _to_list(takes: Sequence[Take], chosen: set[int | None]) -> list[Take]:
    """Return the newest of a part's takes, and older ones that go."""
    newest = {take.pk for take in takes[-MOST_LISTED:]}
    return [take for take in takes if take.pk in newest or take.pk in chosen]


def _usual_take(takes: Sequence[Take]) -> Take | None:
    """Return the take that goes where no track is made: the newest of those nothing ruined, or else the newest."""
    whole = [take for take in takes if take.judged != "baked-in"]
    candidates = whole or takes
    return candidates[-1] if candidates else None


def _backing(backing: Backing, *, goes: bool) -> Item:
    return Item(
        key="backing",
        part=None,
        take=None,
        goes=goes,
        name="Backing",
        channels=CHANNELS[0],
        audio=backing.audio,
        offset_s=-backing.zero_s,
        band_ms=None,
        about=BACKING.format(name=backing.original_name),
        source=backing.audio.checksum,
        measured=None,
        trace=None,
        problems=(),
    )


def _about(take: Take) -> str:
    return take_about(take.number, _how(take))


def _hows(track: CompTrack, takes: Sequence[Take]) -> dict[int, str]:
    """Return how each take of a track was recorded, by its number, as far as it is still there."""
    used = {one["take"] for one in track.lineage}
    return {take.number: _how(take) for take in takes if take.number in used}


def _how(take: Take) -> str:
    gain_db = take.gain_db if take.snapshot.get("gain_marking") == "db" else None
    return recorded_told(take.settings.gear, take.settings.distance_m, gain_db, simulated=take.simulated)


def length_of_song(song: Song, parts: Sequence[Part]) -> float:
    """Return how long every file becomes: the song, as its longest part tells it."""
    lengths = []
    for part in parts:
        takes = takes_on_sheet(part)
        lengths.append(song_length_s(part, takes, offsets_of(part, takes)))
    return max(lengths, default=1.0)


def pack_of(song: Song, plan: SendPlan, items: Sequence[Item], length_s: float) -> Pack:
    """Return the delivery of what goes.

    Raises:
        BadDocument: where nothing goes.
    """
    backing = Backing.objects.filter(song=song).first()
    return Pack(
        song=song.name,
        rate_hz=rate_of(song, plan),
        bits=plan.bits,
        length_s=round(length_s, 6),
        tempo_bpm=backing.tempo_bpm if backing else None,
        format=plan.format,
        note=plan.note,
        key=song.key,
        files=tuple(_send_file(one, items) for one in own_files(items)),
    )


def own_files(items: Sequence[Item]) -> list[Item]:
    """Return what goes as a file of its own, and not into another."""
    return [one for one in items if one.goes and not one.into]


def _send_file(item: Item, items: Sequence[Item]) -> SendFile:
    more = [one for one in items if one.goes and one.into == item.key]
    return SendFile(
        name=item.name,
        file=item.audio.checksum,
        offset_s=item.offset_s,
        channels=item.channels,
        drift_ppm=item.drift_ppm,
        about=" ".join([_told(item), *(_("With {name}: {one}").format(name=one.name, one=_told(one)) for one in more)]),
        also=tuple(Also(file=one.audio.checksum, offset_s=one.offset_s, drift_ppm=one.drift_ppm) for one in more),
    )


def _told(item: Item) -> str:
    if item.band_ms is None:
        return item.about
    return _("{about} It lies in the song to ±{band_ms:.0f} ms.").format(about=item.about, band_ms=item.band_ms)


def rate_of(song: Song, plan: SendPlan) -> int:
    """Return the rate of the delivery: by hand, or whom it is for."""
    return plan.rate_hz or AUDIENCES[plan.audience or song.audience][1]


def spans_of(parts: Sequence[Part], length_s: float) -> list[tuple[str, Span]]:
    """Return what the manifest goes by: the lines of the part that has most of them, or every ten seconds."""
    rows: list[SheetLine] = []
    for part in parts:
        lines = [line for line in part.sheet_lines.all() if line.start_s is not None]
        rows = lines if len(lines) > len(rows) else rows
    if rows:
        return [
            (
                line.words or _("Phrase {number}").format(number=number),
                Span(start_s=line.start_s or 0.0, end_s=line.end_s or 0.0),
            )
            for number, line in enumerate(rows, start=1)
        ]
    count = min(MOST_SPANS, max(1, round(length_s / SPAN_S)))
    step = length_s / count
    return [("", Span(start_s=number * step, end_s=(number + 1) * step)) for number in range(count)]


def dots_of(item: Item, spans: Sequence[Span], length_s: float) -> tuple[bool, ...]:
    """Return in which stretches a file sounds."""
    if item.trace is None:
        return (True,) * len(spans) if item.key == "backing" else (False,) * len(spans)
    levels = levels_in_song(item.trace, offset_s=item.offset_s, length_s=length_s)
    return sounds_in(sounding(levels), spans)


@transaction.atomic
def keep_plan(song: Song, sent: Mapping[str, Any]) -> SendPlan:
    """Store how a song is to be sent.

    Raises:
        UnknownName, OutOfRange: naming what cannot be.
    """
    plan = plan_of_song(song)
    audience, rate, bits = sent.get("audience", ""), sent.get("rate_hz", ""), sent.get("bits", str(plan.bits))
    known = {"audience": (audience, ("", *AUDIENCES)), "format": (sent.get("format", plan.format), tuple(FORMATS))}
    known |= {"rate": (rate, ("", *map(str, RATES_HZ))), "depth": (bits, tuple(map(str, BITS)))}
    for name, (value, allowed) in known.items():
        if value not in allowed:
            raise UnknownName(name, value, allowed)
    limits = {"recipient": 120, "note": 4000, "key": 20}
    for name, most in limits.items():
        if len(sent.get(name, "")) > most:
            raise OutOfRange(name, len(sent[name]), _("at most {most} letters").format(most=most))
    plan.audience, plan.rate_hz, plan.bits = audience, int(rate) if rate else None, int(bits)
    plan.format, plan.with_backing = sent.get("format", plan.format), "with_backing" in sent
    plan.recipient, plan.note = sent.get("recipient", "").strip(), sent.get("note", "").strip()
    plan.save()
    song.key = sent.get("key", song.key).strip()
    song.save(update_fields=["key"])
    return plan


@transaction.atomic
def keep_items(song: Song, items: Sequence[Item], sent: Mapping[str, Any]) -> None:
    """Store which files go, under which names, with how many channels.

    Raises:
        UnknownName, OutOfRange: naming what cannot be.
    """
    keys = [one.key for one in items]
    for one in items:
        if one.part is None:
            continue
        name, channels = sent.get(f"name-{one.key}", one.name).strip(), sent.get(f"channels-{one.key}", one.channels)
        if channels not in CHANNELS:
            raise UnknownName("channels", channels, CHANNELS)
        if len(name) > 120:
            raise OutOfRange("name", len(name), _("at most 120 letters"))
        into = sent.get(f"into-{one.key}", "")
        if into and into not in keys:
            raise UnknownName(_("file to go into"), into, tuple(keys))
        SendItem.objects.update_or_create(
            part=one.part,
            take=one.take,
            defaults={
                "owner": song.owner,
                "goes": f"goes-{one.key}" in sent,
                "name": name,
                "channels": channels,
                "into": into,
            },
        )
