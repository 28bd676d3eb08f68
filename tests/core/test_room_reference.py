"""The room's laws found another way: modes by finite differences, statistics by throwing rays, combs by a transform."""

import unittest

import numpy as np
from scipy.sparse import diags, eye, kron
from scipy.sparse.linalg import eigsh

from pneumen.core.gear import PATTERNS, near_response_db
from pneumen.core.room import (
    MATERIALS,
    WALLS,
    Box,
    comb_of,
    critical_distance_m,
    direct_to_reverberant_db,
    modes_of,
    noise_at,
    reverberation_time_eyring_s,
    reverberation_time_sabine_s,
    schroeder_frequency_hz,
)
from pneumen.core.room.noise import Noise

SIZE = (4.2, 3.1, 2.4)
VOLUME = 4.2 * 3.1 * 2.4
SURFACE = 2 * (4.2 * 3.1 + 4.2 * 2.4 + 3.1 * 2.4)
C = 343.0


def stiff_walls(cells, side):
    """The one-dimensional operator -d2/dx2 between hard walls, by finite volumes."""
    main = np.full(cells, 2.0)
    main[[0, -1]] = 1.0
    return diags([main, -np.ones(cells - 1), -np.ones(cells - 1)], [0, 1, -1]) * (cells / side) ** 2


class ModesBySolving(unittest.TestCase):
    """The wave equation in the box, solved by SciPy's sparse eigensolver: it knows no formula for modes."""

    @classmethod
    def setUpClass(cls):
        counts = (28, 21, 16)
        x, y, z = (stiff_walls(count, side) for count, side in zip(counts, SIZE, strict=True))
        ones = [eye(count) for count in counts]
        operator = kron(kron(x, ones[1]), ones[2]) + kron(kron(ones[0], y), ones[2]) + kron(kron(ones[0], ones[1]), z)
        values, vectors = eigsh(operator.tocsc(), k=11, sigma=-0.1)
        order = np.argsort(values)
        cls.hz = np.sqrt(np.abs(values[order])) * C / (2 * np.pi)
        cls.shapes, cls.counts = vectors[:, order], counts

    def test_the_first_ten_lie_where_the_formula_puts_them(self):
        told = [mode.hz for mode in modes_of(SIZE)[:10]]
        np.testing.assert_allclose(self.hz[1:], told, rtol=0.01)

    def test_pressure_in_the_room_is_a_product_of_cosines(self):
        places = [(np.arange(count) + 0.5) * side / count for count, side in zip(self.counts, SIZE, strict=True)]
        grid = np.stack(np.meshgrid(*places, indexing="ij"), axis=-1).reshape(-1, 3)
        for number, mode in enumerate(modes_of(SIZE)[:5], start=1):
            shape = self.shapes[:, number]
            told = np.array([mode.pressure_at(tuple(point), SIZE) for point in grid[::37]])
            found = shape[::37] / np.abs(shape).max()
            self.assertGreater(abs(np.corrcoef(told, found)[0, 1]), 0.999, mode.order)


class StatisticsByRays(unittest.TestCase):
    """A thousand rays thrown about a box with walls that scatter as Lambert says: no formula but geometry."""

    RAYS, BOUNCES = 1500, 160

    @classmethod
    def setUpClass(cls):
        random, size = np.random.default_rng(5), np.array(SIZE)
        at = random.uniform(0.1, 0.9, (cls.RAYS, 3)) * size
        going = random.normal(size=(cls.RAYS, 3))
        going /= np.linalg.norm(going, axis=1, keepdims=True)
        lengths = []
        for _ in range(cls.BOUNCES):
            with np.errstate(divide="ignore"):
                reach = np.where(going > 0, (size - at) / going, -at / going)
            axis = reach.argmin(axis=1)
            step = reach[np.arange(cls.RAYS), axis]
            at = np.clip(at + going * step[:, None], 0, size)
            lengths.append(step)
            inwards = -np.sign(going[np.arange(cls.RAYS), axis])
            going = cls.scattered(random, axis, inwards)
        cls.lengths = np.array(lengths)

    @staticmethod
    def scattered(random, axis, inwards):
        """Directions by Lambert's cosine law about the wall's normal."""
        sine = np.sqrt(random.uniform(size=len(axis)))
        turn = random.uniform(0, 2 * np.pi, len(axis))
        found = np.empty((len(axis), 3))
        rows = np.arange(len(axis))
        found[rows, axis] = inwards * np.sqrt(1 - sine**2)
        found[rows, (axis + 1) % 3], found[rows, (axis + 2) % 3] = sine * np.cos(turn), sine * np.sin(turn)
        return found

    def test_the_mean_free_path_is_four_volumes_over_the_surface(self):
        # Kosten 1960, Kuttruff (from memory). The tail's beginning leans on it.
        self.assertAlmostEqual(self.lengths[20:].mean() / (4 * VOLUME / SURFACE), 1, delta=0.01)

    def test_the_decay_is_eyrings_but_for_the_spread_of_paths(self):
        # Kuttruff (from memory): paths of unequal length ring longer, by 1 / (1 + spread/2 ln(1 - absorption)).
        paths = self.lengths[20:]
        spread = paths.var() / paths.mean() ** 2
        for absorption in (0.1, 0.3, 0.5):
            arrived_s = np.cumsum(self.lengths, axis=0).ravel() / C
            energy = np.repeat((1 - absorption) ** np.arange(self.BOUNCES), self.RAYS)
            rt60_s = self.ring_time(arrived_s, energy)
            eyring = reverberation_time_eyring_s(VOLUME, SURFACE, absorption)
            corrected = eyring / (1 + spread / 2 * np.log(1 - absorption))
            self.assertAlmostEqual(rt60_s / corrected, 1, delta=0.04, msg=absorption)
            self.assertGreater(rt60_s, eyring)
            self.assertGreater(reverberation_time_sabine_s(VOLUME, SURFACE * absorption), rt60_s)

    def ring_time(self, arrived_s, energy):
        """The reverberation time of an echogram: backward integration, -5 to -35 dB."""
        order = np.argsort(arrived_s)
        left = np.cumsum(energy[order][::-1])[::-1]
        level = 10 * np.log10(left / left[0])
        used = (level < -5) & (level > -35)
        slope = np.polyfit(arrived_s[order][used], level[used], 1)[0]
        return -60 / slope


class PatternsByTheSphere(unittest.TestCase):
    def test_the_critical_distance_grows_by_what_a_pattern_leaves_out(self):
        # The mean of the squared pattern over the whole sphere is one over its directivity factor, by its definition.
        angle = np.linspace(0, np.pi, 20_001)
        for pattern, a in PATTERNS.items():
            heard = (a + (1 - a) * np.cos(angle)) ** 2
            mean = np.trapezoid(heard * np.sin(angle), angle) / 2
            grown = critical_distance_m(30, 0.5, pattern) / critical_distance_m(30, 0.5)
            self.assertAlmostEqual(grown, mean**-0.5, 4, pattern)

    def test_at_the_critical_distance_both_are_equal(self):
        # Steady state in a diffuse field (Beranek; Kuttruff, from memory): direct Q / 4 pi r2 against 4 / A.
        absorption = 0.161 * 30 / 0.5
        critical = critical_distance_m(30, 0.5)
        self.assertAlmostEqual(4 * np.pi * critical**2 * 4 / absorption, 1, delta=0.02)
        self.assertAlmostEqual(direct_to_reverberant_db(critical, critical), 0, 9)

    def test_schroeders_frequency_is_where_three_modes_overlap(self):
        # A mode is 2.2 / T wide, their density 4 pi V f2 / c3, and three share a width (Schroeder and Kuttruff 1962,
        # from memory): 2093 sqrt(T/V) at 343 m/s, which the trade rounds to 2000.
        exact = (3 * C**3 * 0.5 / (2.2 * 4 * np.pi * VOLUME)) ** 0.5
        self.assertAlmostEqual(schroeder_frequency_hz(VOLUME, 0.5) / exact, 2000 / 2093, 3)


class CombsByTransform(unittest.TestCase):
    def test_notch_and_ripple_of_two_pulses(self):
        rate, size = 48_000, 1 << 16
        for samples, share in ((48, 0.5), (96, 0.8), (17, 0.25)):
            pulses = np.zeros(size)
            pulses[0], pulses[samples] = 1, share
            level = 20 * np.log10(np.abs(np.fft.rfft(pulses)))
            comb = comb_of(samples / rate, share)
            below = np.fft.rfftfreq(size, 1 / rate) < rate / samples
            self.assertAlmostEqual(np.argmin(level[below]) * rate / size, comb.first_notch_hz, delta=1)
            self.assertAlmostEqual(level.max() - level.min(), comb.ripple_db, 1)


class BassByTheWave(unittest.TestCase):
    """A cardioid as what it is: pressure plus the difference of pressure across a short way, in a spherical wave."""

    def test_build_up_of_each_pattern(self):
        gap_m = 0.0005
        for pattern, a in PATTERNS.items():
            for distance_m in (0.05, 0.15, 0.6):
                for hertz in (60.0, 100.0, 400.0):
                    k = 2 * np.pi * hertz / C
                    before, here, behind = (
                        np.exp(-1j * k * r) / r for r in (distance_m - gap_m, distance_m, distance_m + gap_m)
                    )
                    heard = a * here + (1 - a) * (behind - before) / (2 * gap_m) / (-1j * k)
                    expected = 20 * np.log10(np.abs(heard) * distance_m)
                    told = float(near_response_db(pattern, distance_m, np.array([hertz]))[0])
                    self.assertAlmostEqual(told, expected, 2, (pattern, distance_m, hertz))


class NoiseOfADiffuseField(unittest.TestCase):
    def test_what_hums_far_off_in_a_live_room_is_as_loud_everywhere(self):
        surfaces = dict.fromkeys(WALLS, MATERIALS["plaster"].absorption)
        box = Box(size_m=(8.0, 6.0, 3.0), surfaces=surfaces)
        fan = Noise(name="fan", place_m=(0.5, 0.5, 0.5), level_dba=45.0)
        levels = [
            noise_at(box, (fan,), (x, 4.0, 1.5), (0.0, 1.0, 0.0), "omni", hour=12, background_dba=0.0)
            for x in (4.0, 5.5, 7.0)
        ]
        self.assertLess(max(levels) - min(levels), 0.5)
