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


def distance(there, cell_m):
    """Distance to the nearest cell above a half."""
    from scipy.ndimage import distance_transform_edt

    return distance_transform_edt(there <= 0.5, sampling=cell_m)


def grow(mask, radius):
    """The highest value within a disc; the border counts as 0."""
    from scipy.ndimage import grey_dilation

    reach = int(radius)
    y, x = np.mgrid[-reach : reach + 1, -reach : reach + 1]
    disc = x * x + y * y <= radius * radius
    return grey_dilation(mask, footprint=disc, mode="constant", cval=0.0)


WHAT = {"fill": fill, "distance": distance, "grow": grow}

what, cols, rows, source, target, *numbers = sys.argv[1:]
grid = np.fromfile(source, dtype="<f4").reshape(int(rows), int(cols))
WHAT[what](grid, *map(float, numbers)).astype("<f4").tofile(target)
