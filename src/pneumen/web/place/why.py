"""Why the Place screen says what it says."""

from pneumen.core.forecast import PartSetup
from pneumen.core.place import SWAY_M
from pneumen.web.gain.why import Why
from pneumen.web.place.services import SHEETS_M
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import near


def whys_of_place(setup: PartSetup, sheet_m: float) -> tuple[Why, ...]:
    pattern, pops = setup.pattern, setup.source.pops
    whys = [
        Why(
            title=_("Bass build-up"),
            lines=(
                _(
                    "A {pattern} near a point source: a + b cos θ (1 + 1/(jkr)), k = 2πf/c; told is 100 Hz against 1 kHz."
                ).format(pattern=pattern),
                _(
                    "Up to 6 dB it is warmth; beyond 12 it has to be taken out. Something large bends the wave less: its half width counts like distance (estimate)."
                ),
            ),
            source=_("Olson; Beranek (from memory)"),
        ),
        Why(
            title=_("Low-cut and the data sheet"),
            lines=(
                _("The curve is what this pattern adds to the data sheet’s own, taken as measured {sheet_m}.").format(
                    sheet_m=_taken(sheet_m)
                ),
                _("A low-cut is taken as 12 dB an octave: −10 log10(1 + (fc/f)⁴); what a switch does is on its sheet."),
            ),
            source=_("second-order Butterworth; the 80 Hz are common practice, no source"),
        ),
        Why(
            title=_("Room and sway"),
            lines=(
                _(
                    "Direct over room sound: mirror images to the third order, each losing to what its path meets, and Eyring’s tail; "
                    "calm where it stands {dry_enough_db} dB over."
                ).format(dry_enough_db=figure(setup.source.dry_enough_db)),
                _("Sway of {sway_m} to and fro: 20 log10((d + s)/(d − s)); calm up to 6 dB.").format(
                    sway_m=near(SWAY_M)
                ),
            ),
            source=_("Allen and Berkley, 1979; Eyring, 1930; the limits are common practice, no source"),
        ),
    ]
    if pops:
        whys.append(
            Why(
                title=_("Pops and hard S"),
                lines=(
                    _(
                        "A P is a jet: 15 m/s from an opening of 15 mm (assumed), falling as 6 D/x, half as fast 5.5° off its axis, 6 % at 15°. "
                        "A screen leaves about a tenth (estimate)."
                    ),
                    _(
                        "A hard S is beamed: 3 dB weaker 30° off the mouth’s axis (estimate). Turning the microphone on the spot leaves it in the air stream."
                    ),
                ),
                source=_("Pope, Turbulent Flows, ch. 5 (from memory)"),
            )
        )
    return tuple(whys)


def _taken(sheet_m: float) -> str:
    return _("far off") if sheet_m >= SHEETS_M[-1] else _("at {sheet_m}").format(sheet_m=near(sheet_m))
