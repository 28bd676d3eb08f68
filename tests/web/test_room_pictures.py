"""The pictures of Room and Place: to scale, on the paper in any room, and telling in words what they show."""

import re
from dataclasses import replace
from math import hypot
from types import SimpleNamespace

import numpy as np
from django.test import SimpleTestCase

from pneumen.core.part import SOURCES
from pneumen.core.place import BODIES
from pneumen.core.room import MATERIALS, WALLS, Box, RoomMap, Space, room_map
from pneumen.web.place.bodies import OUTLINES, draw_body
from pneumen.web.place.picture import NARROW as NARROW_LADDER
from pneumen.web.place.picture import WIDE as WIDE_LADDER
from pneumen.web.place.picture import draw_ladder
from pneumen.web.room.ground import draw_ground
from pneumen.web.room.models import Room
from pneumen.web.room.picture import NARROW, WIDE, compass, draw_plan
from pneumen.web.room.sideview import draw_reverberation_times
from tests import parts
from tests.web.base import DemoCase

NUMBER = re.compile(r"-?\d+(?:\.\d+)?")


def points_of(path):
    """Return the points of a path that only moves and draws to places."""
    numbers = [float(one) for one in NUMBER.findall(path)]
    return list(zip(numbers[::2], numbers[1::2], strict=True))


class Plans(DemoCase):
    """Every room from a wardrobe to a hall, every paper, wherever one stands."""

    def setUp(self):
        super().setUp()
        self.random = np.random.default_rng(11)

    def room(self, x_m, y_m, z_m):
        size = {"size_x_m": x_m, "size_y_m": y_m, "size_z_m": z_m}
        return Room.objects.create(
            owner=self.owner, name="Any", size="medium", furnishing="some", noise="quiet", drawn=True, **size
        )

    def rooms(self, count=12):
        for _ in range(count):
            x, y, z = (float(side) for side in self.random.uniform((0.8, 0.8, 1.9), (14, 9, 4)))
            yield self.room(round(x, 2), round(y, 2), round(z, 2))

    def plan(self, room, frame, **at):
        stood = standpoint(room, **at)
        # The ground has its own test: an empty one keeps this one quick.
        return draw_plan(room, stood, SimpleNamespace(shades=(), contours=()), frame, 12.0), stood

    def test_a_metre_is_a_metre_both_ways(self):
        for room in self.rooms():
            for frame in (WIDE, NARROW):
                plan, _ = self.plan(room, frame)
                self.assertAlmostEqual(plan.width / room.size_x_m, plan.px_per_m, 6)
                self.assertAlmostEqual(plan.depth / room.size_y_m, plan.px_per_m, 6)
                bar_m = 1.0 if plan.scale_m == "1 m" else 0.5
                self.assertAlmostEqual(plan.scale_bar[2], bar_m * plan.px_per_m, 6)

    def test_the_room_and_its_words_stay_on_the_paper(self):
        for room in self.rooms():
            for frame in (WIDE, NARROW):
                plan, _ = self.plan(room, frame)
                self.assertTrue(
                    frame.margin - 1e-6 <= plan.left <= plan.left + plan.width <= frame.width - frame.margin + 1e-6
                )
                self.assertLessEqual(plan.height, frame.most_height + 1e-6)
                for wall in plan.walls:
                    self.assertTrue(0 <= wall.label.x <= frame.width and 0 <= wall.label.y <= plan.height)

    def test_the_scale_bar_keeps_clear_of_the_walls_name(self):
        for room in self.rooms(30):
            plan, _ = self.plan(room, WIDE)
            south = next(wall for wall in plan.walls if wall.wall == "south")
            if plan.scale_m == "1 m" or plan.width > 120:
                self.assertLess(plan.scale_bar[0] + plan.scale_bar[2], south.label.x - 14, (room.size_m, plan.scale_m))

    def test_north_is_up_and_the_microphone_lies_ahead(self):
        room = self.room(5, 4, 2.5)
        for facing, ahead in ((0, (0, -1)), (90, (1, 0)), (180, (0, 1)), (270, (-1, 0))):
            plan, stood = self.plan(room, WIDE, facing_deg=facing)
            dx, dy = plan.microphone[0] - plan.mouth[0], plan.microphone[1] - plan.mouth[1]
            self.assertAlmostEqual(dx / plan.px_per_m, ahead[0] * stood.placement.distance_m, 6)
            self.assertAlmostEqual(dy / plan.px_per_m, ahead[1] * stood.placement.distance_m, 6)

    def test_a_cardioid_hears_ahead_and_not_behind_an_omni_all_round(self):
        room = self.room(5, 4, 2.5)
        cardioid, _ = self.plan(room, WIDE, pattern="cardioid")
        lobe = points_of(cardioid.lobe)
        reach = [hypot(x - cardioid.microphone[0], y - cardioid.microphone[1]) for x, y in lobe]
        self.assertLess(min(reach), 0.5)  # its null
        farthest = lobe[reach.index(max(reach))]
        to_mouth = np.subtract(cardioid.mouth, cardioid.microphone)
        self.assertGreater(float(np.dot(np.subtract(farthest, cardioid.microphone), to_mouth)), 0)
        omni, _ = self.plan(room, WIDE, pattern="omni")
        reach = [hypot(x - omni.microphone[0], y - omni.microphone[1]) for x, y in points_of(omni.lobe)]
        self.assertAlmostEqual(min(reach), max(reach), delta=0.2)
        self.assertEqual(omni.nulls, "")

    def test_a_figure_8_is_deaf_at_its_sides(self):
        room = self.room(5, 4, 2.5)
        plan, _ = self.plan(room, WIDE, pattern="figure-8", facing_deg=0)
        for x, y in points_of(plan.nulls):
            self.assertAlmostEqual(y, plan.microphone[1], delta=0.1)
            self.assertLess(abs(x - plan.microphone[0]), 0.2 * WIDE.width)

    def test_the_pattern_stays_near_in_a_closet(self):
        closet = self.room(1.0, 0.8, 2.2)
        for frame in (WIDE, NARROW):
            plan, _ = self.plan(closet, frame, pattern="cardioid", distance_m=0.15)
            for x, y in points_of(plan.lobe):
                self.assertLessEqual(hypot(x - plan.microphone[0], y - plan.microphone[1]), 0.08 * frame.width)

    def test_what_hangs_lies_along_its_wall_as_wide_as_it_is(self):
        room = self.song.room
        room.coverings.all().delete()
        size = {"width_m": 1.2, "height_m": 1.0}
        room.coverings.create(owner=self.owner, label="duvet", material="duvet", on="east", u=1.5, v=1.2, **size)
        plan, _ = self.plan(room, WIDE)
        (piece,) = plan.hangings
        self.assertAlmostEqual(piece.height, 1.2 * plan.px_per_m, 3)
        self.assertAlmostEqual(piece.x + piece.width, plan.left + plan.width, 6)
        self.assertAlmostEqual(piece.y + piece.height, plan.top + plan.depth - 0.9 * plan.px_per_m, 3)

    def test_no_figure_stands_on_a_noises_name(self):
        room = self.song.room
        label = SimpleNamespace(x=390.0, y=150.0, label="14")  # beside the street, 4.0 m from west
        ground = SimpleNamespace(shades=(), contours=(SimpleNamespace(path="", label=label),))
        self.assertEqual(len(draw_plan(room, standpoint(room), ground, NARROW, 12.0).labels), 0)
        room.noises.all().delete()
        self.assertEqual(len(draw_plan(room, standpoint(room), ground, NARROW, 12.0).labels), 1)

    def test_it_is_told_in_words_too(self):
        plan, _ = self.plan(self.room(5, 4, 2.5), WIDE, facing_deg=135)
        self.assertIn("5.00 m by 4.00 m, north up", plan.description)
        self.assertIn("facing south-east", plan.description)
        self.assertIn("0 pieces hang here", plan.description)


def standpoint(room, *, facing_deg=30.0, pattern="cardioid", distance_m=0.2):
    space = Space(box=room.box, background_dba=30, noise_band_db=5)
    return parts.part(space=space, chain=pattern, facing_deg=facing_deg, distance_m=distance_m)


def mapped(size_m=(4.0, 3.0, 2.4), facing=(0.0, 1.0), west="plaster"):
    names = dict.fromkeys(WALLS, "plaster") | {"west": west}
    box = Box(size_m=size_m, surfaces={wall: MATERIALS[name].absorption for wall, name in names.items()})
    return room_map(
        box, mouth_m=1.5, microphone_m=1.5, distance_m=0.2, facing=facing, pattern="cardioid", source_factor=2.0
    )


class Grounds(SimpleTestCase):
    def test_the_shades_cover_every_place_one_can_stand_at_once(self):
        heard = mapped()
        # Each run is M x y, h width, v height, h back: widths times the height of a row add up to the cells' area.
        cell = 400 / heard.lead_db.shape[1] * 300 / heard.lead_db.shape[0]
        covered = 0.0
        for shade in draw_ground(heard, 3.0).shades:
            for width in re.findall(r"h(\d+\.\d)v", shade.path):
                covered += float(width) * 300 / heard.lead_db.shape[0]
        self.assertAlmostEqual(covered / cell, np.isfinite(heard.lead_db).sum(), delta=3)

    def test_the_driest_is_lightest(self):
        strengths = [shade.strength for shade in draw_ground(mapped(), 3.0).shades]
        self.assertEqual((min(strengths), max(strengths)), (0, 1))
        self.assertEqual(strengths, sorted(strengths, reverse=True))

    def test_contours_run_where_the_map_has_their_level(self):
        heard = mapped(west="duvet")
        ground = draw_ground(heard, 3.0)
        self.assertTrue(ground.contours)
        x_cm, y_cm = 100 * heard.x_m, 100 * (3.0 - heard.y_m)
        for contour in ground.contours:
            if contour.label is None:
                continue
            column = int(np.abs(x_cm - contour.label.x).argmin())
            row = int(np.abs(y_cm - contour.label.y).argmin())
            near = heard.lead_db[max(row - 1, 0) : row + 2, max(column - 1, 0) : column + 2]
            self.assertTrue(np.nanmin(near) - 0.5 <= float(contour.label.label) <= np.nanmax(near) + 0.5)

    def test_a_place_in_the_wall_is_left_blank(self):
        facing_north = mapped(facing=(0.0, 1.0))
        path = "".join(shade.path for shade in draw_ground(facing_north, 3.0).shades)
        tops = [float(y) for y in re.findall(r"M-?[\d.]+ (-?[\d.]+)h", path)]
        self.assertGreater(min(tops), 15)  # 20 cm before the mouth there is no room for a microphone

    def test_nowhere_to_stand_draws_nothing(self):
        nowhere = RoomMap(x_m=np.array([0.1, 0.2]), y_m=np.array([0.1, 0.2]), lead_db=np.full((2, 2), np.nan))
        self.assertEqual((draw_ground(nowhere, 0.3).shades, draw_ground(nowhere, 0.3).contours), ((), ()))


class Ladders(SimpleTestCase):
    def pictures(self, source="voice-pop", distance_m=0.18, rt60_s=0.35):
        setup = parts.part(source, space=parts.statistics(rt60_s), distance_m=distance_m, aside_deg=20.0)
        ladder = parts.ladder(setup)
        level = 20 * np.log10(distance_m / ladder.distance_m)
        return ladder, [draw_ladder(setup, ladder, level, frame, voice=True) for frame in (WIDE_LADDER, NARROW_LADDER)]

    def test_strips_fill_the_ruler_without_gaps(self):
        _, pictures = self.pictures()
        for picture in pictures:
            for strip in picture.strips:
                self.assertAlmostEqual(strip.cells[0].x, picture.frame.left, 6)
                self.assertAlmostEqual(
                    sum(cell.width for cell in strip.cells), picture.frame.right - picture.frame.left, 6
                )

    def test_no_word_of_a_school_runs_into_another_or_off_the_paper(self):
        for farthest_m in (0.4, 0.6, 1.0):
            setup = parts.part("voice-pop", space=parts.room("large"), distance_m=0.2)
            setup = replace(setup, source=replace(setup.source, farthest_m=farthest_m))
            drawn = parts.ladder(setup)
            for frame in (WIDE_LADDER, NARROW_LADDER):
                picture = draw_ladder(setup, drawn, np.zeros(len(drawn.distance_m)), frame, voice=True)
                spans = {}
                for mark in picture.schools:
                    wide = 6.0 * len(mark.label)
                    begins = mark.label_x - wide if mark.anchor == "end" else mark.label_x
                    self.assertTrue(begins >= 0 and begins + wide <= frame.width + 1, (mark.label, frame.key))
                    for other in spans.setdefault(mark.y, []):
                        self.assertTrue(begins >= other[1] or begins + wide <= other[0], (mark.label, frame.key))
                    spans[mark.y].append((begins, begins + wide))

    def test_twice_the_distance_is_the_same_step_anywhere(self):
        _, (wide, _) = self.pictures()
        x = {float(tick.label.removesuffix(" cm")): tick.at for tick in wide.ticks}
        octaves = [x[2 * cm] - x[cm] for cm in x if 2 * cm in x]
        self.assertGreaterEqual(len(octaves), 2)
        self.assertAlmostEqual(min(octaves), max(octaves), 6)

    def test_a_drag_by_the_law_of_six_decibels_meets_the_ruler(self):
        _, (wide, narrow) = self.pictures()
        for picture in (wide, narrow):
            doubled = picture.px_per_db * 20 * np.log10(0.5)
            step = (
                (picture.frame.right - picture.frame.left) * np.log(2) / np.log(picture.maximum_cm / picture.minimum_cm)
            )
            self.assertAlmostEqual(doubled, step, 6)

    def test_the_pop_screen_stands_before_the_capsule_and_halfway_where_there_is_no_room(self):
        for distance_m, screen_m in ((0.18, 0.09), (0.06, 0.03)):
            _, (wide, _) = self.pictures(distance_m=distance_m)
            share = np.log(screen_m / 0.02) / np.log(0.6 / 0.02)
            self.assertAlmostEqual(wide.screen_x, wide.frame.left + share * (wide.frame.right - wide.frame.left), 6)

    def test_ticks_do_not_run_into_each_other_and_all_stays_on_the_paper(self):
        for source in ("voice-pop", "lever-harp", "clarinet"):
            facts = SOURCES[source]
            for picture in self.pictures(source, distance_m=facts.nearest_m)[1]:
                steps = np.diff([tick.at for tick in picture.ticks])
                self.assertGreater(min(steps), 33)
                self.assertAlmostEqual(picture.microphone_x, picture.frame.left, 6)
                for mark in picture.schools:
                    self.assertTrue(
                        picture.frame.left - 1e-6 <= mark.x <= mark.x + mark.width <= picture.frame.right + 1e-6
                    )

    def test_the_calm_range_is_drawn_where_it_is_and_a_wet_room_says_it_has_none(self):
        _, (wide, _) = self.pictures()
        low, high = wide.calm
        self.assertTrue(wide.frame.left <= low < high <= wide.frame.right)
        self.assertIn("calm from", wide.description)
        wet, (drawn, _) = self.pictures(rt60_s=4.0)
        self.assertIsNone(wet.calm_m)
        self.assertIsNone(drawn.calm)
        self.assertIn("no distance is calm here", drawn.description)


class Rings(SimpleTestCase):
    def test_longer_stands_higher_and_the_measured_beside(self):
        bare, now = (0.8, 0.7, 0.6, 0.5, 0.5, 0.4), (0.5, 0.4, 0.3, 0.3, 0.2, 0.2)
        picture = draw_reverberation_times(bare, now, (None, 0.4, 0.3, 0.3, 0.25, None))
        for bar in picture.bars:
            self.assertLess(bar.bare_y, bar.now_y)
            self.assertLessEqual(bar.now_y, picture.base_y)
        self.assertIsNone(picture.bars[0].measured_y)
        self.assertIn("125 Hz: bare 0.80 s, now 0.50 s", picture.bars[0].said)
        self.assertIn("measured 0.40 s", picture.bars[1].said)

    def test_a_room_without_ring_time_draws_nothing_high(self):
        picture = draw_reverberation_times((None,) * 6, (None,) * 6, None)
        self.assertTrue(all(bar.now_y == picture.base_y for bar in picture.bars))


class Compass(SimpleTestCase):
    def test_by_the_nearest_eighth(self):
        for degrees, word in ((0, "north"), (22, "north"), (23, "north-east"), (180, "south"), (359, "north")):
            self.assertEqual(compass(degrees), word)


class Bodies(SimpleTestCase):
    def test_every_body_is_drawn_with_its_zones_on_the_paper(self):
        self.assertEqual(set(OUTLINES), set(BODIES))
        for body in BODIES.values():
            zones = parts.zones(body.sources[0], parts.statistics(0.4), "warm")
            picture = draw_body(body, zones, body.zones[1].slug)
            self.assertEqual([dot.number for dot in picture.dots], list(range(1, len(body.zones) + 1)))
            self.assertEqual([dot.zone for dot in picture.dots if dot.chosen], [body.zones[1].slug])
            for dot in picture.dots:
                self.assertTrue(0 <= dot.x <= picture.width and 0 <= dot.y <= picture.height, dot)
            self.assertIn(zones[0].zone.label, picture.description)
