"""What two microphones do: one source in both, a singer who plays, a stereo pair. Tried out, not stored."""

from dataclasses import dataclass, replace

from pneumen.core.levels import db_to_ratio
from pneumen.core.place import (
    THREE_TO_ONE,
    MonoSum,
    StereoPair,
    mono_sum_of,
    singer_who_plays,
    stereo_image,
)
from pneumen.core.room import critical_distance_m
from pneumen.core.verdict import Verdict
from pneumen.web.gain.why import Why
from pneumen.web.part.models import Part
from pneumen.web.place.two_picture import CombPicture, PairPicture, SidePicture, draw_comb, draw_pair, draw_singer
from pneumen.web.settle import settle
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import near

HOWS = {
    "sum": _("One source in two microphones"),
    "sing": _("A singer who plays"),
    "pair": _("A stereo pair, or a recorder"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Tried:
    """All that can be set on the page; lengths in metres."""

    how: str = "sum"
    near_m: float = 0.2
    far_m: float = 0.6
    softer_db: float | None = None
    ahead_m: float = 0.12
    below_m: float = 0.45
    voice_m: float = 0.15
    play_m: float = 0.25
    louder_db: float = 5.0
    pattern: str = "cardioid"
    play_pattern: str = "cardioid"
    kind: str = "coincident"
    between_deg: float = 90.0
    spacing_m: float = 0.0
    away_m: float = 1.0
    off_deg: float = 0.0

    @property
    def ahead_cm(self) -> float:
        return 100 * self.ahead_m

    @property
    def below_cm(self) -> float:
        return 100 * self.below_m


@dataclass(frozen=True, slots=True, kw_only=True)
class TwoScreen:
    """What the page shows for one way of using two microphones."""

    tried: Tried
    hows: tuple[tuple[str, str, bool], ...]
    verdict: Verdict
    sentence: str
    reading: tuple[tuple[str, str, str], ...]
    comb: CombPicture | None
    side: SidePicture | None
    pair: PairPicture | None
    whys: tuple[Why, ...]


def usual_trial(part: Part) -> Tried:
    """Return what the page starts from: this part's distance and pattern, and its pair where it has one."""
    setup = settle(part)
    near_m, pair = setup.placement.distance_m, setup.pair
    usual = Tried(near_m=near_m, far_m=round(3 * near_m, 2), away_m=near_m, pattern=setup.pattern)
    return replace(usual, between_deg=pair.between_deg, spacing_m=pair.spacing_m) if pair else usual


def two_screen(part: Part, tried: Tried) -> TwoScreen:
    """Return what the page shows.

    Raises:
        OutOfRange, UnknownName, Contradiction: naming what cannot be.
    """
    shown = {"sum": _summed, "sing": _singing, "pair": _paired}[tried.how](part, tried)
    return TwoScreen(
        tried=tried,
        hows=tuple((slug, label, slug == tried.how) for slug, label in HOWS.items()),
        **({"comb": None, "side": None, "pair": None} | shown),
    )


def _summed(part: Part, tried: Tried) -> dict:
    nearer, farther = sorted((tried.near_m, tried.far_m))
    mono = mono_sum_of(nearer, farther, rate_hz=part.song.sample_rate_hz, difference_db=tried.softer_db)
    if not mono.combs:
        sentence = _("In mono the two agree: the sound reaches both at once.")
    elif mono.verdict == Verdict.CLEAR:
        sentence = _("In mono the two agree: the comb is {ripple_db} dB deep at the most.").format(
            ripple_db=figure(mono.ripple_db, 1)
        )
    else:
        sentence = _("In mono the sum is hollowed out from {notches_hz} Hz on, by up to {ripple_db} dB.").format(
            notches_hz=figure(mono.notches_hz[0]), ripple_db=figure(mono.ripple_db)
        )
    return {
        "verdict": mono.verdict,
        "sentence": sentence,
        "reading": (
            *_mono_rows(mono),
            (_("Softer in the farther one"), figure(mono.softer_db, 1), "dB"),
            (
                _("A neighbour’s microphone"),
                _("{three_to_one} off or more").format(three_to_one=near(THREE_TO_ONE * nearer)),
                "",
            ),
        ),
        "comb": draw_comb(mono.delay_ms, db_to_ratio(-mono.softer_db)),
        "whys": (
            Why(
                title=_("Two paths, one comb"),
                lines=(
                    _(
                        "The same sound comes later to the farther microphone: notches at (2n + 1)/(2t), ripple 20 log((1 + g)/(1 − g))."
                    ),
                    _(
                        "Delaying the nearer track by the samples told lines the two up: the comb of this one source is gone."
                    ),
                    _("Three times as far from the other source as from the own: 9.5 dB less of it."),
                ),
                source=_("Everest (from memory); 3:1 is common practice"),
            ),
        ),
    }


def _mono_rows(mono: MonoSum) -> tuple[tuple[str, str, str], ...]:
    return (
        ("Later", figure(mono.delay_ms, 2), "ms"),
        (_("Delay the nearer by"), figure(mono.align_samples), "smp"),
        ("Notches", ", ".join(figure(one) for one in mono.notches_hz) if mono.combs else "–", "Hz"),
        (_("Ripple in mono"), figure(mono.ripple_db, 1) if mono.combs else "–", "dB"),
    )


def _singing(part: Part, tried: Tried) -> dict:
    spot = (tried.ahead_m, -tried.below_m)
    found = singer_who_plays(
        spot,
        voice_m=tried.voice_m,
        play_m=tried.play_m,
        voice_pattern=tried.pattern,
        play_pattern=tried.play_pattern,
        level_difference_db=tried.louder_db,
        critical_m=_critical_m(part),
        rate_hz=part.song.sample_rate_hz,
    )
    return {
        "verdict": found.verdict,
        "sentence": _(
            "Nulls on each other’s source: the voice stands {separation_db} dB over the instrument in "
            "microphone 1, the instrument {separation_db_2} dB over the voice in microphone 2."
        ).format(
            separation_db=figure(found.voice.separation_db), separation_db_2=figure(found.instrument.separation_db)
        ),
        "reading": (
            (
                _("1: from the mouth"),
                _("{at_m} ahead, {at_m_2}").format(at_m=near(found.voice.at_m[0]), at_m_2=_up(found.voice.at_m[1])),
                "",
            ),
            (_("1: turned off the mouth"), figure(abs(found.voice.turned_deg)), "°"),
            (
                _("2: from the mouth"),
                _("{at_m} ahead, {at_m_2}").format(
                    at_m=near(found.instrument.at_m[0]), at_m_2=_up(found.instrument.at_m[1])
                ),
                "",
            ),
            (_("2: turned off the strings"), figure(abs(found.instrument.turned_deg)), "°"),
            (_("Own to other distance"), f"1 : {figure(found.ratio, 1)}", ""),
            *_mono_rows(found.mono),
        ),
        "side": draw_singer(found, spot, (tried.pattern, tried.play_pattern)),
        "whys": (
            Why(
                title="Nulls",
                lines=(
                    _(
                        "Every place ahead of each source and every turn up to 40° is tried; what counts is how far the own source stands over the other."
                    ),
                    _(
                        "What the other source sends round the room comes from everywhere: no null takes it out (statistical, this room)."
                    ),
                    _("No null is taken to be deeper than 20 dB. Where it is not enough: record one after the other."),
                ),
                source=_("first-order patterns, nulls at arccos(−a/b); the 20 dB are common practice, no source"),
            ),
        ),
    }


def _critical_m(part: Part) -> float | None:
    """Return the room's critical distance, source and microphone taken as omni; None where nothing rings."""
    space = settle(part).drawn_space
    rt60_s = space.rt60_s
    return critical_distance_m(space.box.volume_m3, rt60_s) if rt60_s else None


def _up(height_m: float) -> str:
    return f"{near(abs(height_m))} {'up' if height_m >= 0 else 'down'}"


def _paired(part: Part, tried: Tried) -> dict:
    del part
    pair = StereoPair(pattern=tried.pattern, between_deg=tried.between_deg, spacing_m=tried.spacing_m)
    image = stereo_image(pair, tried.off_deg, tried.away_m)
    edge_deg, comb_hz = image.edge_deg, image.edge_comb_hz
    told = (
        _("{edge_deg}° fill the picture").format(edge_deg=figure(2 * edge_deg))
        if edge_deg
        else _("nothing sounds all the way at the side")
    )
    mono_told = (
        _("mono is safe")
        if comb_hz is None
        else _("in mono a sound at the edge combs from {comb_hz} Hz on").format(comb_hz=figure(comb_hz))
    )
    return {
        "verdict": image.verdict,
        "sentence": f"{told[0].upper()}{told[1:]}; {mono_told}.",
        "reading": (
            (_("Fills the picture"), figure(2 * edge_deg) if edge_deg else "–", "°"),
            (_("Source off the middle"), figure(tried.off_deg), "°"),
            (_("Louder on its side"), figure(image.level_db, 1, sign=True), "dB"),
            (_("Earlier on its side"), figure(image.time_ms, 2, sign=True), "ms"),
            (_("Both sides agree"), "yes" if image.sides_agree else _("no: face it"), ""),
        ),
        "pair": draw_pair(pair, edge_deg, tried.off_deg),
        "whys": (
            Why(
                title=_("Level and time"),
                lines=(
                    _("15 dB or 1.12 ms put a sound all the way to one side; both add up."),
                    _(
                        "At one point there is no time difference: mono is safe. Apart, a sound off the middle combs in mono."
                    ),
                    _("A stereo recorder on one instrument faces it: both sides agree, and it stands in the middle."),
                ),
                source=_("Williams, 1987, simplified, from memory"),
            ),
        ),
    }
