"""The program under kills, crowds and hostile input, as people start it: counts, and memory at its peak.

    PYTHONPATH=src:. .venv/bin/python benchmarks/soak.py [kills] [crowds]

Nothing is random but when a kill falls: every count that should be 0 is marked so.
"""

import io
import random
import sqlite3
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager, suppress
from functools import cache
from pathlib import Path

import numpy as np
import soundfile
from tests.gear import random_catalogue
from tests.signals import phrases, wav
from tests.web.program import Program, pneumen

from pneumen.core.kit import built_in_catalogue, catalogue_to_csv
from pneumen.web.site.data_format import DATABASE

MB = 1_000_000
PATIENCE_S = 300
NOISE = {"noise_level_dba": 30, "noise_from_hour": 0, "noise_to_hour": 24} | dict.fromkeys(
    ("noise_x_m", "noise_y_m", "noise_z_m"), 1
)
BAD_FIGURES = ("nan", "inf", "-inf", "1e400", "²", "9" * 5000, "1/" + "9" * 400, "\0", "'; DROP TABLE song_song; --")
PAGES = ("start", "part", "kit", "room", "hookup", "place", "gain", "takes")
SHOULD_BE_0 = (
    "acknowledged takes lost",
    "acknowledged songs lost",
    "unsound folders after a kill",
    "writes lost",
    "answers of 500",
    "tracebacks",
    "takes stuck",
)


def main() -> None:
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    crowds = int(sys.argv[2]) if len(sys.argv) > 2 else 5
    counts: Counter = Counter()
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "data"
        kill_again_and_again(data, kills, counts)
        with running(data, counts) as program:
            for number in range(crowds):
                crowd(program, number, counts)
        with running(data, counts) as program:
            throw_figures(program, counts)
            print("memory at its peak, server and worker:")
            for name, throw in HOSTILE.items():
                start = time.perf_counter()
                answer = throw(program)
                finish_work(program, counts)
                counts["hostile uploads and bodies"] += 1
                counts["answers of 500"] += answer == 500
                peaks = [program.peak_bytes(pid) / MB for pid in (program.process.pid, *program.workers())]
                told = " and ".join(f"{peak:4.0f}" for peak in peaks)
                print(f"{told} MB after {name} (answered {answer}, {time.perf_counter() - start:.1f} s)", flush=True)
    for name in (*counts, *(name for name in SHOULD_BE_0 if name not in counts)):
        print(f"{counts[name]:8} {name}{'  (should be 0)' if name in SHOULD_BE_0 else ''}")


@contextmanager
def running(data: Path, counts: Counter) -> Iterator[Program]:
    """Have the program run on a folder, and count what it says that nobody should see."""
    program = Program(data)
    try:
        yield program
    finally:
        program.stop()
        counts["tracebacks"] += "".join(program.said).count("Traceback")


def kill_again_and_again(data: Path, kills: int, counts: Counter) -> None:
    """Upload takes and make songs until the power is cut; then see whether all is there that was acknowledged."""
    takes: set[str] = set()
    songs: set[str] = set()
    for number in range(kills):
        program = Program(data)
        going = threading.Event()
        going.set()
        writers = [
            threading.Thread(target=keep_uploading, args=(program, number, takes, going)),
            threading.Thread(target=keep_making_songs, args=(program, number, songs, going)),
        ]
        program.token()
        for writer in writers:
            writer.start()
        time.sleep(random.uniform(0.2, 3.0))
        program.kill()
        going.clear()
        for writer in writers:
            writer.join()
        counts["kills"] += 1
        code, told = pneumen("check", folder=data)
        counts["unsound folders after a kill"] += code != 0 and "not there" in told
    with running(data, counts) as program:
        finish_work(program, counts)
        page = program.get("/songs/").text
        counts["acknowledged songs"] = len(songs)
        counts["acknowledged songs lost"] = sum(f">{name}<" not in page for name in songs)
        counts["acknowledged takes"] = len(takes)
        counts["acknowledged takes lost"] = sum(program.get(audio_of(take)).status != 200 for take in takes)


def keep_uploading(program: Program, round_number: int, takes: set[str], going: threading.Event) -> None:
    level_dbfs = -10.0 - round_number / 10
    while going.is_set():
        level_dbfs -= 0.01
        with suppress(OSError):
            answer = program.post("/parts/1/takes/upload/", file=wav(phrases(level_dbfs)), follow=False)
            if answer.status == 302:
                takes.add(answer.location)


def keep_making_songs(program: Program, round_number: int, songs: set[str], going: threading.Event) -> None:
    number = 0
    while going.is_set():
        number += 1
        with suppress(OSError):
            name = f"Song {round_number}-{number}"
            if program.post("/songs/new/", {"name": name}, follow=False).status == 302:
                songs.add(name)


def audio_of(take: str) -> str:
    path, _, number = take.partition("?take=")
    return f"{path}{number}/audio/"


def finish_work(program: Program, counts: Counter) -> None:
    """Wait until every take and trial is measured or has failed."""
    end = time.monotonic() + PATIENCE_S
    while asked(program, "SELECT count(*) FROM job_job WHERE state IN ('waiting', 'working')"):
        if time.monotonic() > end:
            counts["takes stuck"] += 1
            return
        time.sleep(0.2)


def crowd(program: Program, number: int, counts: Counter) -> None:
    """Let forty write into the lists of one song at once, each a thing of its own, and count what is stored."""
    part = program.post("/songs/new/", {"name": f"Crowd {number}"}).path.split("/")[2]
    microphones = [item.id for item in built_in_catalogue() if item.kind == "microphone"][:10]
    writes = [
        *((f"/parts/{part}/room/noises/", {"noise_called": f"Noise {n}", **NOISE}) for n in range(10)),
        *((f"/parts/{part}/kit/mark/", {"item": item, "mark": "never"}) for item in microphones),
        *((f"/parts/{part}/start/tick/", {"step": f"step-{n}", "done": "on"}) for n in range(20)),
    ]
    gate, before = threading.Barrier(len(writes)), rows(program)

    def write(path: str, data: dict[str, object]) -> None:
        gate.wait()
        program.post(path, data)

    threads = [threading.Thread(target=write, args=one) for one in writes]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    counts["writes at once"] += len(writes)
    counts["writes lost"] += before + len(writes) - rows(program)


def rows(program: Program) -> int:
    tables = ("room_noisesource", "kit_kitmark", "start_tick")
    return sum(asked(program, f"SELECT count(*) FROM {table}") for table in tables)


def asked(program: Program, question: str) -> int:
    """Return what the program's database answers, read beside it."""
    with closing(sqlite3.connect(f"{(program.data / DATABASE).as_uri()}?mode=ro", uri=True)) as reading:
        return int(reading.execute(question).fetchone()[0])


def throw_figures(program: Program, counts: Counter) -> None:
    """Send what is no figure to every field of every form."""
    for page in PAGES:
        for action, names in program.forms(f"/parts/1/{page}/"):
            if any(word in action for word in ("delete", "undo", "remove")):
                continue
            for name in names:
                for bad in BAD_FIGURES:
                    counts["hostile fields"] += 1
                    counts["answers of 500"] += program.post(action, {name: bad}, follow=False).status == 500


@cache
def quiet_flac(seconds: int, channels: int, rate_hz: int) -> bytes:
    """Return hours of silence in a few kilobytes."""
    file = io.BytesIO()
    with soundfile.SoundFile(file, "w", rate_hz, channels, "PCM_16", format="FLAC") as writer:
        block = np.zeros((rate_hz, channels), np.int16)
        for _ in range(seconds):
            writer.write(block)
    return file.getvalue()


def uploads(path: str, field: str, make: Callable[[], bytes], name: str, **data: object) -> Callable[[Program], int]:
    return lambda program: program.post(path, data, file=make(), field=field, name=name, follow=False).status


def import_catalogue(items: int) -> Callable[[Program], int]:
    def throw(program: Program) -> int:
        document = catalogue_to_csv(random_catalogue(1, items)).encode()
        review = program.post("/gear/import/", file=document, field="file", name="many.csv", follow=False)
        program.post(review.location, {"yes": "1"}, follow=False)
        status = program.get("/parts/1/kit/").status
        program.post("/gear/forget/", follow=False)
        return status

    return throw


def wide_csv() -> bytes:
    columns = ",".join(f"c{number}" for number in range(100_000))
    return f"id,kind,name,price,{columns}\na,microphone,A,1\n".encode()


def noise() -> bytes:
    return wav(np.random.default_rng(1).normal(0, 0.05, 100 * MB))


def large_body(program: Program) -> int:
    return program.post("/parts/1/takes/upload/", file=bytes(1_200 * MB), follow=False).status


BOMB = (900, 8, 192_000)
HOSTILE: dict[str, Callable[[Program], int]] = {
    "a clap of 15 minutes, 8 channels, 192 kHz": uploads(
        "/parts/1/room/clap/", "clap", lambda: quiet_flac(*BOMB), "c.flac"
    ),
    "a trial of that": uploads(
        "/parts/1/place/trials/make/", "phrases", lambda: quiet_flac(*BOMB), "t.flac", spot=["here", "school-4"]
    ),
    "a take of that": uploads("/parts/1/takes/upload/", "recording", lambda: quiet_flac(*BOMB), "t.flac"),
    "a backing track of that": uploads("/parts/1/part/backing/", "backing", lambda: quiet_flac(*BOMB), "b.flac"),
    "a take of ten hours' silence": uploads(
        "/parts/1/takes/upload/", "recording", lambda: quiet_flac(36_000, 1, 48_000), "long.flac"
    ),
    "a catalogue of 100,000 columns": uploads("/gear/import/", "file", wide_csv, "wide.csv"),
    "a catalogue of 2,000 items, and Kit": import_catalogue(2_000),
    "an upload of 300 MB of noise": uploads("/parts/1/takes/upload/", "recording", noise, "n.wav"),
    "a body of 1.2 GB": large_body,
}


if __name__ == "__main__":
    main()
