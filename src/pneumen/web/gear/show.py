"""What the catalogue's pages say: rows that fit a search, and an item's sheet with its effect on the parts."""

from dataclasses import dataclass, replace
from typing import Any, Final
from urllib.parse import urlencode

from django.core.paginator import Page, Paginator
from django.http import QueryDict

from pneumen.core.errors import given
from pneumen.core.forecast import outcome, with_planned_gain
from pneumen.core.gear import INTERFACE_FAMILIES, MICROPHONE_FAMILIES, PATTERNS
from pneumen.core.kit import FACTS, KIND_LABELS, TABLED_BUFFERS, Item, chain_of
from pneumen.web.gear.services import HAVE, marks_of, whole_catalogue
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.wording.figures import MINUS, figure, money
from pneumen.wording.language import _
from pneumen.wording.lengths import far

HAVE_LABELS = dict(zip(HAVE, (_("to buy"), "owned", "borrowed"), strict=True))
ROWS_ON_A_PAGE: Final = 100
SHOWN = (
    ("all", "all"),
    ("owned", _("what is at hand")),
    ("hidden", _("hidden ones")),
    ("changed", _("changed by you")),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    id: str
    name: str
    kind: str
    price: str
    facts: str
    have: str
    hidden: bool
    changed: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ListScreen:
    rows: Page
    found: int
    count: int
    address: str
    query: str
    kind: str
    shown: str
    kinds: tuple[tuple[str, str], ...]
    shown_choices: tuple[tuple[str, str], ...] = SHOWN
    gap: str = str(Paginator.ELLIPSIS)

    @property
    def pages(self) -> list[int | str]:
        """The numbers of the pages near this one and at the ends, with a gap between."""
        paginator = self.rows.paginator
        return list(paginator.get_elided_page_range(self.rows.number))


@dataclass(frozen=True, slots=True, kw_only=True)
class Effect:
    """What a part's chain would be with this item in it, against what it is now."""

    part: str
    told: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ItemScreen:
    item: Item
    kind: str
    price: str
    facts: tuple[tuple[str, str, str], ...]
    inside: tuple[str, ...]
    have: str
    have_choices: tuple[tuple[str, str], ...]
    hidden: bool
    effects: tuple[Effect, ...]


def list_screen(owner: Any, data: QueryDict) -> ListScreen:  # noqa: ANN401 - whichever user model is set
    """Return the catalogue's rows for a search."""
    query, kind, shown = data.get("q", "").strip()[:80], data.get("kind", ""), data.get("shown", "all")
    marks, items = marks_of(owner), whole_catalogue(owner)
    rows = []
    for item in items:
        if kind and item.kind != kind:
            continue
        mark = marks.get(item.id)
        row = Row(
            id=item.id,
            name=item.name,
            kind=KIND_LABELS[item.kind],
            price=money(item.price),
            facts=_short_facts(item),
            have=HAVE_LABELS[mark.have if mark else ""],
            hidden=bool(mark and mark.hidden),
            changed=bool(mark and mark.item),
        )
        if _is_shown(row, shown) and _matches(row, query):
            rows.append(row)
    kinds = tuple((slug, label) for slug, label in KIND_LABELS.items() if any(item.kind == slug for item in items))
    return ListScreen(
        rows=Paginator(rows, ROWS_ON_A_PAGE).get_page(data.get("page")),
        found=len(rows),
        count=len(items),
        address=urlencode({"q": query, "kind": kind, "shown": shown}),
        query=query,
        kind=kind,
        shown=shown,
        kinds=kinds,
    )


def _is_shown(row: Row, shown: str) -> bool:
    return {"owned": row.have != HAVE_LABELS[""], "hidden": row.hidden, "changed": row.changed}.get(shown, True)


def _matches(row: Row, query: str) -> bool:
    text = f"{row.name} {row.kind} {row.facts} {row.id}".lower()
    return all(word in text for word in query.lower().split())


def _short_facts(item: Item) -> str:
    told = [item.family.replace("-", " "), item.pattern, item.tone]
    for name, unit in (
        ("self_noise_dba", "dBA"),
        ("ein_dbu", _("dBu EIN")),
        ("length_m", ""),
        ("reach_m", "high"),
        ("gain_db", "dB"),
    ):
        value = getattr(item, name)
        if value is None:
            continue
        if name.endswith("_m"):
            told.append(f"{far(value, 0 if float(value).is_integer() else 1)} {unit}".strip())
        else:
            told.append(f"{figure(value, 0 if float(value).is_integer() else 1)} {unit}")
    return ", ".join(word for word in told if word)


def item_screen(owner: Any, item_id: str) -> ItemScreen | None:  # noqa: ANN401 - whichever user model is set
    """Return an item's page; None where there is no such item."""
    items = {item.id: item for item in whole_catalogue(owner)}
    item = items.get(item_id)
    if item is None:
        return None
    mark = marks_of(owner).get(item_id)
    return ItemScreen(
        item=item,
        kind=KIND_LABELS[item.kind],
        price=money(item.price),
        facts=tuple(_fact(item, name) for name in FACTS if item.says(name)),
        inside=tuple(KIND_LABELS[part].lower() if part in KIND_LABELS else items[part].name for part in item.in_box),
        have=mark.have if mark else "",
        have_choices=tuple(HAVE_LABELS.items()),
        hidden=bool(mark and mark.hidden),
        effects=tuple(_effects(owner, item)),
    )


UNITS = (
    ("_mv_per_pa", "mV/Pa"),
    ("_db_per_mw", "dB/mW"),
    ("_db_spl", "dB SPL"),
    ("_dbu", "dBu"),
    ("_dba", "dBA"),
    ("_spl_1m_db", "dB SPL"),
    ("_spl_db", "dB SPL"),
    ("_db", "dB"),
    ("_ohm", "ohm"),
    ("_khz", "kHz"),
    ("_hz", "Hz"),
    ("_ms", "ms"),
    ("_samples", "samples"),
    ("_volt", "V"),
    ("_m2", "m²"),
    ("_m", "m"),
)
"""Units by the endings of field names."""


def _fact(item: Item, name: str) -> tuple[str, str, str]:
    """Return a fact's field name, what it means, and its value with its unit."""
    unit = next((unit for ending, unit in UNITS if name.endswith(ending)), "")
    if name == "round_trip_ms":
        pairs = zip(TABLED_BUFFERS, item.round_trip_ms, strict=True)
        return (
            name,
            _("measured round trip at 48 kHz, by buffer"),
            ", ".join(f"{at}: {ms:g}" for at, ms in pairs) + " ms",
        )
    value = getattr(item, name)
    told = far(value, 0 if float(value).is_integer() else 2) if unit == "m" else f"{_value(value)} {unit}".strip()
    return name, FACTS[name].meaning, told


def _value(value: Any) -> str:  # noqa: ANN401 - whatever a fact holds
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, tuple):
        return " ".join(_value(one) for one in value)
    return f"{value:,.10g}".replace("-", MINUS) if isinstance(value, (int, float)) else str(value)


def _effects(owner: Any, item: Item) -> list[Effect]:  # noqa: ANN401 - whichever user model is set
    """Try a microphone or interface out in the chain of every part that is set up."""
    if item.kind not in ("microphone", "interface"):
        return []
    effects = []
    rows = (
        Part.objects.mine(owner)
        .filter(song__put_away_day=None)
        .select_related("song__room", "own_microphone", "own_interface")
    )
    for part in rows:
        told = _told(part, item) if not part.is_plugged else None
        if told:
            effects.append(Effect(part=f"{part.name}, {part.song.name}", told=told))
    return effects


def _told(part: Part, item: Item) -> str | None:
    microphone = item if item.kind == "microphone" else given("microphone", part.microphone)
    interface = item if item.kind == "interface" else part.interface
    if microphone.kind == "recorder" or (microphone.microphone_family.plug != "xlr" and item.kind == "interface"):
        return None
    if microphone.microphone_family.plug == "xlr" and interface is None:
        return None
    boosted = microphone.microphone_family.plug == "xlr" and not microphone.microphone_family.needs_phantom
    now = outcome_of(part)
    chain = chain_of(microphone, interface, part.booster if boosted else None)
    tried = outcome(with_planned_gain(replace(now.setup, chain=chain, gain_db=0.0)))
    change = tried.levels.clean_range_db - now.levels.clean_range_db
    return _("clean range {clean_range_db} dB ({text} dB against now), the {noise_set_by} sets the noise").format(
        clean_range_db=figure(tried.levels.clean_range_db),
        text=figure(change, sign=True) or "0",
        noise_set_by=tried.levels.noise_set_by,
    )


COMMON_FIELDS = (
    ("name", "Name"),
    ("price", "Price"),
    ("delivery", "Delivery"),
    ("in_box", _("In its box")),
    ("note", "Note"),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetField:
    """One field of an item's sheet: its label with the unit, what it holds, what may be chosen, what is wrong."""

    name: str
    label: str
    value: str
    allowed: tuple[str, ...]
    problem: str


def sheet_fields(cells: dict[str, str], faults: dict[str, str]) -> tuple[SheetField, ...]:
    """Return the fields for an item of a kind, as they stand or were typed."""
    kind = cells["kind"]
    facts = [(name, fact) for name, fact in FACTS.items() if not fact.kinds or kind in fact.kinds]
    families = {"microphone": tuple(MICROPHONE_FAMILIES), "interface": tuple(INTERFACE_FAMILIES)}.get(kind, ())
    choices = {"family": families, "pattern": tuple(PATTERNS)}
    labels: list[tuple[str, str, tuple[str, ...]]] = [(name, label, ()) for name, label in COMMON_FIELDS]
    for name, fact in facts:
        unit = next((unit for ending, unit in UNITS if name.endswith(ending)), "")
        allowed = choices.get(name) or (fact.allowed if fact.shape == "text" else ())
        if fact.shape == "yes or no":
            allowed = ("yes", "no")
        labels.append((name, f"{fact.meaning}, {unit}" if unit else fact.meaning, allowed))
    return tuple(
        SheetField(
            name=name,
            label=label[0].upper() + label[1:],
            value=cells.get(name, ""),
            allowed=allowed,
            problem=faults.get(name, "").capitalize(),
        )
        for name, label, allowed in labels
    )
