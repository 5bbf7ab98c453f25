"""Lays pictures anew with OpenCV and registers what comes of it, for proof-reference.test.ts.

Reads JSON from standard input: {"width", "height", "pairs": [{"picture": [...], "scale", "x", "y", "rotation"}]}: grey values,
a scale, a move in shares of the frame, a turn in degrees, clockwise. Writes for each the picture as it was and as it is laid,
both 96 x 54, with what phase correlation and an affine transform by ECC (enhanced correlation) make of the two.
"""
import json
import sys

import cv2
import numpy as np

W, H = 96, 54
given = json.load(sys.stdin)
w, h = given["width"], given["height"]
out = []
for pair in given["pairs"]:
    picture = np.array(pair["picture"], np.uint8).reshape(h, w)
    # OpenCV turns counter-clockwise in its own coordinates, which point down: clockwise is negative.
    matrix = cv2.getRotationMatrix2D((w / 2 - 0.5, h / 2 - 0.5), -pair["rotation"], pair["scale"])
    matrix[:, 2] += (pair["x"] * w, pair["y"] * h)
    laid = cv2.warpAffine(picture, matrix, (w, h), flags=cv2.INTER_CUBIC)
    a, b = (cv2.resize(p, (W, H), interpolation=cv2.INTER_AREA) for p in (picture, laid))
    window = cv2.createHanningWindow((W, H), cv2.CV_32F)
    (dx, dy), _ = cv2.phaseCorrelate(np.float32(a), np.float32(b), window)
    # ECC on the middle of what was laid, where all of it is picture: where each of its points lies in the picture as it was.
    middle = np.ascontiguousarray(b[10:44, 18:78])
    warp = np.array([[1, 0, 18 - dx], [0, 1, 10 - dy]], np.float32)
    criteria = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 500, 1e-8)
    likeness, warp = cv2.findTransformECC(middle, a, warp, cv2.MOTION_AFFINE, criteria, None, 3)
    warp[:, 2] -= warp[:, :2] @ np.array([18, 10], np.float32)
    found = cv2.invertAffineTransform(warp)
    centre = found @ np.array([W / 2 - 0.5, H / 2 - 0.5, 1])
    out.append(
        {
            "a": a.ravel().tolist(),
            "b": b.ravel().tolist(),
            "phase": {"x": dx / W, "y": dy / H},
            "likeness": float(likeness),
            "scale": float(np.sqrt(abs(np.linalg.det(found[:, :2])))),
            "rotation": float(np.degrees(np.arctan2(found[1, 0], found[0, 0]))),
            "x": float(centre[0] - (W / 2 - 0.5)) / W,
            "y": float(centre[1] - (H / 2 - 0.5)) / H,
        }
    )
json.dump(out, sys.stdout)
