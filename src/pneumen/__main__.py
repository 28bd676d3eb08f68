"""`./pneumen COMMAND`: hand each command to its module, loaded only when it is asked for."""

import importlib
import os
import sys
from typing import Final

COMMANDS: Final = {
    "demo": ("pneumen.web.site.serve", "start Pneumen with the demo song"),
    "test": ("pneumen.cli.test", "run the linter, the import rules and all tests"),
    "measure": ("pneumen.cli.measure", "measure recorded files"),
    "line": ("pneumen.cli.line", "levels from the source to the file"),
    "kit": ("pneumen.cli.kit", "every kit worth buying for the money"),
    "room": ("pneumen.cli.room", "what a room does to the sound"),
    "hookup": ("pneumen.cli.hookup", "what is wrong with a chain of devices, and the order of plugging"),
    "proximity": ("pneumen.cli.proximity", "what closeness and angle do to the response"),
    "delay": ("pneumen.cli.delay", "how late one hears oneself, and how often a buffer is lost"),
    "loopback": ("pneumen.cli.loopback", "how late a played file comes back"),
    "clap": ("pneumen.cli.clap", "what a hand clap tells of the room"),
    "rig": ("pneumen.cli.rig", "let the simulated performer record a take"),
    "comp": ("pneumen.cli.comp", "join takes phrase by phrase into one track"),
    "send": ("pneumen.cli.send", "a delivery of files that line up from zero"),
    "backup": ("pneumen.cli.backup", "all songs and recordings in one file, while Pneumen runs"),
    "restore": ("pneumen.cli.restore", "put a backup back in its place"),
    "check": ("pneumen.cli.check", "hold the data folder against itself; mend what is safe"),
    "manage": ("pneumen.web.site.manage", "Django's own commands, for developers"),
}


def main(arguments: list[str]) -> int:
    if not arguments or arguments[0] in ("-h", "--help", "help"):
        print("usage: ./pneumen COMMAND\n")
        print("\n".join(f"  {name:11}{what}" for name, (_, what) in COMMANDS.items()))
        print("\n./pneumen COMMAND --help tells more of each.")
        return 0
    if arguments[0] not in COMMANDS:
        print(f"pneumen: {arguments[0]}: is no command; there are {', '.join(COMMANDS)}", file=sys.stderr)
        return 2
    try:
        return importlib.import_module(COMMANDS[arguments[0]][0]).run(arguments[1:])
    except BrokenPipeError:  # whoever read the answer has had enough
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
