"""A plain script for what a bake does: the baseline of bench_plain.cpp.

plain_bake.py CACHE.pc2 MESH.obj OUT
Reads a PC2 point cache and the quads of its mesh, makes normals from the posed triangles (weighted by area and
corner angle), and writes offsets from the first frame as half floats (EXR) and normals as bytes (PNG).
"""
import sys

import numpy as np
import OpenImageIO as oiio


def quads(path):
    faces = []
    with open(path) as lines:
        for line in lines:
            if line.startswith("f "):
                faces.append([int(word) - 1 for word in line.split()[1:]])
    faces = np.array(faces)
    return np.concatenate([faces[:, [0, 1, 2]], faces[:, [0, 2, 3]]])


def normals(points, triangles):
    corners = points[triangles]  # triangles × corners × axes
    area = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    length = np.linalg.norm(area, axis=1)
    total = np.zeros_like(points)
    for k in range(3):
        a = corners[:, (k + 1) % 3] - corners[:, k]
        b = corners[:, (k + 2) % 3] - corners[:, k]
        angle = np.arctan2(length, np.sum(a * b, axis=1))
        for axis in range(3):
            total[:, axis] += np.bincount(triangles[:, k], area[:, axis] * angle, len(points))
    return total / np.linalg.norm(total, axis=1)[:, None]


def write(path, pixels, kind):
    height, width, channels = pixels.shape
    out = oiio.ImageOutput.create(path)
    out.open(path, oiio.ImageSpec(width, height, channels, kind))
    out.write_image(pixels)
    out.close()


def main():
    cache, mesh, folder = sys.argv[1:4]
    triangles = quads(mesh)
    header = np.fromfile(cache, np.int32, 8)
    count, frames = int(header[4]), int(header[7])
    points = np.memmap(cache, np.float32, "r", 32, (frames, count, 3))
    rest = points[0].copy()
    width = 2048
    rows = -(-count // width)
    positions = np.zeros((frames, rows * width, 3), np.float16)
    directions = np.zeros((frames, rows * width, 3), np.uint8)
    for f in range(frames):
        positions[f, :count] = points[f] - rest
        directions[f, :count] = np.round((normals(points[f], triangles) * 0.5 + 0.5) * 255.0)
    write(folder + "/plain.exr", positions.reshape(frames * rows, width, 3), "half")
    write(folder + "/plain.png", directions.reshape(frames * rows, width, 3), "uint8")


main()
