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


def blur(land, cells):
    """A Gaussian blur of so many cells, its edges repeated."""
    from scipy.ndimage import gaussian_filter

    return gaussian_filter(land.astype(float), cells, mode="nearest", truncate=5.0)


def likeness(land, cell_m):
    """Measures of a surface: slopes, harmonics of the aspect, border, skew, roughness."""
    from scipy.ndimage import correlate, laplace
    from scipy.stats import ks_2samp, skew

    land = land.astype(float)
    across = np.array([[-1, 0, 1], [-2, 0, 2], [-1, 0, 1]]) / (8 * cell_m)
    inner = (slice(1, -1), slice(1, -1))
    east = correlate(land, across)[inner]
    north = correlate(land, -across.T)[inner]
    slope = np.arctan(np.hypot(east, north))
    aspect = np.arctan2(north, east)
    steep = np.degrees(slope) > 3
    weight = np.sin(slope[steep])
    turned = [abs((weight * np.exp(1j * k * aspect[steep])).sum()) / weight.sum() for k in (4, 8)]
    rows, cols = slope.shape
    strip = max(4, int(min(rows, cols) / 80))
    middle = np.zeros_like(steep)
    middle[strip : rows - strip, strip : cols - strip] = True
    inside, outside = slope[middle], slope[~middle]
    lags = [lag for lag in (1, 2, 4, 8, 16, 32) if 4 * lag < min(land.shape)]

    def variogram(lag):
        pairs = [land[:, lag:] - land[:, :-lag], land[lag:] - land[:-lag]]
        return np.mean(np.concatenate([pair.ravel() ** 2 for pair in pairs]))

    twice_hurst, _ = np.polyfit(np.log(lags), np.log([variogram(lag) for lag in lags]), 1)
    return [
        np.degrees(slope.mean()),
        np.degrees(np.quantile(slope, 0.99, method="lower")),
        *turned,
        np.quantile(outside, 0.5, method="lower") / np.quantile(inside, 0.5, method="lower"),
        ks_2samp(inside, outside).statistic,
        skew(laplace(land)[inner].ravel()),
        twice_hurst + 2,
    ]


def numbers_of(measure):
    """What gives a few numbers, as the first cells of a grid."""

    def as_grid(land, *numbers):
        out = np.zeros(land.shape)
        found = measure(land, *numbers)
        out.flat[: len(found)] = found
        return out

    return as_grid


WHAT = {
    "fill": fill,
    "distance": distance,
    "grow": grow,
    "blur": blur,
    "likeness": numbers_of(likeness),
}

what, cols, rows, source, target, *numbers = sys.argv[1:]
grid = np.fromfile(source, dtype="<f4").reshape(int(rows), int(cols))
WHAT[what](grid, *map(float, numbers)).astype("<f4").tofile(target)
