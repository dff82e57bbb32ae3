"""Results of general-purpose libraries, for tests to compare with.

reference.py WHAT COLS ROWS INPUT OUTPUT [NUMBER ...]

INPUT and OUTPUT are raw little-endian float32, row-major.
"""

import sys

import numpy as np


def fill(land):
    """Hollows filled to their brim: reconstruction by erosion."""
    from skimage.morphology import reconstruction

    seed = land.copy()
    seed[1:-1, 1:-1] = land.max()
    return reconstruction(seed, land, method="erosion")


WHAT = {"fill": fill}

what, cols, rows, source, target, *numbers = sys.argv[1:]
grid = np.fromfile(source, dtype="<f4").reshape(int(rows), int(cols))
WHAT[what](grid, *map(float, numbers)).astype("<f4").tofile(target)
