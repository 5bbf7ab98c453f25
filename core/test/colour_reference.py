"""Colours through ASC CDLs and .cube tables, as the open colour library has them (PyPI opencolorio): JSON in, JSON out."""
import json
import sys

import PyOpenColorIO as ocio

asked = json.load(sys.stdin)
config = ocio.Config.CreateRaw()


def through(transform, colours):
    cpu = config.getProcessor(transform).getDefaultCPUProcessor()
    return [list(cpu.applyRGB(list(c))) for c in colours]


def cdl(grade):
    made = ocio.CDLTransform()
    made.setSlope(grade["slope"])
    made.setOffset(grade["offset"])
    made.setPower(grade["power"])
    made.setSat(grade["saturation"])
    # As ASC CDL 1.2 has it: clamped before the power and after the saturation.
    made.setStyle(ocio.CDL_ASC)
    return made


# For a lattice its "linear" is trilinear.
INTERPOLATIONS = {"linear": ocio.INTERP_LINEAR, "trilinear": ocio.INTERP_LINEAR, "tetrahedral": ocio.INTERP_TETRAHEDRAL}
answer = {
    "cdls": [through(cdl(g), asked["colours"]) for g in asked["cdls"]],
    "tables": [
        through(ocio.FileTransform(src=t["file"], interpolation=INTERPOLATIONS[t["interpolation"]]), asked["colours"])
        for t in asked["tables"]
    ],
}
json.dump(answer, sys.stdout)
