"""pneumen rig SCENE.json OUT.wav: the simulated performer records a take."""

import os
from pathlib import Path

from pneumen.cli.common import Parser, fail, print_json, read_document
from pneumen.core.errors import PneumenError
from pneumen.core.rig import EXAMPLE, PERFORMERS, Scene, SimulatedTake, scene_from_json, simulate, write_take
from pneumen.wording.language import _

DESCRIPTION = _("""The simulated performer, microphone, interface and computer record a take.
The same seed gives the same file.

SCENE.json holds:
  chain           a setup as the line command reads it
  source          {performers}
  duration_s      6 to 600, 12 if left out
  sample_rate_hz  16000 to 192000, 48000 if left out
  bit_depth       16 or 24, 24 if left out
  seed            a whole number, 0 if left out
  hidden          true: loudness, spectrum and data sheets are drawn from the seed and not told
  puff_m_per_s    how fast the air of a P reaches the capsule; left out, it is as strong as the voice
  take            with hidden, the number of the take in that world, 1 if left out

An example that runs (save it as SCENE.json, or pipe it in with -):
{example}
""").format(performers=", ".join(PERFORMERS), example=EXAMPLE)


def run(arguments: list[str]) -> int:
    parser = Parser("rig", DESCRIPTION)
    parser.add_argument("scene", metavar="SCENE.json", help=_("a scene, or - for standard input"))
    parser.add_argument("out", metavar="OUT.wav", help=_("the file to write"))
    options = parser.parse_args(arguments)
    try:
        scene, ignored = scene_from_json(read_document(options.scene))
    except PneumenError as error:
        fail(f"{options.scene}: {error}")
    take = simulate(scene)
    _write(take, Path(options.out), scene.bit_depth)
    if options.text:
        print(
            _("{out}: {source}, {duration_s:g} s at {sample_rate_hz} Hz").format(
                out=options.out, source=scene.source, duration_s=scene.duration_s, sample_rate_hz=scene.sample_rate_hz
            )
        )
        for caveat in take.caveats:
            print(f"  {caveat}")
    else:
        print_json(_summary(options.out, scene, take, ignored))
    return 0


def _write(take: SimulatedTake, out: Path, bit_depth: int) -> None:
    """Write beside the target and rename, so that no half file is left behind."""
    part = out.with_name(f".{out.name}.part")
    try:
        write_take(take, part, bit_depth)
        os.replace(part, out)
    except (OSError, RuntimeError):
        part.unlink(missing_ok=True)
        fail(_("{out}: cannot be written; give a file name in a folder that is there and is yours").format(out=out))


def _summary(out: str, scene: Scene, take: SimulatedTake, ignored: tuple[str, ...]) -> dict[str, object]:
    return {
        "file": out,
        "source": scene.source,
        "duration_s": scene.duration_s,
        "sample_rate_hz": scene.sample_rate_hz,
        "bit_depth": scene.bit_depth,
        "seed": scene.seed,
        "caveats": [
            *take.caveats,
            *(_("{key} is not known here and was left aside").format(key=key) for key in ignored),
        ],
    }
