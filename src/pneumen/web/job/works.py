"""What the worker does for each kind of row."""

from collections.abc import Mapping
from typing import Final

from django.db import models

from pneumen.web.job.services import Work
from pneumen.web.place.models import Trial
from pneumen.web.place.trials import cut_trial
from pneumen.web.take.models import Take
from pneumen.web.take.services import measure_take

WORKS: Final[Mapping[type[models.Model], Work]] = {Take: measure_take, Trial: cut_trial}
