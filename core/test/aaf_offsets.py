"""What the Python reference implementation of AAF (PyPI pyaaf2) says the maps of speed effects show, frame by frame, as JSON.

usage: aaf_offsets.py FILE...
prints for each: [{at, curved, offsets: [...]}], `at` being the place of the effect on its track in edit units, one offset into its input for each frame.
A curve is evaluated by that implementation; times of a position map run from 0 on the first frame to 1 on the last.
"""
import json
import sys

import aaf2
from aaf2 import components, misc


LINEAR = "5b6c85a4-0ede-11d3-80a9-006008143e6f"


def curved(group):
    maps = [p for p in group.parameters.value if isinstance(p, misc.VaryingValue) and "OFFSET_MAP" in p.name]
    return any(str(p.interpolationdef.auid) != LINEAR and len(p["PointList"].value) > 1 for p in maps)


def offsets(group):
    maps = {p.name: p for p in group.parameters.value if isinstance(p, misc.VaryingValue)}
    frames = range(group.length)
    if "PARAM_SPEED_OFFSET_MAP_U" in maps:
        points = list(maps["PARAM_SPEED_OFFSET_MAP_U"]["PointList"].value)
        first, last = points[0], points[-1]
        if len(points) == 2:
            slope = (last.value - first.value) / (last.time - first.time)
            return [first.value + (n - first.time) * slope for n in frames]
        return [maps["PARAM_SPEED_OFFSET_MAP_U"].value_at(n) for n in frames]
    if "PARAM_OFFSET_MAP_U" in maps:
        unit = max(1, group.length - 1)
        return [maps["PARAM_OFFSET_MAP_U"].value_at(n / unit) for n in frames]
    return None


def warps(segment, at):
    """Every speed effect below a segment, with where it stands."""
    if isinstance(segment, components.Sequence):
        for part in segment.components:
            if isinstance(part, components.Transition):
                at -= part.length
                continue
            yield from warps(part, at)
            at += part.length
    elif isinstance(segment, components.NestedScope):
        for slot in segment.slots:
            yield from warps(slot, at)
    elif isinstance(segment, components.OperationGroup):
        made = offsets(segment) if "Parameters" in segment else None
        if made:
            yield {"at": at, "curved": curved(segment), "offsets": made}
        else:
            for inside in segment.segments:
                yield from warps(inside, at)


def described(path):
    with aaf2.open(path, "r") as f:
        cuts = list(f.content.toplevel())
        return [w for s in (cuts[0].slots if cuts else []) if s.media_kind == "Picture" for w in warps(s.segment, 0)]


print(json.dumps([described(path) for path in sys.argv[1:]]))
