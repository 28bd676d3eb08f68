"""What the manifest shows: every file against the song's lines, its checks, and what was sent."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from pneumen.core.comp import Span
from pneumen.core.send import CHANNELS, delivered_names
from pneumen.core.take import Measurement
from pneumen.core.verdict import Verdict, worst_of
from pneumen.web.kept_rows import as_read
from pneumen.web.part.models import Part
from pneumen.web.send.items import (
    Item,
    dots_of,
    items_of,
    length_of_song,
    own_files,
    parts_of,
    plan_of_song,
    rate_of,
    spans_of,
)
from pneumen.web.send.models import RATES_HZ, Delivery, SendPlan
from pneumen.web.send.services import TOGETHER, changed_since, zip_of
from pneumen.web.song.models import AUDIENCES, Song
from pneumen.wording.figures import clock, figure, kilohertz, size_told
from pneumen.wording.language import _
from pneumen.wording.manifest import (
    CHANNELS as CHANNELS_TOLD,
)
from pneumen.wording.manifest import (
    GOES,
    GOES_ONE,
    MISSING,
    NOTHING,
    ONE_MISSING,
    OTHERS,
    PROBLEMS,
    PROVEN,
    PROVEN_ONE,
    WHO,
    changes_told,
)
from pneumen.wording.takes import advice_on_take

CHECKED: Final = ("clipping", "dropout", "lossy", "silent", "wrong-channels", "too-hot")
"""What of a measurement is said of a file that is to go."""
MOST_HISTORY: Final = 12
SOUNDS_FROM: Final = 0.001


@dataclass(frozen=True, slots=True, kw_only=True)
class ItemShown:
    """One file that may go: its name in the package where it goes, its checks."""

    item: Item
    arrives: str
    verdict: Verdict
    checks: tuple[tuple[Verdict, str], ...]
    told: str


@dataclass(frozen=True, slots=True, kw_only=True)
class DotRow:
    """One line of the song with a dot for each file that sounds in it."""

    when: str
    label: str
    dots: tuple[bool, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class DeliveryShown:
    """A package: how far it is, what it holds, what has changed since."""

    row: Delivery
    state: str
    progress: float
    error: str
    told: str
    proven: str
    files: tuple[tuple[str, str, str], ...]
    findings: tuple[tuple[Verdict, str, str], ...]
    changes: str
    size: str
    is_there: bool
    dots: tuple[DotRow, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class SendScreen:
    """The whole page."""

    sentence: str
    verdict: Verdict
    plan: SendPlan
    key: str
    audience: str
    who: str
    audiences: tuple[tuple[str, str], ...]
    rate_hz: int
    rates: tuple[int, ...]
    items: tuple[ItemShown, ...]
    groups: tuple[tuple[str, tuple[ItemShown, ...]], ...]
    goes: tuple[str, ...]
    hosts: tuple[tuple[str, str], ...]
    dots: tuple[DotRow, ...]
    has_backing: bool
    channels: Mapping[str, str]
    latest: DeliveryShown | None
    history: tuple[DeliveryShown, ...]


def send_verdict(song: Song) -> Verdict:
    """Return how Send stands: open before a package was made, else the worst of what is said of it and its files."""
    package = _package_of(song)
    if package is None:
        return Verdict.OPEN
    return as_read(("send", song.pk), lambda: _judged(package, items_of(song, parts_of(song), plan_of_song(song))))


def _package_of(song: Song) -> Delivery | None:
    return Delivery.objects.filter(song=song).exclude(manifest=None).only("manifest").first()


def _judged(package: Delivery | None, items: Sequence[Item]) -> Verdict:
    if package is None or package.manifest is None:
        return Verdict.OPEN
    said = [Verdict(one["verdict"]) for one in package.manifest["findings"]]
    return worst_of([*said, *(verdict for one in items if one.goes for verdict, _rest in _checks(one))])


def send_screen(part: Part) -> SendScreen:
    """Return what the page shows; it is of the whole song, whichever part one comes from."""
    song, parts = part.song, parts_of(part.song)
    plan = plan_of_song(song)
    items = items_of(song, parts, plan)
    length_s = length_of_song(song, parts)
    going = own_files(items)
    arriving = delivered_names(tuple(one.name for one in going), plan.format)
    names = dict(zip((one.key for one in going), arriving, strict=True))
    shown = tuple(_item(one, names.get(one.into or one.key, "") if one.goes else "") for one in items)
    audience, spans = plan.audience or song.audience, spans_of(parts, length_s)
    deliveries = [_delivery(row, items, spans) for row in song.deliveries.prefetch_related("jobs")[:MOST_HISTORY]]
    return SendScreen(
        sentence=_sentence(going, parts, plan, rate_of(song, plan), length_s),
        verdict=_judged(_package_of(song), items),
        plan=plan,
        key=song.key,
        audience=audience,
        who=WHO[audience],
        audiences=tuple((slug, label) for slug, (label, _rate, _why) in AUDIENCES.items()),
        rate_hz=rate_of(song, plan),
        rates=RATES_HZ,
        items=shown,
        groups=_groups(shown),
        goes=arriving,
        hosts=tuple((one.key, names[one.key]) for one in going if one.part is not None),
        dots=_dots(going, items, spans, length_s),
        has_backing=any(one.key == "backing" for one in items),
        channels={slug: CHANNELS_TOLD[slug] for slug in CHANNELS},
        latest=deliveries[0] if deliveries else None,
        history=tuple(deliveries[1:]),
    )


def _sentence(going: Sequence[Item], parts: Sequence[Part], plan: SendPlan, rate_hz: int, length_s: float) -> str:
    if not going:
        return str(NOTHING)
    length = clock(length_s, 1)
    told = [
        (GOES if len(going) > 1 else GOES_ONE).format(
            count=len(going), length=length, rate=kilohertz(rate_hz), bits=plan.bits
        )
    ]
    there = {one.part.pk for one in going if one.part is not None}
    missing = [part.name for part in parts if part.pk not in there]
    if missing:
        told.append((MISSING if len(missing) > 1 else ONE_MISSING).format(names=", ".join(missing)))
    return " ".join(told)


def _item(one: Item, arrives: str) -> ItemShown:
    checks, told = _checks(one), one.about
    if one.band_ms is not None:
        told = _("{told} Begins at {offset_s} s ±{band_ms:.0f} ms.").format(
            told=told, offset_s=figure(one.offset_s, 3, sign=True), band_ms=one.band_ms
        )
    return ItemShown(
        item=one,
        arrives=arrives,
        verdict=worst_of(verdict for verdict, _rest in checks),
        checks=tuple((verdict, str(text)) for verdict, text in checks),
        told=told,
    )


def _checks(one: Item) -> list[tuple[Verdict, str]]:
    """Return what is to be said of a file: what is wrong with its going along, and what was measured."""
    return [*(PROBLEMS[name] for name in one.problems if one.goes), *_of_measurement(one.measured)]


def _of_measurement(measured: Measurement | None) -> list[tuple[Verdict, str]]:
    if measured is None:
        return []
    found: dict[str, tuple[Verdict, str]] = {}
    for finding in measured.findings:
        if finding.kind in CHECKED:
            found.setdefault(finding.kind, (finding.verdict, advice_on_take(finding)))
    return list(found.values())


def _groups(shown: Sequence[ItemShown]) -> tuple[tuple[str, tuple[ItemShown, ...]], ...]:
    """Return what goes, and beside it what may go too, with the heading it is folded under."""
    rest = tuple(one for one in shown if not one.arrives)
    return (("", tuple(one for one in shown if one.arrives)), (OTHERS.format(count=len(rest)), rest))


def _dots(
    going: Sequence[Item], items: Sequence[Item], spans: Sequence[tuple[str, Span]], length_s: float
) -> tuple[DotRow, ...]:
    lines = [span for _rest, span in spans]
    columns = []
    for host in going:
        inside = [host, *(one for one in items if one.goes and one.into == host.key)]
        columns.append([any(dots) for dots in zip(*(dots_of(one, lines, length_s) for one in inside), strict=True)])
    return tuple(
        DotRow(when=clock(span.start_s, 0), label=label, dots=tuple(column[number] for column in columns))
        for number, (label, span) in enumerate(spans)
    )


def _delivery(row: Delivery, items: Sequence[Item], spans: Sequence[tuple[str, Span]]) -> DeliveryShown:
    job = next(iter(row.jobs.all()), None)
    manifest = row.manifest or {"files": [], "findings": []}
    files = manifest["files"]
    archive = zip_of(row)
    is_there = archive.is_file()
    told = f"{len(row.made_of)} files" if len(row.made_of) != 1 else _("one file")
    length = clock(files[0]["duration_s"], 3) if files else ""
    return DeliveryShown(
        row=row,
        state=job.state if job else "done",
        progress=job.progress if job else 0,
        error=job.error if job else "",
        told=f"{told}{' to ' + row.recipient if row.recipient else ''}: {', '.join(one['name'] for one in row.made_of)}",
        proven=(PROVEN if len(files) > 1 else PROVEN_ONE).format(count=len(files), length=length)
        if files and is_there
        else "",
        files=tuple((one["file"], _level(one), one["sha256"]) for one in files),
        findings=tuple((Verdict(one["verdict"]), one["file"], one["advice"]) for one in manifest["findings"]),
        changes=changes_told(*changed_since(row, items)) if row.manifest else "",
        size=size_told(archive.stat().st_size) if is_there else "",
        is_there=is_there and (row.folder / TOGETHER).is_file(),
        dots=_received(row, spans),
    )


def _level(file: Mapping[str, float | None]) -> str:
    peak = file["sample_peak_dbfs"]
    sides = "mono" if file["channels"] == 1 else "stereo"
    return (
        f"{sides}, silent" if peak is None else _("{sides}, peak {peak} dBFS").format(sides=sides, peak=figure(peak, 1))
    )


def _received(row: Delivery, spans: Sequence[tuple[str, Span]]) -> tuple[DotRow, ...]:
    """Return what sounds in each file as the package itself holds it, second by second, against the song's lines."""
    return tuple(
        DotRow(
            when=clock(span.start_s, 0),
            label=label,
            dots=tuple(
                max(file[int(span.start_s) : int(span.end_s) + 1], default=0) > SOUNDS_FROM for file in row.sounds
            ),
        )
        for label, span in spans
        if row.sounds
    )
