"""pneumen kit NEEDS.json: every complete kit within the money that no other beats."""

import math
import sys
from collections import Counter
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from pneumen.cli.common import Parser, fail, ignored_key, in_words, plain, print_json, print_rows, read_document, told
from pneumen.core.errors import BadDocument, NothingFits, PneumenError, UnknownName
from pneumen.core.kit import (
    DEAREST,
    ENOUGH,
    Enough,
    Item,
    Kit,
    KitLine,
    Needs,
    OwnedGear,
    Plan,
    Purchase,
    RoomNeed,
    Textile,
    built_in_catalogue,
    buying_order,
    catalogue_from_file,
    catalogue_to_csv,
    findings_of_kit,
    owned_gear,
    part_need,
    plan_kits,
)
from pneumen.core.part import FORMATS, SOURCES, Source, guessed_levels
from pneumen.core.reader import decode_object, read_as, unknown_keys
from pneumen.core.setup import SourceLevels
from pneumen.wording.kit import BRINGS, advice_on_kit, reason_for, why_nothing_fits
from pneumen.wording.language import _
from pneumen.wording.order import meanwhile

DESCRIPTION = _("""Every complete kit within the money that no other beats, dearest first, and which to take.

NEEDS.json holds:
  budget          money there is, in the currency of the prices
  parts           [{"source": NAME}, ...]; each may also say "loudness" (soft, medium, loud, unknown),
                  "distance_m", "levels" (peak_db_spl, typical_db_spl, quiet_db_spl, at_m) where known, and
                  "session": parts of one session are recorded at the same time, and "format": mono or stereo (two
                  microphones of one model, both outputs, or a recorder's own pair); of one plugged in
                  "instrument_price": a fifth of it is what a DI box is worth
  inputs_at_once  how many parts are recorded together, 1 if left out
  computer        windows, mac, linux, tablet or none; any if left out
  owned           kinds, or ids of the catalogue, in as many pieces as the kit needs
  coverings       [{"material": M, "width_m": 1.4, "height_m": 2.0, "count": 2}, ...]: textiles owned, hung before any
                  is bought; `room --materials` lists the materials
  enough          {"clean_range_db": 50, "direct_to_reverberant_db": 10}: what is enough; the second by source
                  if left out (--sources tells it)
  monitors, standing, renting   true or false; false, true, true if left out
  lent            true where others are to handle it: leaves out microphones that are not sturdy
  room_noise_dba, rt60_s, room_volume_m3   34, 0.5, 30 if left out
  route           any, usb, interface, recorder
  must, never     ids that have to be in the kit, or must not
  tone            bright, neutral or dark: leaves out microphones of another
  take_handling, monthly_fees   whether software must keep takes, may cost by the month; false, true if left out
All kits are compared at one distance: the one this room allows a cardioid now.
""")


@dataclass(frozen=True, slots=True, kw_only=True)
class _Part:
    source: str
    loudness: str = "medium"
    distance_m: float | None = None
    levels: SourceLevels | None = None
    session: int | None = None
    format: str = "mono"
    instrument_price: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class _Needs:
    budget: float
    parts: tuple[_Part, ...]
    inputs_at_once: int = 1
    computer: str = ""
    owned: tuple[str, ...] = ()
    coverings: tuple[Textile, ...] = ()
    enough: Enough = ENOUGH
    monitors: bool = False
    standing: bool = True
    renting: bool = True
    room_noise_dba: float = 34.0
    rt60_s: float = 0.5
    room_volume_m3: float = 30.0
    route: str = "any"
    must: tuple[str, ...] = ()
    never: tuple[str, ...] = ()
    tone: str = ""
    take_handling: bool = False
    monthly_fees: bool = True
    lent: bool = False


def run(arguments: list[str]) -> int:
    parser = Parser("kit", DESCRIPTION)
    parser.add_argument("needs", metavar="NEEDS.json", nargs="?", help=_("what is needed, or - for standard input"))
    parser.add_argument("--catalogue", metavar="FILE", help=_("a catalogue of one's own, CSV or JSON"))
    parser.add_argument("--sources", action="store_true", help="list the built-in sources")
    parser.add_argument("--catalogue-csv", action="store_true", help=_("print the built-in catalogue as CSV"))
    options = parser.parse_args(arguments)
    if options.sources:
        _print_sources(text=options.text)
    elif options.catalogue_csv:
        sys.stdout.buffer.write(catalogue_to_csv(built_in_catalogue()).encode())
    elif options.needs is None:
        parser.error(_("the following arguments are required: NEEDS.json"))
    else:
        _plan(options.needs, options.catalogue, text=options.text)
    return 0


def _plan(path: str, catalogue_path: str | None, *, text: bool) -> None:
    catalogue = built_in_catalogue() if catalogue_path is None else _catalogue(catalogue_path)
    try:
        needs, owned, ignored = needs_from_json(read_document(path), catalogue)
    except PneumenError as error:
        fail(f"{path}: {error}")
    try:
        plan = plan_kits(needs, owned, catalogue)
    except NothingFits as error:
        order = _order_for_later(needs, owned, catalogue)
        because = why_nothing_fits(error)
        answer: dict[str, Any] = {"kits": [], "recommended": None, "nothing_fits_because": because}
        answer["buying_order"] = [_purchase(one) for one in order]
        if text:
            print(_("Nothing fits: {because}.").format(because=because))
            _print_order(order)
        else:
            print_json(answer)
        return
    slips = [ignored_key(key) for key in ignored]
    if text:
        _print_text(plan, [*_findings(needs, plan.kits[plan.recommended]), *slips])
        return
    kits = [_document(kit, [*_findings(needs, kit), *slips]) for kit in plan.kits]
    order = buying_order(plan.kits[plan.recommended].lines)
    print_json(
        {
            "kits": kits,
            "recommended": plan.recommended,
            "nothing_fits_because": None,
            "recommended_is_enough": plan.is_enough,
            "buying_order": [_purchase(one) for one in order],
        }
    )


def _order_for_later(needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...]) -> tuple[Purchase, ...]:
    """Return what to buy first, second, third where the money buys no kit yet; empty where no money would."""
    try:
        plan = plan_kits(replace(needs, budget=DEAREST), owned, catalogue)
    except NothingFits:
        return ()
    return buying_order(plan.kits[plan.recommended].lines)


def _purchase(purchase: Purchase) -> dict[str, Any]:
    return {
        "items": [_item(line, count) for line, count in Counter(purchase.lines).items()],
        "price": purchase.price,
        "total": purchase.total,
        "brings": BRINGS[purchase.brings],
        "without": meanwhile(purchase),
    }


def _print_order(order: tuple[Purchase, ...]) -> None:
    print(_("Buy in this order, each as the money comes:"))
    for purchase in order:
        names = ", ".join(line.item.name if line.item else line.kind for line in dict.fromkeys(purchase.lines))
        print(f"  {purchase.total:g}  {names}: {BRINGS[purchase.brings]}; {meanwhile(purchase)}")


def _findings(needs: Needs, kit: Kit) -> list[dict[str, Any]]:
    return [told(finding, advice_on_kit(finding), "kind", "verdict") for finding in findings_of_kit(needs, kit)]


def _catalogue(path: str) -> tuple[Item, ...]:
    try:
        return catalogue_from_file(Path(path).read_bytes())
    except OSError as error:
        fail(
            _("--catalogue: {path}: {lower}; give a CSV or JSON file").format(
                path=path, lower=(error.strerror or _("cannot be read")).lower()
            )
        )
    except PneumenError as error:
        fail(f"--catalogue: {path}: {error}")


def needs_from_json(document: bytes, catalogue: tuple[Item, ...]) -> tuple[Needs, OwnedGear, tuple[str, ...]]:
    """Read needs; also return what is owned and the keys that are not known.

    Raises:
        PneumenError: naming what is missing, mistyped or impossible.
    """
    value = decode_object(document)
    asked = read_as(_Needs, value, "")
    ignored = [*unknown_keys(value, _Needs, "")]
    room = RoomNeed(noise_dba=asked.room_noise_dba, rt60_s=asked.rt60_s, volume_m3=asked.room_volume_m3)
    parts = []
    for number, part in enumerate(asked.parts):
        ignored += unknown_keys(value["parts"][number], _Part, f"parts[{number}]")
        try:
            guessed_levels("voice-pop", part.loudness)
            if part.format not in FORMATS:
                raise UnknownName("format", part.format, FORMATS)
            parts.append(
                part_need(
                    part.source,
                    room,
                    loudness=part.loudness,
                    levels=part.levels,
                    distance_m=part.distance_m,
                    session=part.session,
                    stereo=part.format == "stereo",
                    instrument_price=part.instrument_price,
                )
            )
        except PneumenError as error:
            raise BadDocument(f"parts[{number}].{error}") from None
    ids = {item.id for item in catalogue}
    for field, names in (("must", asked.must), ("never", asked.never)):
        for name in names:
            if name not in ids:
                raise UnknownName(field, name, (_("an id of the catalogue"),))
    needs = Needs(
        parts=tuple(parts),
        room=room,
        budget=asked.budget,
        inputs_at_once=asked.inputs_at_once,
        computer=asked.computer,
        monitors=asked.monitors,
        standing=asked.standing,
        renting=asked.renting,
        route=asked.route,
        must=frozenset(asked.must),
        never=frozenset(asked.never),
        tone=asked.tone,
        take_handling=asked.take_handling,
        monthly_fees=asked.monthly_fees,
        lent=asked.lent,
        enough=asked.enough,
    )
    owned = owned_gear(asked.owned, catalogue, textiles=asked.coverings, plenty=True)
    return needs, owned, tuple(ignored)


def _document(kit: Kit, findings: list[dict[str, Any]]) -> dict[str, Any]:
    lead_db = kit.direct_to_reverberant_db
    return {
        "total": kit.total,
        "items": [_item(line, count) for line, count in Counter(kit.lines).items()],
        "predicted": {
            "clean_range_db": kit.clean_range_db,
            "direct_to_reverberant_db": lead_db if math.isfinite(lead_db) else None,
            "headroom_db": kit.headroom_db,
            "noise_set_by": kit.noise_set_by,
            "round_trip_ms": kit.round_trip_ms,
        },
        "left_out": list(kit.forgotten),
        "findings": findings,
    }


def _item(line: KitLine, count: int) -> dict[str, Any]:
    item = line.item
    return {
        "id": item.id if item else line.kind,
        "kind": line.kind,
        "family": (item and item.family) or None,
        "connects": item.connects if item else None,
        "price": line.price,
        "count": count,
        "why": reason_for(line.kind),
        "found_in": line.found_in,
    }


def _print_sources(*, text: bool) -> None:
    if text:
        print_rows([(slug, f"{source.label} ({source.origin})") for slug, source in SOURCES.items()])
    else:
        print_json([{"source": slug, **plain(source), "enough": _enough(source)} for slug, source in SOURCES.items()])


def _enough(source: Source) -> dict[str, float | None]:
    lead_db = None if source.direct else ENOUGH.lead_db(source)
    return {"clean_range_db": ENOUGH.clean_range_db, "direct_to_reverberant_db": lead_db}


def _lead_in_words(kit: Kit) -> str:
    lead_db = kit.direct_to_reverberant_db
    return in_words(lead_db if math.isfinite(lead_db) else None, "dB", missing=_("nothing miked"))


def _print_text(plan: Plan, findings: list[dict[str, Any]]) -> None:
    kit = plan.kits[plan.recommended]
    which = _("the cheapest that is enough") if plan.is_enough else _("the nearest to enough")
    print(
        _("Of {kits} kits worth buying, take the one for {total:g}, {which}:").format(
            kits=len(plan.kits), total=kit.total, which=which
        )
    )
    rows = []
    for line, count in Counter(kit.lines).items():
        name = line.item.name if line.item else line.kind
        rows.append((f"{count} x {name}" if count > 1 else name, f"{count * line.price:g}  {reason_for(line.kind)}"))
    print_rows(rows)
    print_rows(
        [
            (_("clean range"), in_words(kit.clean_range_db, "dB")),
            (_("direct to room"), _lead_in_words(kit)),
            ("headroom", in_words(kit.headroom_db, "dB")),
            (_("noise set by"), kit.noise_set_by),
        ]
    )
    for finding in findings:
        print(f"{finding['verdict']}: {finding['advice']}")
    print(_("All of them:"))
    print_rows(
        [
            (
                f"{one.total:g}",
                _("{clean_range_db} clean, {one} over the room").format(
                    clean_range_db=in_words(one.clean_range_db, "dB"), one=_lead_in_words(one)
                ),
            )
            for one in plan.kits
        ]
    )
