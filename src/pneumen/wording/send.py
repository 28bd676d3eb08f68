"""What is said of a delivery: to whoever makes it, and to whoever gets it."""

import json
from collections.abc import Mapping
from typing import Any, Final

from pneumen.core.send import Delivered, Delivery, SendFile
from pneumen.core.take import Finding
from pneumen.wording.figures import clock, figure, kilohertz, verdict_words
from pneumen.wording.language import _

DECIMALS: Final = 6
MANIFEST, NOTES = "manifest.json", "notes.txt"
LINES_UP: Final = _(
    "Every file begins at the song's zero and ends at its end: lay them all at the start of an empty project."
)
TOLD: Final = {
    "clipping": _("It clips, first at {at}; places in all: {value:.0f}. Send another take."),
    "over-full-scale": _("It went {value:.2f} dB over full scale and was lowered by as much."),
    "lossy": _("It was compressed with loss once, as an MP3 is: send the recording it was made from."),
    "lossy edge": _("Nothing is heard above 16 kHz: some microphones end there; if it was an MP3 once, say so."),
    "silent": _("It holds no sound: was the right track exported?"),
    "silent outside": _("All of it lies outside the song, so that the file is silent: check its offset."),
    "runs-over": _("{value:.2f} s lie beyond the song's end and were left out."),
    "starts-before-zero": _("{value:.2f} s lie before the song's zero and were left out."),
    "resampled": _("It was recorded at {rate} and resampled to the song's rate."),
    "resampled ppm": _("Its clock ran {value:.1f} ppm beside the song's; it was resampled."),
    "depth-raised": _("It holds 16 bits: 24 in the package gain nothing, and lose nothing."),
    "dual-mono": _("Both its sides were the same: it is sent as mono."),
    "dual-mono inverted": _("One side was the other turned over, and a sum would be silent: one is sent, as mono."),
    "dual-mono kept": _("Both its sides are the same; you asked for stereo."),
    "one-sided": _("Only one of its sides held sound: it is sent as mono."),
    "one-sided kept": _("Only one of its sides holds sound; you asked for stereo."),
    "mixed-to-mono": _("Its two sides differ, and were mixed to one as you asked: listen for what cancels."),
    "not-the-same-length": _("It ends {value:.2f} s before the song does; silence fills the rest."),
}


def advice_on_delivery(finding: Finding) -> str:
    """Return what is to be known of a delivered file, and what to do about it."""
    told = TOLD.get(f"{finding.kind} {finding.cause}") or TOLD[finding.kind]
    value = finding.value or 0.0
    return told.format(value=value, at=clock(finding.start_s), rate=kilohertz(value))


def manifest_of(delivery: Delivery, ignored: tuple[str, ...] = ()) -> dict[str, Any]:
    """Return a delivery as the contract's JSON."""
    pack = delivery.pack
    findings = [
        {"file": one.file, "kind": finding.kind, "verdict": finding.verdict, "advice": advice_on_delivery(finding)}
        for one in delivery.files
        for finding in one.findings
    ]
    findings += [
        {
            "file": "",
            "kind": "ignored-key",
            "verdict": "watch",
            "advice": _("{key} is not known here and was left aside: look for a slip of the pen.").format(key=key),
        }
        for key in ignored
    ]
    return {"song": pack.song, "files": [_entry(one) for one in delivery.files], "findings": findings}


def documents_of(delivery: Delivery, ignored: tuple[str, ...] = ()) -> Mapping[str, str]:
    """Return what lies beside the files: the manifest for programs, the notes for a person."""
    manifest = json.dumps(manifest_of(delivery, ignored), ensure_ascii=False, allow_nan=False, indent=1)
    return {MANIFEST: manifest + "\n", NOTES: notes_of(delivery)}


def notes_of(delivery: Delivery) -> str:
    """Return the notes for whoever gets the files."""
    pack = delivery.pack
    head = [pack.song, "=" * len(pack.song), ""]
    if pack.tempo_bpm is not None:
        head.append(_("Tempo: {tempo:g} beats a minute").format(tempo=pack.tempo_bpm))
    if pack.key:
        head.append(_("Key: {key}").format(key=pack.key))
    head.append(_("Length: {length}").format(length=clock(pack.length_s, decimals=3)))
    head.append(
        _("Files: {rate}, {bits} bit, {kind}, nothing normalised, no effects").format(
            rate=kilohertz(pack.rate_hz), bits=pack.bits, kind=pack.format.upper()
        )
    )
    head += ["", str(LINES_UP), ""]
    if pack.note:
        head += [pack.note.strip(), ""]
    for wanted, one in zip(pack.files, delivery.files, strict=True):
        head += _about(wanted, one)
    return "\n".join(head)


def _entry(one: Delivered) -> dict[str, Any]:
    levels = {"sample_peak_dbfs": one.sample_peak_dbfs, "true_peak_dbtp": one.true_peak_dbtp, "gain_db": one.gain_db}
    return {
        "name": one.name,
        "file": one.file,
        "sha256": one.sha256,
        "duration_s": round(one.duration_s, DECIMALS),
        "sample_rate_hz": one.sample_rate_hz,
        "bits": one.bits,
        "channels": one.channels,
        **{key: None if level is None else round(level, DECIMALS) for key, level in levels.items()},
    }


def _about(wanted: SendFile, one: Delivered) -> list[str]:
    sides = _("mono") if one.channels == 1 else _("stereo")
    peak = _("silent") if one.sample_peak_dbfs is None else f"{figure(one.sample_peak_dbfs, 1)} dBFS"
    lines = [one.file, "-" * len(one.file), f"{wanted.name}: {sides}, {_('highest peak')} {peak}"]
    if wanted.about:
        lines.append(wanted.about.strip())
    lines += [f"{verdict_words(finding.verdict)}: {advice_on_delivery(finding)}" for finding in one.findings]
    return [*lines, f"SHA-256 {one.sha256}", ""]
