"""What the worker does for each kind of row."""

import logging
from collections.abc import Mapping
from typing import Final

from django.db import models

from pneumen.web.comp.balance import make_balance
from pneumen.web.comp.layers import make_layer_track
from pneumen.web.comp.models import Balance, CompTrack, LayerTrack
from pneumen.web.comp.sheet import take_up
from pneumen.web.comp.track import make_track
from pneumen.web.job.services import Tell, Work
from pneumen.web.part.models import Part
from pneumen.web.place.models import Trial
from pneumen.web.place.trials import cut_trial
from pneumen.web.send.models import Delivery
from pneumen.web.send.services import write_package
from pneumen.web.site.space import is_full
from pneumen.web.take.models import Take
from pneumen.web.take.services import measure_take
from pneumen.wording.language import _

log = logging.getLogger("pneumen.worker")


def measure_for_sheet(take: Take, tell: Tell) -> None:
    """Measure a take, and lay it to the lines of its part's sheet where there is one."""
    measure_take(take, tell)
    try:
        take_up(Part.objects.whole().get(pk=take.part_id))
    except Exception as error:  # it is measured all the same: what lays it to lines must not undo that
        log.warning(_("a take could not be laid to the lines of its sheet"), exc_info=not is_full(error))


WORKS: Final[Mapping[type[models.Model], Work]] = {
    Take: measure_for_sheet,
    Trial: cut_trial,
    CompTrack: make_track,
    LayerTrack: make_layer_track,
    Balance: make_balance,
    Delivery: write_package,
}
