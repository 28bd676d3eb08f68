"""Every page and dragged fragment of the demo, beside another checkout in the same run, turn by turn.

    git worktree add ../before COMMIT
    .venv/bin/python benchmarks/pages.py ../before [rounds]

Each checkout answers in a process of its own on a fresh demo. A page is asked for once with cold caches, then
again and again; a fragment gets another value each time, as a drag sends it, so that no cache answers for it. What is
printed are medians in milliseconds and the ratio of this checkout to the other.
"""

import os
import statistics
import subprocess
import sys
import tempfile
from pathlib import Path

HERE = Path(__file__).resolve().parents[1]
PAGES = ("start", "part", "kit", "room", "place", "gain", "takes")
FRAGMENTS = {
    "part/tried": "seen=wide",
    "kit/tried": "budget={whole}&seen=wide",
    "room/tried": "stand_x={metres}&stand_y=1.5&facing=180&mouth=1.5&hour=20&seen=wide",
    "place/tried": "distance={near}&seen=wide",
    "gain/tried": "distance={near}&gain=20&seen=wide",
    "gain/tried, the gain": "distance=20&gain={gain}&seen=wide",
}
ANSWERING = """
import os, sys, time
os.environ["DJANGO_SETTINGS_MODULE"] = "pneumen.web.site.settings"
import django
django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
from django.test import Client
from pneumen.demo.load import load_demo
load_demo(fresh=False)
client = Client(HTTP_HOST="127.0.0.1", REMOTE_ADDR="127.0.0.1")
print("ready", flush=True)
for line in sys.stdin:
    address, fragment = line.split()
    headers = {"HTTP_HX_REQUEST": "true"} if fragment == "yes" else {}
    started = time.perf_counter()
    answer = client.get(address, **headers)
    print(1e3 * (time.perf_counter() - started), answer.status_code, flush=True)
"""


class Checkout:
    """A checkout that answers in a process of its own."""

    def __init__(self, folder: Path, data: str) -> None:
        environment = {**os.environ, "PYTHONPATH": str(folder / "src"), "PNEUMEN_DATA": data}
        self._process = subprocess.Popen(
            [sys.executable, "-c", ANSWERING],
            env=environment,
            cwd=folder,
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
        )
        while self._process.stdout.readline().strip() != "ready":
            pass

    def ask_ms(self, address: str, *, fragment: bool) -> float:
        self._process.stdin.write(f"{address} {'yes' if fragment else 'no'}\n")
        self._process.stdin.flush()
        took_ms, status = self._process.stdout.readline().split()
        if status != "200":
            raise SystemExit(f"{address} answers {status}")
        return float(took_ms)

    def stop(self) -> None:
        self._process.stdin.close()
        self._process.wait()


def address_of(fragment: str, number: int) -> str:
    values = {"whole": 60 + number, "metres": round(1.5 + 0.01 * number, 2), "near": round(20 + 0.3 * number, 1)}
    values |= {"gain": 10 + number / 2}
    return f"/parts/1/{fragment.partition(',')[0]}/?{FRAGMENTS[fragment].format(**values)}"


def timed(checkouts: list[Checkout], addresses: list[str], *, fragment: bool) -> list[list[float]]:
    """Return the times of each checkout in milliseconds, each address asked of one after the other in turn."""
    found: list[list[float]] = [[] for _ in checkouts]
    for turn, address in enumerate(addresses):
        order = range(len(checkouts)) if turn % 2 else reversed(range(len(checkouts)))
        for one in order:
            found[one].append(checkouts[one].ask_ms(address, fragment=fragment))
    return found


def main() -> None:
    other = Path(sys.argv[1]).resolve()
    rounds = int(sys.argv[2]) if len(sys.argv) > 2 else 25
    with tempfile.TemporaryDirectory() as first, tempfile.TemporaryDirectory() as second:
        checkouts = [Checkout(HERE, first), Checkout(other, second)]
        print(f"{'':22}{'here':>8}{'before':>8}{'ratio':>7}   cold: here, before")
        for page in PAGES:
            here, before = timed(checkouts, [f"/parts/1/{page}/"] * (rounds + 1), fragment=False)
            _tell(page, here[1:], before[1:], f"{here[0]:.0f}, {before[0]:.0f}")
        for fragment in FRAGMENTS:
            here, before = timed(checkouts, [address_of(fragment, n) for n in range(rounds)], fragment=True)
            _tell(fragment, here, before, "")
        for checkout in checkouts:
            checkout.stop()


def _tell(name: str, here: list[float], before: list[float], cold: str) -> None:
    mine, theirs = statistics.median(here), statistics.median(before)
    print(f"{name:22}{mine:8.1f}{theirs:8.1f}{mine / theirs:7.2f}   {cold}")


if __name__ == "__main__":
    main()
