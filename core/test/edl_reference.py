"""Reads edit lists with another parser of the registry (PyPI pycmx) and prints what it found, as JSON.

Usage: edl_reference.py FILE...   Prints [{title, events: [{...}]}] a file. Of a transition the incoming line counts.
"""
import json
import sys

import pycmx


def triple(value):
    return [float(v) for v in (value.red, value.green, value.blue)] if value is not None else None


found = []
for path in sys.argv[1:]:
    with open(path, encoding="utf-8") as lines:
        edl = pycmx.parse_cmx3600(lines)
    events = []
    for event in edl.events:
        edit = list(event.edits)[-1]
        transition = edit.transition
        sop = edit.asc_sop
        events.append({
            "number": int(event.number),
            "line": edit.line_number,
            "reel": edit.source,
            "clipName": edit.clip_name or "",
            "fileName": edit.source_file or "",
            "timecodes": [edit.source_in, edit.source_out, edit.record_in, edit.record_out],
            "transition": "C" if transition.cut else "D" if transition.dissolve else "W" if transition.wipe else "K",
            "frames": int(transition.operand) if transition.operand else 0,
            "cdl": [sop.slope, sop.offset, sop.power] if sop else None,
            "saturation": edit.asc_sat,
            "picture": edit.channels.video,
            "black": edit.black,
        })
    found.append({"title": edl.title, "events": events})
print(json.dumps(found, default=lambda v: triple(v) if hasattr(v, "red") else list(v)))
