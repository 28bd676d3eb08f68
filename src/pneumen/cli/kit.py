"""pneumen kit NEEDS.json: every complete kit within the money that no other beats."""

import math
import sys
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pneumen.cli.common import Parser, fail, ignored_key, in_words, plain, print_json, print_rows, read_document, told
from pneumen.core.errors import BadDocument, NothingFits, PneumenError, UnknownName
from pneumen.core.kit import (
    Item,
    Kit,
    Needs,
    Plan,
    RoomNeed,
    built_in_catalogue,
    catalogue_from_file,
    catalogue_to_csv,
    findings_of_kit,
    owned_gear,
    part_need,
    plan_kits,
)
from pneumen.core.part import SOURCES, guessed_levels
from pneumen.core.reader import decode_object, read_as, unknown_keys
from pneumen.core.setup import SourceLevels
from pneumen.wording.kit import advice_on_kit, reason_for, why_nothing_fits

DESCRIPTION = """Every complete kit within the money that no other beats, dearest first, and which to take.

NEEDS.json holds:
  budget          money there is, in the currency of the prices
  parts           [{"source": NAME}, ...]; each may also say "loudness" (soft, medium, loud, unknown),
                  "distance_m", "levels" (peak_db_spl, typical_db_spl, quiet_db_spl, at_m) where known, and
                  "session": parts of one session are recorded at the same time
  inputs_at_once  how many parts are recorded together, 1 if left out
  computer        windows, mac, linux, tablet or none; any if left out
  owned           kinds, or ids of the catalogue; stands, filters and cables as often as there are
  monitors, standing, renting   true or false; false, true, true if left out
  room_noise_dba, rt60_s, room_volume_m3   34, 0.5, 30 if left out
  route           any, usb, interface, recorder
  must, never     ids that have to be in the kit, or must not
  tone            bright, neutral or dark: leaves out microphones of another
  take_handling, monthly_fees   whether software must keep takes, may cost by the month; false, true if left out
All kits are compared at one distance: the one this room allows a cardioid now.
"""


@dataclass(frozen=True, slots=True, kw_only=True)
class _Part:
    source: str
    loudness: str = "medium"
    distance_m: float | None = None
    levels: SourceLevels | None = None
    session: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class _Needs:
    budget: float
    parts: tuple[_Part, ...]
    inputs_at_once: int = 1
    computer: str = ""
    owned: tuple[str, ...] = ()
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


def run(arguments: list[str]) -> int:
    parser = Parser("kit", DESCRIPTION)
    parser.add_argument("needs", metavar="NEEDS.json", nargs="?", help="what is needed, or - for standard input")
    parser.add_argument("--catalogue", metavar="FILE", help="a catalogue of one's own, CSV or JSON")
    parser.add_argument("--sources", action="store_true", help="list the built-in sources")
    parser.add_argument("--catalogue-csv", action="store_true", help="print the built-in catalogue as CSV")
    options = parser.parse_args(arguments)
    if options.sources:
        _print_sources(text=options.text)
    elif options.catalogue_csv:
        sys.stdout.buffer.write(catalogue_to_csv(built_in_catalogue()).encode())
    elif options.needs is None:
        parser.error("the following arguments are required: NEEDS.json")
    else:
        _plan(options.needs, options.catalogue, text=options.text)
    return 0


def _plan(path: str, catalogue_path: str | None, *, text: bool) -> None:
    catalogue = built_in_catalogue() if catalogue_path is None else _catalogue(catalogue_path)
    try:
        needs, owned_names, ignored = needs_from_json(read_document(path), catalogue)
        owned = owned_gear(owned_names, catalogue)
    except PneumenError as error:
        fail(f"{path}: {error}")
    try:
        plan = plan_kits(needs, owned, catalogue)
    except NothingFits as error:
        because = why_nothing_fits(error)
        answer: dict[str, Any] = {"kits": [], "recommended": None, "nothing_fits_because": because}
        print(f"Nothing fits: {because}.") if text else print_json(answer)
        return
    slips = [ignored_key(key) for key in ignored]
    if text:
        _print_text(plan, [*_findings(needs, plan.kits[plan.recommended]), *slips])
        return
    kits = [_document(kit, [*_findings(needs, kit), *slips]) for kit in plan.kits]
    print_json({"kits": kits, "recommended": plan.recommended, "nothing_fits_because": None})


def _findings(needs: Needs, kit: Kit) -> list[dict[str, Any]]:
    return [told(finding, advice_on_kit(finding), "kind", "verdict") for finding in findings_of_kit(needs, kit)]


def _catalogue(path: str) -> tuple[Item, ...]:
    try:
        return catalogue_from_file(Path(path).read_bytes())
    except OSError as error:
        fail(f"--catalogue: {path}: {(error.strerror or 'cannot be read').lower()}; give a CSV or JSON file")
    except PneumenError as error:
        fail(f"--catalogue: {path}: {error}")


def needs_from_json(document: bytes, catalogue: tuple[Item, ...]) -> tuple[Needs, tuple[str, ...], tuple[str, ...]]:
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
            parts.append(
                part_need(
                    part.source,
                    room,
                    loudness=part.loudness,
                    levels=part.levels,
                    distance_m=part.distance_m,
                    session=part.session,
                )
            )
        except PneumenError as error:
            raise BadDocument(f"parts[{number}].{error}") from None
    ids = {item.id for item in catalogue}
    for field, names in (("must", asked.must), ("never", asked.never)):
        for name in names:
            if name not in ids:
                raise UnknownName(field, name, ("an id of the catalogue",))
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
    )
    return needs, asked.owned, tuple(ignored)


def _document(kit: Kit, findings: list[dict[str, Any]]) -> dict[str, Any]:
    lead_db = kit.direct_to_reverberant_db
    return {
        "total": kit.total,
        "items": [
            {
                "id": line.item.id if line.item else line.kind,
                "kind": line.kind,
                "price": line.price,
                "why": reason_for(line.kind),
                "found_in": line.found_in,
            }
            for line in kit.lines
        ],
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


def _print_sources(*, text: bool) -> None:
    if text:
        print_rows([(slug, f"{source.label} ({source.origin})") for slug, source in SOURCES.items()])
    else:
        print_json([{"source": slug, **plain(source)} for slug, source in SOURCES.items()])


def _lead_in_words(kit: Kit) -> str:
    lead_db = kit.direct_to_reverberant_db
    return in_words(lead_db if math.isfinite(lead_db) else None, "dB", missing="nothing miked")


def _print_text(plan: Plan, findings: list[dict[str, Any]]) -> None:
    kit = plan.kits[plan.recommended]
    print(f"Of {len(plan.kits)} kits worth buying, take the one for {kit.total:g}:")
    names = [line.item.name if line.item else line.kind for line in kit.lines]
    prices = [f"{line.price:g}  {reason_for(line.kind)}" for line in kit.lines]
    print_rows(list(zip(names, prices, strict=True)))
    print_rows(
        [
            ("clean range", in_words(kit.clean_range_db, "dB")),
            ("direct to room", _lead_in_words(kit)),
            ("headroom", in_words(kit.headroom_db, "dB")),
            ("noise set by", kit.noise_set_by),
        ]
    )
    for finding in findings:
        print(f"{finding['verdict']}: {finding['advice']}")
    print("All of them:")
    print_rows(
        [
            (
                f"{one.total:g}",
                f"{in_words(one.clean_range_db, 'dB')} clean, {_lead_in_words(one)} over the room",
            )
            for one in plan.kits
        ]
    )
