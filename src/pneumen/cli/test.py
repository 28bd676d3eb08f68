"""`./pneumen test`: the linter, the import rules and all tests, in one run with one count."""

import argparse
import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from pneumen.cli.common import fail
from pneumen.wording.language import _

ROOT = Path(os.environ.get("PNEUMEN_ROOT", Path(__file__).resolve().parents[3]))
BROWSER = {"chromium": "chromium", "chromedriver": "chromium-driver"}
SOUNDS = {
    "/usr/share/sounds/alsa/Front_Center.wav": "alsa-utils",
    "/usr/share/sounds/sf2/TimGM6mb.sf2": "timgm6mb-soundfont",
    "espeak-ng": "espeak-ng",
    "fluidsynth": "fluidsynth",
}
"""Program, or file, and the Debian package that brings it."""


def run(arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(
        prog=_("pneumen test"), description=_("Run the linter, the import rules and all tests.")
    )
    parser.add_argument("labels", nargs="*", help=_("only these, for example tests.core or tests.web.test_gain"))
    options = parser.parse_args(arguments)
    if not options.labels or any(label.startswith("tests.browser") for label in options.labels):
        _bring(BROWSER)
    if not options.labels or any(label.startswith("tests.core") for label in options.labels):
        _bring(SOUNDS)
    os.chdir(ROOT)
    sys.path.insert(0, str(ROOT))
    with tempfile.TemporaryDirectory(prefix="pneumen-test-") as folder:
        os.environ.update(DJANGO_SETTINGS_MODULE="pneumen.web.site.settings", PNEUMEN_DATA=folder)
        os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # each core has a process of its own already
        import django

        django.setup()
        from tests.runner import CountingRunner, processes

        runner = CountingRunner(verbosity=1, interactive=False, top_level=str(ROOT), parallel=processes())
        return 1 if runner.run_tests(options.labels or ["tests"]) else 0


def _bring(wanted: dict[str, str]) -> None:
    """Install what tests lean on from Debian's packages where it is missing: a browser, voices and instruments."""
    missing = [package for name, package in wanted.items() if not (shutil.which(name) or Path(name).is_file())]
    if not missing:
        return
    if not shutil.which("apt-get"):
        fail(
            _("test: {missing} are missing; install them so that they are on the PATH").format(
                missing=_(" and ").join(missing)
            )
        )
    print(
        _("pneumen: installing {missing} from Debian's packages").format(missing=_(" and ").join(missing)), flush=True
    )
    root = [] if os.geteuid() == 0 else ["sudo"]
    for command in (
        ["apt-get", "update", "-qq"],
        ["apt-get", "install", "-y", "-qq", "--no-install-recommends", *missing],
    ):
        if subprocess.run([*root, *command], stdout=subprocess.DEVNULL, check=False).returncode:
            fail(
                _("test: '{command}' failed; install {missing} by hand").format(
                    command=" ".join(command), missing=_(" and ").join(missing)
                )
            )
