"""`./pneumen demo`: prepare the data, start the worker and the server, and say where they are."""

import argparse
import gc
import os
import signal
import socket
import sqlite3
import subprocess
import sys
import threading
from contextlib import suppress
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING
from urllib.request import ProxyHandler, build_opener

from filelock import FileLock

from pneumen.cli.common import Parser, fail
from pneumen.wording.language import _

if TYPE_CHECKING:
    from pneumen.web.take.watch import Watcher

ADDRESS = "127.0.0.1"
DEFAULT_PORT = 8640
FIRST_LOOKED_AT = ("start", "kit", "room", "place")
LOADED_LATE = ("scipy.signal", "scipy.interpolate")
"""What the core loads where it needs it first, for a second: commands go without, no page waits for it."""


def run(arguments: list[str]) -> int:
    parser = Parser("demo", _("Start Pneumen on this machine with the demo song."))
    parser.add_argument(
        "--port",
        type=_port,
        default=DEFAULT_PORT,
        help=_("port on {address}, {default_port} if left out").format(address=ADDRESS, default_port=DEFAULT_PORT),
    )
    parser.add_argument("--fresh", action="store_true", help=_("put the demo song back as it was"))
    parser.add_argument("--data", metavar="DIR", help=_("folder for all data"))
    options = parser.parse_args(arguments)
    _claim(options.port)
    lock = _prepare_folder(options.data, options.port)
    _say(_("preparing the database"))
    _prepare_database(fresh=options.fresh)
    _say(_("starting the worker that measures takes"))
    worker = _Worker()
    worker.start()
    _wake_by(worker)
    watcher = _watch_folders()
    try:
        _serve(options.port)
    finally:
        watcher.stop()
        worker.stop()
        lock.release()
    return 0


def _port(text: str) -> int:
    if not text.isdecimal() or not 1024 <= int(text) <= 65_535:
        raise argparse.ArgumentTypeError(_("{text!r} is no port; give a number from 1024 to 65535").format(text=text))
    return int(text)


def _say(what: str) -> None:
    print(f"pneumen: {what}", flush=True)


def _claim(port: int) -> None:
    with socket.socket() as probe:
        if os.name != "nt":
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((ADDRESS, port))
        except OSError:
            fail(
                _("--port: {port} is in use; stop what runs there or give another, for example --port {port_2}").format(
                    port=port, port_2=port + 1
                )
            )


def _prepare_folder(folder: str | None, port: int) -> FileLock:
    """Return the lock that keeps the data folder to this program."""
    if folder:
        os.environ["PNEUMEN_DATA"] = str(Path(folder).expanduser().resolve())
    from pneumen.web.site import data_format
    from pneumen.web.site.lock import InUse, hold
    from pneumen.web.site.places import data_folder, folder_asked_for

    if problem := data_format.unreadable(folder_asked_for()):
        fail(_("--data: {problem}; give another folder, or move this one away").format(problem=problem))
    try:
        place = data_folder()
        held = hold(place, _("at {address}").format(address=f"http://{ADDRESS}:{port}/"))
        (place / "incoming" / ".probe").write_text("")
        (place / "incoming" / ".probe").unlink()
        data_format.mark(place)
    except InUse as holder:
        fail(
            _("--data: {folder_asked_for} is in use ({holder}); stop that one, or give another folder").format(
                folder_asked_for=folder_asked_for(), holder=holder
            )
        )
    except sqlite3.Error as error:
        fail(
            _("--data: the database in {folder_asked_for} cannot be written ({error}); free some space there").format(
                folder_asked_for=folder_asked_for(), error=error
            )
        )
    except OSError as error:
        where = os.environ.get("PNEUMEN_DATA", _("the data folder"))
        fail(
            _("--data: {where} cannot be written ({lower}); give a folder of your own").format(
                where=where, lower=(error.strerror or "refused").lower()
            )
        )
    return held


def _prepare_database(*, fresh: bool) -> None:
    os.environ["DJANGO_SETTINGS_MODULE"] = "pneumen.web.site.settings"
    import django

    try:
        django.setup()
    except OSError as error:  # the key that is made at the first start
        fail(
            _("--data: its key cannot be written ({lower}); free some space there").format(
                lower=(error.strerror or "refused").lower()
            )
        )
    from django.core.management import call_command
    from django.db import DatabaseError

    from pneumen.demo.load import load_demo
    from pneumen.web.audio.sweep import start
    from pneumen.web.live.services import keep_left_over
    from pneumen.web.site.places import folder_asked_for
    from pneumen.web.site.space import LEFT_AT_START_BYTES, keep_reserve
    from pneumen.web.song.away import purge

    try:
        call_command("migrate", verbosity=0)
        if load_demo(fresh=fresh):
            _say(_("the demo song is in place"))
        if told := start():
            _say(told)
        keep_left_over()
        purge()
        keep_reserve(leaving_bytes=LEFT_AT_START_BYTES)
    except DatabaseError as error:
        fail(
            _("--data: the database in {folder_asked_for} cannot be used ({error}); ./pneumen check tells more").format(
                folder_asked_for=folder_asked_for(), error=error
            )
        )
    except OSError as error:
        fail(
            _("--data: {folder_asked_for}: {lower}; nothing was deleted").format(
                folder_asked_for=folder_asked_for(), lower=(error.strerror or _("cannot be written")).lower()
            )
        )


def _wake_by(worker: "_Worker") -> None:
    from pneumen.web.job.services import wake_by

    wake_by(worker.wake)


def _watch_folders() -> "Watcher":
    from pneumen.web.take.watch import Watcher

    watcher = Watcher()
    watcher.start()
    return watcher


def _serve(port: int) -> None:
    from pneumen.web.site.server import server_for
    from pneumen.web.site.wsgi import application

    server = server_for(application, ADDRESS, port)
    signal.signal(signal.SIGTERM, lambda *_rest: sys.exit(0))
    threading.Thread(target=_look_at_first_pages, args=(f"http://{ADDRESS}:{port}/",), daemon=True).start()
    _say(_("ready at {address} (stop with Ctrl+C)").format(address=f"http://{ADDRESS}:{port}/"))
    try:
        server.run()
    except KeyboardInterrupt:
        _say("stopped")


def _look_at_first_pages(address: str) -> None:
    """Ask for the pages a person opens first, while they open them: the first look at each reads much code."""
    ask = build_opener(ProxyHandler({})).open  # straight to this machine, whatever leads out of it
    with suppress(OSError, ValueError), ask(address) as home:
        step = home.geturl().rstrip("/").rpartition("/")[2]
        for other in FIRST_LOOKED_AT:
            with suppress(OSError, ValueError), ask(home.geturl().replace(f"/{step}/", f"/{other}/")):
                pass
    for package in LOADED_LATE:
        import_module(package)
    # What is loaded now stays. Looked through anew at every full collection, it would hold a drag up for 75 ms.
    gc.collect()
    gc.freeze()


class _Worker:
    """The worker process beside the server; started again should it ever die."""

    def __init__(self) -> None:
        self._stopping = threading.Event()
        self._process: subprocess.Popen | None = None

    def start(self) -> None:
        threading.Thread(target=self._watch, daemon=True).start()

    def _watch(self) -> None:
        environment = {**os.environ, "OPENBLAS_NUM_THREADS": "1"}
        while not self._stopping.is_set():
            # Its standard input is its bell, and tells it when this process is gone.
            self._process = subprocess.Popen(
                [sys.executable, "-m", "pneumen.web.job.worker"], env=environment, stdin=subprocess.PIPE
            )
            self._process.wait()
            self._stopping.wait(1)

    def wake(self) -> None:
        """Have it look for work; one that is just starting does so by itself."""
        process = self._process
        if process and process.stdin:
            with suppress(OSError):
                process.stdin.write(b".")
                process.stdin.flush()

    def stop(self) -> None:
        self._stopping.set()
        if self._process and self._process.poll() is None:
            self._process.terminate()
            self._process.wait(5)
