"""A band-pass, and filters that run along a file block by block.

Both give what scipy.signal's butter and sosfilt give (a test holds them to it). That package takes longer to load than
a short take takes to measure, and rows of samples go through a product of matrices faster than one after the other.
"""

from typing import Final

import numpy as np

ROW: Final = 64
"""So many samples are filtered at once: fastest of 32 to 128."""


def band_pass(order: int, band_hz: tuple[float, float], sample_rate_hz: float) -> np.ndarray:
    """Return a Butterworth band-pass as second-order sections, each b0, b1, b2, 1, a1, a2; shape (order, 6).

    Reference: Parks and Burrus, Digital Filter Design (1987), chapter 7 (from memory): the poles of the low-pass
    prototype are moved to the band, then by the bilinear transform; half of the zeros lie at 0 Hz, half at the top.
    """
    low, high = (2 * np.tan(np.pi * edge_hz / sample_rate_hz) for edge_hz in band_hz)
    poles = -np.exp(0.5j * np.pi * np.arange(order - 1, -1, -2) / order) * (high - low) / 2
    sections, gain = [], ((high - low) / 2) ** order
    for pole in poles:  # one of each pair, last of an odd order the real one
        apart = np.sqrt(pole**2 - low * high)
        pair = pole + apart, pole - apart
        for one, other in [pair] if abs(pole.imag) < 1e-12 else [(each, each.conj()) for each in pair]:
            ends = np.array([(2 + one) / (2 - one), (2 + other) / (2 - other)])
            sections.append([1, 0, -1, 1, -ends.sum().real, ends.prod().real])
            gain *= 4 / ((2 - one) * (2 - other)).real
    sections[0][:3] = [gain, 0, -gain]
    return np.array(sections)


class RunningFilter:
    """Runs second-order sections along one channel: call it with each block in turn.

    A row's output and the state after it are linear in its samples and the state before it: four matrices.

    Args:
        kind: of the numbers that come out; np.float32 is faster, and right to 120 dB under the loudest.
    """

    def __init__(self, sections: np.ndarray, kind: type = float) -> None:
        size = 2 * len(sections)
        self._state = np.zeros(size)
        output, self._into_state = _responses(sections, np.eye(ROW), np.zeros((size, ROW)))
        ringing, row_on = _responses(sections, np.zeros((ROW, size)), np.eye(size))
        of_both = np.vstack([output.T, ringing.T])  # of a row's samples and the state before them
        self._output: np.ndarray = of_both.astype(kind)
        self._sample_on = _responses(sections, np.zeros((1, size)), np.eye(size))[1]
        self._powers = [row_on]  # over 1, 2, 4, ... rows

    def __call__(self, block: np.ndarray) -> np.ndarray:
        whole = len(block) // ROW * ROW
        found = [self._filtered(block[:whole].reshape(-1, ROW))] if whole else []
        rest = block[whole:]
        if rest.size:
            length = rest.size
            found.append(rest @ self._output[:length, :length] + self._state @ self._output[ROW:, :length])
            on = np.linalg.matrix_power(self._sample_on, length)
            self._state = on @ self._state + self._into_state[:, -length:] @ rest
        return np.concatenate(found) if found else np.empty(0)

    def _filtered(self, rows: np.ndarray) -> np.ndarray:
        after = self._into_state @ rows.T
        after[:, 0] += self._powers[0] @ self._state
        # What each row leaves behind is handed on one row further, then two, four, ...: the state after every row.
        for step, power in enumerate(self._powers_for(len(rows))):
            after[:, 2**step :] += power @ after[:, : -(2**step)]
        known = np.empty((len(rows), ROW + self._state.size), self._output.dtype)
        known[:, :ROW], known[0, ROW:], known[1:, ROW:] = rows, self._state, after[:, :-1].T
        self._state = after[:, -1].copy()
        return (known @ self._output).ravel()

    def _powers_for(self, rows: int) -> list[np.ndarray]:
        needed = (rows - 1).bit_length()
        while len(self._powers) < needed:
            self._powers.append(self._powers[-1] @ self._powers[-1])
        return self._powers[:needed]


def _responses(sections: np.ndarray, samples: np.ndarray, state: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return what comes out sample by sample, and the state afterwards; each column by itself (direct form II)."""
    out, state = samples.copy(), state.copy()
    for now in out:
        for number, (b0, b1, b2, _, a1, a2) in enumerate(sections):
            first, second = state[2 * number : 2 * number + 2]
            put = b0 * now + first
            first[:] = b1 * now - a1 * put + second
            second[:] = b2 * now - a2 * put
            now[:] = put
    return out, state
