"""The one truth over many random songs: figures that pages share, advice that delivers, presses that end.

    PYTHONPATH=src:. .venv/bin/python benchmarks/one_truth.py [songs] [first seed]

What tests/web/test_one_truth.py holds for 40 songs is counted here for as many as one has patience for (300).
"""

import os
import sys
import tempfile
from collections import Counter

os.environ["DJANGO_SETTINGS_MODULE"] = "pneumen.web.site.settings"


def main() -> None:
    songs = int(sys.argv[1]) if len(sys.argv) > 1 else 300
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 0
    with tempfile.TemporaryDirectory() as folder:
        os.environ["PNEUMEN_DATA"] = folder
        import django

        django.setup()
        from django.core.management import call_command

        call_command("migrate", verbosity=0)
        counts, worst_db = count(range(first, first + songs))
    for name, number in counts.items():
        print(f"{number:8} {name}")
    print(f"{worst_db:8.2f} dB: the most by which an advice missed its promise")


def count(seeds: range) -> tuple[Counter, float]:
    """Return what was counted, and the worst error of a promise in decibels."""
    from django.test import Client
    from tests.songs import STEPS, fresh, random_song
    from tests.web.test_one_truth import PRESSES, disagreements, gather, press_through

    from pneumen.web.gain.show import gain_screen

    client, counts, worst_db = Client(HTTP_HOST="127.0.0.1"), Counter(), 0.0
    for seed in seeds:
        parts = random_song(seed)
        client.force_login(parts[0].owner)
        counts["songs"] += 1
        for part in parts:
            found = gather(client, part)
            counts["parts"] += 1
            counts["pages that answered"] += len(STEPS)
            counts["figures on two pages or more"] += sum(len(pages) > 1 for pages in found.values())
            counts["of them with more than one value"] += len(disagreements(found))
        pressed = press_through(client, parts[0])
        worst_db = max([worst_db, *(max(errors) for _, *errors in pressed)])
        screen = gain_screen(fresh(parts[0]))
        clear, told = screen.verdict.verdict == "clear", "Neither distance nor gain mends it" in screen.sentence
        counts[f"first parts that took {len(pressed)} presses"] += 1
        counts["that did not end"] += len(pressed) > PRESSES
        counts["that ended clear"] += clear
        counts["that ended with the conflict named"] += told and not clear
        counts["that ended otherwise"] += not clear and not told
    return counts, worst_db


if __name__ == "__main__":
    main()
