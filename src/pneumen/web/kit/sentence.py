"""What Kit says first: what a kit costs beside how the song is set up now, and whether it is enough."""

from collections.abc import Sequence
from dataclasses import dataclass

from pneumen.core.kit import ALIKE_DB, Crowd, Kit, KitLine, Worth
from pneumen.core.room import SAME_LEAD_DB
from pneumen.web.kit.picture import Points
from pneumen.web.kit.services import CENT
from pneumen.wording.figures import figure, money
from pneumen.wording.language import _
from pneumen.wording.order import crowd_told, money_short_told


@dataclass(frozen=True, slots=True, kw_only=True)
class Now:
    """How the song is set up now: what is still to pay, where not all goes in at once, what is short of enough.

    name is the part that is, "" for the only one. is_this_kit: it is set up with the kit that is looked at.
    """

    lines: Sequence[KitLine]
    total: float
    budget: float
    crowd: Crowd | None
    name: str
    worth: Worth
    is_this_kit: bool

    @property
    def short(self) -> str:
        """What is short of enough, in words; nothing where all is enough."""
        if self.worth.short_db <= SAME_LEAD_DB:
            return ""
        return _("{name} is {short}").format(name=self.name or "it", short=_short_told(self.worth))

    @property
    def told(self) -> str:
        """What it costs still, and whether it is enough."""
        costs = _("{total} completes the kit").format(total=money(self.total)) if self.total else _("nothing is to buy")
        over = _over_told(self.total, self.budget)
        end = self.short or _("that is enough")
        return _("As it is set up now, {costs}{over}, and {end}").format(costs=costs, over=over, end=end)


def clean_told(kit: Kit, worst: str) -> str:
    """Say what the kit's clean range is, of which of several parts, and what limits it."""
    whose = _(" for {worst}, the least of all parts").format(worst=worst) if worst else ""
    return _("{clean_range_db} dB of clean range{whose}; the {noise_set_by} sets your noise.").format(
        clean_range_db=figure(kit.clean_range_db), whose=whose, noise_set_by=kit.noise_set_by
    )


def sentence_of(
    kit: Kit,
    worth: Worth,
    clean_told: str,
    total: float,
    points: Points,
    budget: float,
    now: Now | None,
    *,
    own: str = "",
) -> str:
    """Judge a kit looked at; how the song is set up now is said first where that is another kit.

    Args:
        own: what records by itself as long as the money does not reach.
    """
    enough = worth.short_db <= SAME_LEAD_DB
    if now is not None and now.total > budget + CENT:
        short = _(" Even then {short}.").format(short=now.short) if now.short else ""
        other = (
            "" if now.is_this_kit else _(" What is shown here is another kit, for {total}.").format(total=money(total))
        )
        return money_short_told(now.lines, budget, own) + short + other
    if now is None and points[-1][0] > budget + CENT:
        short = "" if enough else _(" Even then it is {short}.").format(short=_short_told(worth))
        return money_short_told(kit.lines, budget, own) + short
    costs = _costs_told(total, budget, now)
    before = _before_it_is_hung(kit, worth, now)
    if enough:
        more = _(" More money buys what nobody hears.") if total < points[0][0] and not before else before
        is_told = now is not None and not now.is_this_kit and not now.short  # that what there is, is enough
        end = "" if is_told else _(", and that is enough")
        return f"{costs}{end}: {clean_told}{more}"
    return f"{costs}, {_short_told(worth)}: {clean_told}{before}"


def _before_it_is_hung(kit: Kit, worth: Worth, now: Now | None) -> str:
    """Say how the song stands now, where it is set up with this very kit and yet falls shorter than the kit will."""
    if now is None or not now.is_this_kit or now.worth.short_db <= worth.short_db + ALIKE_DB or not now.short:
        return ""
    if kit.hanging.count:
        return _(" With nothing hung, {short}.").format(short=now.short)
    return _(" As it is set up now, {short}.").format(short=now.short)


def _costs_told(total: float, budget: float, now: Now | None) -> str:
    over = _over_told(total, budget)
    if now is not None and now.crowd is not None:
        then = _("{total} buys what takes all").format(total=money(total)) if total else _("what is owned takes all")
        return f"{crowd_told(now.crowd)} {then[0].upper()}{then[1:]}{over}"
    if now is not None and not now.is_this_kit:
        then = _("{total} buys another").format(total=money(total)) if total else _("another needs nothing bought")
        return f"{now.told}; {then}{over}"
    if over:
        return _("{total} would complete this kit{over}").format(total=money(total), over=over)
    return _("{total} completes the kit").format(total=money(total)) if total else _("Nothing to buy")


def _over_told(total: float, budget: float) -> str:
    return _(", {total} more than there is").format(total=money(total - budget)) if total > budget else ""


def _short_told(worth: Worth) -> str:
    """Say by how much a kit falls short of enough, and what helps without money."""
    if worth.overload_short_db >= max(worth.lead_short_db, worth.clean_short_db):
        return _("{overload_short_db} dB short of bearing the loudest passage for sure").format(
            overload_short_db=figure(worth.overload_short_db, 1)
        )
    if worth.lead_short_db >= worth.clean_short_db:
        return _("{lead_short_db} dB short of a room that is faint enough").format(
            lead_short_db=figure(worth.lead_short_db, 1)
        )
    return _("{clean_short_db} dB short of a clean range that is enough").format(
        clean_short_db=figure(worth.clean_short_db, 1)
    )
