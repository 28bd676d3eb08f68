"""Every finding of a chain, the gravest first."""

from pneumen.core.hookup.chain import Chain
from pneumen.core.hookup.digital import digital_faults
from pneumen.core.hookup.electric import electric_faults
from pneumen.core.hookup.finding import Fault
from pneumen.core.hookup.phantom import phantom_faults
from pneumen.core.hookup.whole import whole_faults


def faults_of(chain: Chain) -> tuple[Fault, ...]:
    """Return what is wrong with a chain, the gravest first; empty where nothing is."""
    found = [*phantom_faults(chain), *electric_faults(chain), *whole_faults(chain), *digital_faults(chain)]
    return tuple(sorted(found, key=lambda fault: (-fault.verdict.gravity, fault.code, fault.at)))
