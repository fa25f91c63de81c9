"""How near straight pieces of stem come to one another."""

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.float64]


def get_distances(starts: Numbers, ends: Numbers, other_starts: Numbers, other_ends: Numbers) -> Numbers:
    """Least distance of each of m segments from each of n others, cm; all (·, 3), the answer (m, n).

    The nearest points of two lines, drawn in to the segments' ends: Ericson, Real-Time Collision Detection (2005),
    section 5.1.9; from memory. No segment may be of zero length.
    """
    one, other = (ends - starts)[:, None, :], (other_ends - other_starts)[None, :, :]
    between = starts[:, None, :] - other_starts[None, :, :]
    a, e = (one * one).sum(axis=2), (other * other).sum(axis=2)
    b, c, f = (one * other).sum(axis=2), (one * between).sum(axis=2), (other * between).sum(axis=2)
    apart = a * e - b * b
    slanting = apart > 1e-12 * a * e
    along = np.where(slanting, np.clip((b * f - c * e) / np.where(slanting, apart, 1.0), 0.0, 1.0), 0.0)
    along_other = (b * along + f) / e
    before, after = along_other < 0.0, along_other > 1.0
    along = np.where(before, np.clip(-c / a, 0.0, 1.0), np.where(after, np.clip((b - c) / a, 0.0, 1.0), along))
    along_other = np.clip(along_other, 0.0, 1.0)
    gaps = between + one * along[:, :, None] - other * along_other[:, :, None]
    distances: Numbers = np.sqrt((gaps * gaps).sum(axis=2))
    return distances
