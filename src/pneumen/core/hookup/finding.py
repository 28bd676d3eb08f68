"""What is wrong with a chain: where, how gravely, and the figures it comes from."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from pneumen.core.verdict import Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class Fault:
    """One finding at a joint: figures hold what its sentence tells, words the names of what it speaks of."""

    code: str
    verdict: Verdict
    at: str
    figures: Mapping[str, float] = field(default_factory=dict, hash=False)
    words: Mapping[str, str] = field(default_factory=dict, hash=False)
