"""Reads meshes with trimesh, and prints what it finds, as JSON."""

import json
import sys

import trimesh


def found(file):
    scene = trimesh.load_scene(file)
    names = {type(part.visual).__name__ for part in scene.geometry.values()}
    mesh = scene.to_mesh()
    # Files part vertices where a texture or a direction changes; places are what counts.
    mesh.merge_vertices(merge_tex=True, merge_norm=True)
    low, high = mesh.bounds.tolist()
    return {
        "vertices": len(mesh.vertices),
        "triangles": len(mesh.faces),
        "watertight": bool(mesh.is_watertight),
        "consistent": bool(mesh.is_winding_consistent),
        "euler": int(mesh.euler_number),
        "volume": float(mesh.volume),
        "low": low,
        "high": high,
        "textured": "TextureVisuals" in names,
    }


print(json.dumps([found(file) for file in sys.argv[1:]]))
