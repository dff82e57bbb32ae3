"""What OpenEXR's own library reads of files: channels, type, size, mean, one value."""

import json
import sys

import numpy
import OpenEXR


def read(path):
    with OpenEXR.File(path, separate_channels=True) as file:
        channels = file.channels()
        return {
            name: {
                "type": str(channel.pixels.dtype),
                "rows": channel.pixels.shape[0],
                "cols": channel.pixels.shape[1],
                "mean": float(channel.pixels.astype("float64").mean()),
                "at_3_2": float(channel.pixels[2, 3]),
            }
            for name, channel in channels.items()
        } | {"cell_m": float(numpy.ravel(file.header()["cellMetres"])[0])}


print(json.dumps([read(path) for path in sys.argv[1:]]))
