"""A usual room, the built-in catalogue, and plans for sources in it, as the tests of kits need them."""

from pneumen.core.kit import Needs, RoomNeed, built_in_catalogue, owned_gear, part_need, plan_kits

ROOM = RoomNeed(noise_dba=34, rt60_s=0.5, volume_m3=30)
CATALOGUE = built_in_catalogue()
BOOSTERS = frozenset(item.id for item in CATALOGUE if item.kind == "booster")


def needs(*sources, **more):
    return Needs(parts=tuple(part_need(source, ROOM) for source in sources or ("voice-pop",)), room=ROOM, **more)


def plan(*sources, owned=(), **more):
    return plan_kits(needs(*sources, **more), owned_gear(owned, CATALOGUE), CATALOGUE)
