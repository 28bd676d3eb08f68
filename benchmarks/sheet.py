"""Time the lyric sheet of a song with 60 lines and 12 takes of four minutes: the page, and a choice.

    PYTHONPATH=src .venv/bin/python benchmarks/sheet.py [LINES] [TAKES]

The rows are made up, in a data folder of their own; nothing is measured or rendered. Prints the median of 9 requests
through Django's own client (aims: the page under 100 ms, a choice under 60 ms).
"""

import os
import statistics
import sys
import tempfile
import time

LINES = int(sys.argv[1]) if len(sys.argv) > 1 else 60
TAKES = int(sys.argv[2]) if len(sys.argv) > 2 else 12
SONG_S = 240.0


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        os.environ["PNEUMEN_DATA"] = folder
        os.environ["DJANGO_SETTINGS_MODULE"] = "pneumen.web.site.settings"
        import django

        django.setup()
        from django.core.management import call_command
        from django.test import Client

        call_command("migrate", verbosity=0)
        from pneumen.demo.load import load_demo

        load_demo(fresh=False)
        line = made_up()
        client = Client(HTTP_HOST="127.0.0.1", REMOTE_ADDR="127.0.0.1")
        page = [timed(lambda: client.get("/parts/1/comp/")) for _ in range(9)]
        choices = [
            timed(
                lambda number=number: client.post(
                    "/parts/1/comp/choices/", {"choose": f"{line}:{1 + number % TAKES}"}, headers={"HX-Request": "true"}
                )
            )
            for number in range(9)
        ]
        print(f"{LINES} lines, {TAKES} takes: page {statistics.median(page):.0f} ms (aim 100)", end=", ")
        print(f"a choice {statistics.median(choices):.0f} ms (aim 60)")


def timed(act) -> float:
    start = time.perf_counter()
    answer = act()
    assert answer.status_code == 200, answer.status_code
    return 1000 * (time.perf_counter() - start)


def made_up() -> int:
    """Make lines, takes and what they hold of each other; return the key of a line in the middle."""
    import msgspec
    import numpy as np

    from pneumen.core.performance import Study
    from pneumen.core.rig import EXAMPLE, scene_from_json, simulate, write_take
    from pneumen.core.take import measure, open_recording
    from pneumen.web.audio import files
    from pneumen.web.audio.models import AudioFile
    from pneumen.web.comp.models import LineTake, SheetLine, TakePlace
    from pneumen.web.job.models import DONE, Job
    from pneumen.web.part.models import Part
    from pneumen.web.take.models import Take
    from pneumen.web.take.snapshot import snapshot_of

    part = Part.objects.whole().first()
    scene, _ = scene_from_json(EXAMPLE.encode())
    path = files.incoming(".wav")
    write_take(simulate(scene), path)
    with open_recording(path) as recording:
        measurement = msgspec.to_builtins(measure(recording))
    audio = AudioFile.objects.create(
        owner=part.owner, checksum="0" * 64, container="WAV", encoding="PCM_24", size_bytes=1
    )
    study = msgspec.to_builtins(Study(onsets_s=tuple(np.arange(0.5, SONG_S, 0.5).tolist()), notes=None))
    takes, snapshot = [], snapshot_of(part)
    for number in range(1, TAKES + 1):
        take = Take.objects.create(
            owner=part.owner,
            part=part,
            number=number,
            original_name=f"take {number}.wav",
            audio=audio,
            snapshot=snapshot,
            measurement=measurement,
            judged="clear",
            length_s=SONG_S,
            study=study,
            peaks=bytes(round(400 * SONG_S)),
            peak_s=1 / 400,
        )
        TakePlace.objects.create(owner=part.owner, take=take)
        Job.objects.create(owner=part.owner, target=take, state=DONE)
        takes.append(take)
    step = SONG_S / LINES
    rows = [
        SheetLine.objects.create(
            owner=part.owner,
            part=part,
            position=number,
            words=f"Line {number} of a long song it is",
            section=f"Verse {number // 8}",
            start_s=number * step,
            end_s=(number + 1) * step,
        )
        for number in range(LINES)
    ]
    LineTake.objects.bulk_create(
        LineTake(owner=part.owner, line=row, take=take, holds=True, level_db=-20.0, offset_ms=3.0, cents=2.0)
        for row in rows
        for take in takes
    )
    return rows[LINES // 2].pk


if __name__ == "__main__":
    main()
