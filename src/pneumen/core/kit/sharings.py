"""Which parts of a song can share a microphone."""

from collections.abc import Iterator
from itertools import combinations

from pneumen.core.kit.needs import Needs


def sharings_of(needs: Needs) -> Iterator[tuple[tuple[int, ...], ...]]:
    """Yield every way to share the parts out among microphones: no two recorded together, plugs each for itself."""
    together = {pair for session in needs.sessions for pair in combinations(session, 2)}

    def share(left: tuple[int, ...]) -> Iterator[tuple[tuple[int, ...], ...]]:
        if not left:
            yield ()
            return
        first, others = left[0], left[1:]
        for size in range(len(others), -1, -1):
            for more in combinations(others, size):
                parts = (first, *more)
                if any(pair in together for pair in combinations(parts, 2)) or (
                    needs.plugged & set(parts) and len(parts) > 1
                ):
                    continue
                for rest in share(tuple(part for part in others if part not in more)):
                    yield (parts, *rest)

    yield from share(tuple(range(len(needs.parts))))
