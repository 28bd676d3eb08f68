"""What is worked out from the same bytes is worked out once in a process.

Most tests of the web take in one of a few recordings for what comes after; the core has its own tests of measuring.
"""

import hashlib
from functools import wraps

from pneumen.core.take import Played
from pneumen.web.take import performance, services, stand_in


def work_out_once():
    """Have the web's takes simulated, measured and listened to once for each content."""
    if not hasattr(services._measure, "__wrapped__"):
        services._measure = once(services._measure, _of_take)
        performance.study_of = once(performance.study_of, _of_samples)
        stand_in.simulate = once(stand_in.simulate, repr)


def once(work, key):
    """Return a function that works each key out once; `key` makes it of the arguments."""
    known = {}

    @wraps(work)
    def worked_out(*given):
        of = key(*given)
        if of not in known:
            known[of] = work(*given)
        return known[of]

    return worked_out


def _of_take(take, audio, _tell):
    return audio.checksum, repr(Played.of(take.part.source_facts)), take.backing and take.backing.checksum


def _of_samples(samples, *told):
    return hashlib.sha256(samples.tobytes()).hexdigest(), repr(told)
