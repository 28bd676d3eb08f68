"""The launcher: standard library only, one clear line for what it cannot do."""

import ast
import importlib.machinery
import importlib.util
import io
import subprocess
import sys
import tempfile
import unittest
from contextlib import redirect_stderr
from pathlib import Path
from unittest import mock

ROOT = Path(__file__).resolve().parents[2]


def load():
    loader = importlib.machinery.SourceFileLoader("launcher", str(ROOT / "pneumen"))
    module = importlib.util.module_from_spec(importlib.util.spec_from_loader("launcher", loader))
    with mock.patch.object(sys, "dont_write_bytecode", True):
        loader.exec_module(module)
    return module


class Launching(unittest.TestCase):
    def setUp(self):
        self.launcher = load()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.lock = self.folder / "requirements.lock"
        self.lock.write_text("some-package==1.0 \\\n    --hash=sha256:0\nother==2\n")
        self.launcher.ENVIRONMENT = self.folder / "env"

    def stopped(self, act):
        told = io.StringIO()
        with redirect_stderr(told), self.assertRaises(SystemExit) as caught:
            act()
        self.assertEqual(caught.exception.code, 2)
        lines = [line for line in told.getvalue().splitlines() if not line.startswith("pneumen: preparing")]
        self.assertEqual(len(lines), 1, lines)
        return lines[0]

    def test_only_the_standard_library(self):
        tree = ast.parse((ROOT / "pneumen").read_text())
        names = {alias.name for node in ast.walk(tree) if isinstance(node, ast.Import) for alias in node.names}
        names |= {node.module for node in ast.walk(tree) if isinstance(node, ast.ImportFrom)}
        self.assertLessEqual({name.split(".")[0] for name in names}, sys.stdlib_module_names)

    def test_an_old_python_is_told(self):
        with mock.patch.object(self.launcher.sys, "version_info", (3, 9, 2)):
            self.assertRegex(self.stopped(self.launcher.main), "needs Python 3.11 or newer, this is 3.9.2")

    def test_a_folder_that_cannot_be_written_is_told(self):
        with mock.patch.object(self.launcher.subprocess, "run", side_effect=PermissionError(13, "Permission denied")):
            told = self.stopped(lambda: self.launcher.make_environment(self.lock))
        self.assertRegex(told, "cannot be written .Permission denied.; move Pneumen")

    def test_packages_that_do_not_come_are_told(self):
        with (
            mock.patch.object(self.launcher.subprocess, "run"),
            mock.patch.object(self.launcher, "install", side_effect=subprocess.CalledProcessError(1, "pip")),
        ):
            told = self.stopped(lambda: self.launcher.make_environment(self.lock))
        self.assertRegex(told, "requirements.lock could not be installed.*check the network")
        self.assertFalse((self.launcher.ENVIRONMENT / "requirements.stamp").exists())

    def test_an_environment_that_fits_is_left_alone(self):
        python = self.launcher.python_of(self.launcher.ENVIRONMENT)
        python.parent.mkdir(parents=True)
        python.write_text("")
        (self.launcher.ENVIRONMENT / "requirements.stamp").write_text(self.launcher.digest_of(self.lock))
        with mock.patch.object(self.launcher, "install") as install:
            self.launcher.make_environment(self.lock)
            install.assert_not_called()
            self.lock.write_text("changed==1\n")
            with redirect_stderr(io.StringIO()):
                self.launcher.make_environment(self.lock)
            install.assert_called_once_with(self.lock)

    def test_every_package_is_locked_by_hash(self):
        for name in ("requirements.lock", "requirements-test.lock"):
            text = (ROOT / name).read_text()
            packages = [line for line in text.splitlines() if line[:1].isalnum()]
            self.assertTrue(packages)
            for package in text.split("\n\n")[0].split("\\\n"):
                self.assertTrue(package)
            self.assertGreaterEqual(text.count("--hash=sha256:"), len(packages))
            self.assertNotIn("http", text)
