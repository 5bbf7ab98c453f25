"""Reads the frame numbers that are burnt into a movie, frame by frame.

usage: burnt_in.py KNOWN LEARNED MOVIE...
KNOWN is JSON: {frame of LEARNED: number in its picture}, from which the shapes of the digits are learned; all ten must come up in it.
prints [{numbers: [...], margin: m}], one for each MOVIE: of each frame its number, and by how much the shape that was taken is nearer than the next, at the least (1 is
never in doubt, 0 is a guess).
"""
import json
import subprocess
import sys

import numpy as np

# Where the number stands in a picture of 1920 by 1080: its first digit, the width of a digit, and how many there may be.
LEFT, TOP, WIDTH, HEIGHT, MOST = 336, 160, 41, 52, 8
INK = 100


def rows(movie):
    """The line with the number of each frame, as bytes."""
    wide = WIDTH * MOST
    command = ["ffmpeg", "-v", "error", "-i", movie, "-vf", f"crop={wide}:{HEIGHT}:{LEFT}:{TOP}", "-f", "rawvideo", "-pix_fmt", "gray", "-"]
    data = subprocess.run(command, check=True, stdout=subprocess.PIPE).stdout
    return np.frombuffer(data, np.uint8).reshape(-1, HEIGHT, wide).astype(float)


def cells(row):
    """The digits of a line: cells with ink in them, up to the first without."""
    for n in range(MOST):
        cell = row[:, n * WIDTH : (n + 1) * WIDTH]
        if cell.max() < INK:
            return
        yield cell


def learned(movie, known):
    """The mean shape of each digit."""
    found = rows(movie)
    shapes = {}
    for frame, number in known.items():
        for digit, cell in zip(str(number), cells(found[int(frame)])):
            shapes.setdefault(digit, []).append(cell)
    assert len(shapes) == 10, f"only {sorted(shapes)} came up"
    return {digit: np.mean(of, axis=0) for digit, of in shapes.items()}


def read(movie, means):
    numbers, margin = [], 1.0
    for row in rows(movie):
        text = ""
        for cell in cells(row):
            far = sorted((float(np.abs(cell - mean).mean()), digit) for digit, mean in means.items())
            margin = min(margin, 1 - far[0][0] / far[1][0])
            text += far[0][1]
        numbers.append(int(text) if text else None)
    return {"numbers": numbers, "margin": margin}


means = learned(sys.argv[2], json.loads(sys.argv[1]))
print(json.dumps([read(movie, means) for movie in sys.argv[3:]]))
