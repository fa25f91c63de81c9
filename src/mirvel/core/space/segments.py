"""How near straight pieces of stem come to one another."""

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.float64]


def get_distances(starts: Numbers, ends: Numbers, other_starts: Numbers, other_ends: Numbers) -> Numbers:
    """Least distance of each of m segments from each of n others, cm; all (·, 3), the answer (m, n).

    The nearest points of two lines, drawn in to the segments' ends: Ericson, Real-Time Collision Detection (2005),
    section 5.1.9; from memory. No segment may be of zero length.
    """
    # products of whole tables, and gaps axis by axis: offsets as vectors, (m, n, 3), would be much slower
    one, other = ends - starts, other_ends - other_starts
    a, e = (one * one).sum(axis=1)[:, None], (other * other).sum(axis=1)
    b = one @ other.T
    c = (one * starts).sum(axis=1)[:, None] - one @ other_starts.T
    f = starts @ other.T - (other * other_starts).sum(axis=1)
    apart = a * e - b * b
    slanting = apart > 1e-12 * a * e
    along = np.where(slanting, np.clip((b * f - c * e) / np.where(slanting, apart, 1.0), 0.0, 1.0), 0.0)
    along_other = (b * along + f) / e
    before, after = along_other < 0.0, along_other > 1.0
    along = np.where(before, np.clip(-c / a, 0.0, 1.0), np.where(after, np.clip((b - c) / a, 0.0, 1.0), along))
    along_other = np.clip(along_other, 0.0, 1.0)
    square = sum(
        (starts[:, axis, None] - other_starts[:, axis] + along * one[:, axis, None] - along_other * other[:, axis]) ** 2
        for axis in range(3)
    )
    distances: Numbers = np.sqrt(square)
    return distances
