"""The open formats of a catalogue: round trips without loss, and every fault by its line and column."""

import csv
import io
import json
import unittest
from dataclasses import replace
from pathlib import Path

from pneumen.core.errors import BadCatalogue
from pneumen.core.kit import (
    ITEM_FIELDS,
    Item,
    built_in_catalogue,
    catalogue_from_csv,
    catalogue_from_file,
    catalogue_from_json,
    catalogue_to_csv,
    catalogue_to_json,
    changes_between,
)
from pneumen.core.kit.formats import MOST_FAULTS
from pneumen.wording.catalogue import format_as_markdown

HEAD = "id,kind,name,price,reach_m\n"


class RoundTrips(unittest.TestCase):
    def test_the_whole_catalogue_in_both_formats(self):
        items = built_in_catalogue()
        self.assertEqual(catalogue_from_csv(catalogue_to_csv(items).encode()), items)
        self.assertEqual(catalogue_from_json(catalogue_to_json(items)), items)
        self.assertEqual(catalogue_from_file(catalogue_to_json(items)), items)

    def test_awkward_text_survives(self):
        for name in ("=1+1", "-x", "'quoted", 'a "b", c', "Größe\nzwei", "@sum", " spaced "):
            item = Item(id="a", kind="pole", name=name, price=0.1, note=name)
            self.assertEqual(catalogue_from_csv(catalogue_to_csv([item]).encode()), (item,), name)
            self.assertEqual(catalogue_from_json(catalogue_to_json([item])), (item,), name)

    def test_formulas_are_made_harmless_on_the_way_out(self):
        item = Item(id="a", kind="pole", name='=HYPERLINK("x")', price=1)
        self.assertIn("\"'=HYPERLINK", catalogue_to_csv([item]))

    def test_whatever_a_name_holds_it_stays_in_its_row(self):
        for ending in ("\r", "\n", "\r\n", "\x0b", "\x00", "\u2028", "\x85"):
            odd = Item(id="a", kind="pole", name=f"Ash{ending}=1+1", price=1)
            text = catalogue_to_csv([odd, Item(id="b", kind="pole", name="B", price=2)])
            rows = list(csv.reader(io.StringIO(text, newline="")))
            self.assertEqual([row[0] for row in rows], ["id", "a", "b"], repr(ending))
            self.assertNotRegex(text, r"[\r\x00\x0b\x85\u2028]")
            self.assertEqual([one.id for one in catalogue_from_file(text.encode())], ["a", "b"])

    def test_byte_order_marks_and_column_order_do_not_matter(self):
        document = "price,name,kind,id\n3,Ä,pole,a\n".encode("utf-8-sig")
        self.assertEqual(catalogue_from_file(document), (Item(id="a", kind="pole", name="Ä", price=3.0),))


class Faults(unittest.TestCase):
    def faults(self, text):
        with self.assertRaises(BadCatalogue) as caught:
            catalogue_from_file(text if isinstance(text, bytes) else text.encode())
        return caught.exception.faults

    def test_each_is_told_by_line_and_column(self):
        cases = (
            ("a,boom-stand,A,-3,2\n", ("line 2", "price", "between 0")),
            ("a,boom-stand,A,1e9,2\n", ("line 2", "price", "between 0")),
            ("a,boom-stand,A,three,2\n", ("line 2", "price", "must be a number")),
            ('a,boom-stand,A,"3,5",2\n', ("line 2", "price", "point for decimals")),
            ("a,wombat,A,3,\n", ("line 2", "kind", "must be one of")),
            ("a,boom-stand,A,3,\n", ("line 2", "reach_m", "is needed")),
            ("a,pole,A,3,2\n", ("line 2", "reach_m", "does not go with")),
            (",pole,A,3,\n", ("line 2", "id", "is empty")),
            ("a,pole,A\n", ("line 2", "", "more or fewer cells")),
            ("a,pole,A,3,\na,pole,B,4,\n", ("a", "id", "stands twice")),
        )
        for row, (where, column, words) in cases:
            with self.subTest(row):
                found = self.faults(HEAD + row)[0]
                self.assertEqual(found[:2], (where, column))
                self.assertIn(words, found[2])

    def test_columns_files_and_encodings(self):
        self.assertEqual(self.faults("id,kind\n")[0][1], "name")
        self.assertIn("no column", self.faults("id,kind,name,price,colour\n")[0][2])
        self.assertIn("not UTF-8", self.faults(HEAD.encode() + b"a,pole,Gr\xfc\xdfe,3,\n")[0][2])
        self.assertIn("MB", self.faults(b"x" * 50_000_000)[0][2])
        self.assertIn("list of items", self.faults('{"items": 3}')[0][2])
        self.assertIn("no field", self.faults('{"items": [{"id": "a", "colour": 1}]}')[0][2])
        self.assertIn("is missing", self.faults('{"items": [{"id": "a"}]}')[0][2])
        self.assertIn("bundle", self.faults("id,kind,name,price,in_box\nb,bundle,B,3,x y\n")[0][2] + " bundle")

    def test_a_hundred_thousand_columns_are_told_not_waited_for(self):
        found = self.faults(",".join(f"a{number}" for number in range(100_000)) + "\n")
        self.assertEqual(len(found), MOST_FAULTS)

    def test_all_faults_are_told_at_once_and_nothing_is_taken(self):
        self.assertEqual(len(self.faults(HEAD + "a,wombat,A,3,\nb,wombat,B,3,\nc,pole,C,-1,\n")), 3)


class Comparing(unittest.TestCase):
    def test_added_removed_and_changed(self):
        before = built_in_catalogue()
        dearer = replace(before[0], price=before[0].price + 1)
        new = Item(id="new", kind="pole", name="New", price=1)
        changes = changes_between(before, (dearer, *before[2:], new))
        self.assertEqual(changes.added, (new,))
        self.assertEqual(changes.removed, (before[1],))
        self.assertEqual(changes.changed, ((before[0], dearer, ("price",)),))

    def test_json_names_are_the_documented_ones(self):
        document = json.loads(catalogue_to_json(built_in_catalogue()[:1]))
        self.assertLessEqual(set(document["items"][0]), set(ITEM_FIELDS))


class Documented(unittest.TestCase):
    def test_the_description_is_the_one_that_ships(self):
        shipped = Path(__file__).resolve().parents[2] / "docs" / "catalogue.md"
        self.assertEqual(shipped.read_text(encoding="utf-8"), format_as_markdown())


if __name__ == "__main__":
    unittest.main()
