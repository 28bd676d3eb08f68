"""The one JSON reader and the one tree of errors."""

import unittest
from dataclasses import dataclass

from pneumen.core import errors
from pneumen.core.reader import decode_object, fields_of, read_as, unknown_keys


@dataclass(frozen=True, slots=True, kw_only=True)
class Sample:
    distance_m: float
    name: str = "x"
    count: int = 1

    def __post_init__(self):
        errors.require_positive("distance_m", self.distance_m)


class Reading(unittest.TestCase):
    def test_whole_numbers_serve_as_numbers(self):
        self.assertEqual(read_as(Sample, {"distance_m": 2}, ""), Sample(distance_m=2.0))

    def test_each_fault_tells_place_and_remedy(self):
        cases = (
            ({}, "", "^distance_m is missing$"),
            ({}, "chain.mic", "^chain.mic.distance_m is missing$"),
            ({"distance_m": "far"}, "", "^distance_m must be a number, was a text$"),
            ({"distance_m": True}, "", "^distance_m must be a number, was true or false$"),
            ({"distance_m": None}, "", "^distance_m must be a number, was null$"),
            ({"distance_m": 1, "count": 1.5}, "a", "^a.count must be a whole number, was a number$"),
            ({"distance_m": 0}, "a", "^a: distance_m must be greater than 0, was 0$"),
            ([1], "a", "^a must be an object"),
        )
        for value, place, message in cases:
            with self.subTest(message), self.assertRaisesRegex(errors.BadDocument, message):
                read_as(Sample, value, place)

    def test_documents(self):
        self.assertEqual(decode_object(b'{"a": 1}'), {"a": 1})
        self.assertEqual(decode_object('{"ä": 1}'.encode()), {"ä": 1})
        for document in (b"", b"nul", b"[]", b'"a"', b'{"a": Infinity}', '{"ä": 1}'.encode("latin-1"), b"[" * 100_000):
            with self.subTest(document[:12]), self.assertRaises(errors.BadDocument):
                decode_object(document)

    def test_unknown_keys_come_with_their_place(self):
        self.assertEqual(unknown_keys({"distance_m": 1, "far": 2}, Sample, "a"), ("a.far",))
        self.assertEqual(fields_of(Sample), ("distance_m", "name", "count"))


class Tree(unittest.TestCase):
    def test_every_leaf_is_a_builtin_kind_too(self):
        leaves = (
            (errors.OutOfRange("gain", 99, "below 60"), ValueError),
            (errors.Contradiction("gain", "is upside down"), ValueError),
            (errors.UnknownName("pattern", "round", ("omni",)), ValueError),
            (errors.BadDocument("gain is missing"), ValueError),
            (errors.UnreadableFile("it is empty", "record anew"), OSError),
            (errors.NothingFits(10, 20, "all cost more"), LookupError),
        )
        for error, builtin in leaves:
            self.assertIsInstance(error, errors.PneumenError)
            self.assertIsInstance(error, builtin)
            self.assertTrue(str(error))
            self.assertIn(type(error).__name__, errors.__doc__)

    def test_values_are_carried(self):
        error = errors.OutOfRange("gain", 99, "below 60")
        self.assertEqual((error.field, error.value, error.allowed), ("gain", 99, "below 60"))
        self.assertEqual(str(error), "gain must be below 60, was 99")

    def test_bounds(self):
        for bad in (float("nan"), 0, -1, 11):
            with self.assertRaises(errors.OutOfRange):
                errors.require_positive("x", bad, 10)
        for bad in (float("nan"), float("inf"), -1, 11):
            with self.assertRaises(errors.OutOfRange):
                errors.require_within("x", bad, 0, 10)
        errors.require_positive("x", 10, 10)
        errors.require_within("x", 0, 0, 10)
