"""Why the Room screen says what it says."""

from pneumen.core.forecast import PartSetup
from pneumen.core.room import Boxiness, mid_rt60_of, reverberation_times_eyring_s, reverberation_times_sabine_s
from pneumen.web.gain.why import Why
from pneumen.web.room.models import Room
from pneumen.wording.figures import figure
from pneumen.wording.language import _


def _coincidences(boxiness: Boxiness) -> str:
    """Modes that fall together are heard as one loud note."""
    if not boxiness.coincidences_hz:
        return _("No two of its lowest modes fall together.")
    hertz = ", ".join(figure(one) for one in boxiness.coincidences_hz[:4])
    return _("Modes fall together at {hertz} Hz: notes there boom.").format(hertz=hertz)


def whys_of_room(room: Room, here: PartSetup, lead_db: float, boxiness: Boxiness) -> tuple[Why, ...]:
    box = here.drawn_space.box
    sloping = (_("The sloping part is taken at its mean height."),) if room.sloping else ()
    return (
        Why(
            title=_("How the room sound is worked out"),
            lines=(
                _(
                    "Mirror images to the third order, each with the {pattern}’s pattern and what its path meets, then Eyring’s tail: "
                    "the direct sound leads by {lead_db} dB, weighted for speech, 500 Hz to 4 kHz."
                ).format(pattern=here.pattern, lead_db=figure(lead_db, 1)),
                _(
                    "The contours take the microphone straight before the mouth; each echo loses to just what its path meets."
                ),
                _("Furnished rooms are less even than this: floor and ceiling soft, walls bare ring on."),
                *sloping,
            ),
            source=_("Allen and Berkley, 1979; Eyring, 1930; weights of ANSI S3.5 (from memory)"),
        ),
        Why(
            title=_("Reverberation time (RT60)"),
            lines=(
                _("{volume_m3} m³, {surface_m2} m² of walls, {absorption_m2} m² of absorption at 1 kHz.").format(
                    volume_m3=figure(box.volume_m3, 1),
                    surface_m2=figure(box.surface_m2),
                    absorption_m2=figure(float(box.absorption_m2[3]), 1),
                ),
                _(
                    "Eyring: T = 0.161 V / (−S ln(1 − A/S)), in the middle {box} s. "
                    "Sabine: T = 0.161 V/A, {box_2} s; it says too much where much absorbs."
                ).format(
                    box=figure(mid_rt60_of(reverberation_times_eyring_s(box)), 2),
                    box_2=figure(mid_rt60_of(reverberation_times_sabine_s(box)), 2),
                ),
            ),
            source=_(
                "Eyring, 1930; Sabine, 1922; coefficients: Vorländer, Auralization, 2008, and estimates that say so"
            ),
        ),
        Why(
            title=_("Boxed in?"),
            lines=(
                _("{modes} modes below 150 Hz; first echoes within 5 ms at {early_db} dB.").format(
                    modes=boxiness.modes, early_db=figure(boxiness.early_db)
                ),
                _coincidences(boxiness),
                _(
                    "A closet full of clothes is dry, but clothes take the treble and leave the bass; a larger room with something soft "
                    "behind the singer keeps the first echoes late."
                ),
            ),
            source=_("common practice, no source"),
        ),
    )
