"""A command as people run it, in a process of its own: forked, so that what tests have loaded is not loaded again."""

import os
import subprocess
import sys
import tempfile
import traceback
import warnings
from pathlib import Path

from pneumen.__main__ import main

ROOT = Path(__file__).resolve().parents[2]


def pneumen(*arguments, stdin=b"", cwd=None):
    """Return what a command answered, as subprocess.run does."""
    with tempfile.TemporaryFile() as fed, tempfile.TemporaryFile() as out, tempfile.TemporaryFile() as told:
        fed.write(stdin)
        fed.seek(0)
        child = os.fork()
        if not child:
            _answer(list(map(str, arguments)), (fed, out, told), cwd)
        code = os.waitstatus_to_exitcode(os.waitpid(child, 0)[1])
        for file in (out, told):
            file.seek(0)
        return subprocess.CompletedProcess(arguments, code, out.read(), told.read())


def _answer(arguments, files, cwd):
    """Be the command: with these files for what comes in and goes out, and Python's usual warnings."""
    code = 1
    try:
        for number, file in enumerate(files):
            os.dup2(file.fileno(), number)
        sys.stdin, sys.stdout, sys.stderr = (
            open(number, mode, encoding="utf-8", closefd=False)  # noqa: SIM115 - they end with the process
            for number, mode in ((0, "r"), (1, "w"), (2, "w"))
        )
        warnings.resetwarnings()
        for unseen in (DeprecationWarning, PendingDeprecationWarning, ImportWarning, ResourceWarning):
            warnings.simplefilter("ignore", unseen)
        if cwd:
            os.chdir(cwd)
        code = main(arguments)
    except SystemExit as end:
        code = end.code or 0
    except BaseException:
        traceback.print_exc()
    finally:
        sys.stdout.flush()
        sys.stderr.flush()
        os._exit(code)
