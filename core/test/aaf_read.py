"""What the Python reference implementation of the format (PyPI pyaaf2) reads of AAF files that we wrote, as JSON.

usage: aaf_read.py FILE...
prints for each: the compositions with their tracks, each part with its chain down to the tape, and what is defined that is not used.
"""
import json
import sys

import aaf2

PARTS = {"Filler": "gap", "SourceClip": "clip", "OperationGroup": "effect", "Transition": "transition"}


def chain(clip):
    """From a clip of a cut to its tape or file: names, path, and timecode at the first frame."""
    found = {"clip": clip.mob.name, "file": None, "path": None, "tape": None, "timecode": None}
    at, length = clip.start, clip.length
    one = clip
    for _ in range(8):
        mob = one.mob
        if mob is None:
            break
        for slot in mob.slots:
            if type(slot.segment).__name__ == "Timecode":
                found["timecode"] = at + slot.segment.start
                found["drop"] = bool(slot.segment.drop)
        if type(mob).__name__ == "SourceMob":
            descriptor = mob.descriptor
            if type(descriptor).__name__ == "TapeDescriptor":
                found["tape"] = mob.name
            else:
                found["file"] = mob.name
                for locator in descriptor["Locator"].value if "Locator" in descriptor else []:
                    found["path"] = locator["URLString"].value
        slot = next(s for s in mob.slots if s.slot_id == one.slot_id)
        one = slot.segment
        if type(one).__name__ != "SourceClip" or one.mob is None:
            break
        at += one.start
    found["length"] = length
    return found


def part_of(part):
    made = {"is": PARTS.get(type(part).__name__, type(part).__name__), "length": part.length}
    if made["is"] == "clip":
        made.update(chain(part))
    elif made["is"] == "effect":
        made["operation"] = part.operation.name
        made["parameters"] = {p.parameterdef.name: str(p.value) for p in part.parameters if hasattr(p, "value")}
        made["changing"] = {
            p.parameterdef.name: [p.interpolation.name, [[float(k.time), float(k.value)] for k in p["PointList"].value]]
            for p in part.parameters
            if type(p).__name__ == "VaryingValue"
        }
        inputs = list(part.segments)
        if inputs:
            made["of"] = chain(inputs[0]) if type(inputs[0]).__name__ == "SourceClip" else part_of(inputs[0])
    elif made["is"] == "transition":
        made["operation"] = part["OperationGroup"].value.operation.name
        made["cut"] = part["CutPoint"].value
    return made


def slot_of(slot):
    made = {"name": slot.name, "rate": str(slot.edit_rate)}
    segment = slot.segment
    if type(segment).__name__ == "Timecode":
        return {**made, "start": segment.start, "fps": segment.fps, "drop": bool(segment.drop)}
    parts = list(segment.components)
    if type(slot).__name__ == "EventMobSlot":
        return {**made, "markers": [[p["Position"].value, p["Comment"].value] for p in parts]}
    return {**made, "kind": segment.media_kind, "length": segment.length, "parts": [part_of(p) for p in parts]}


def described(path):
    with aaf2.open(path, "r") as f:
        # Every mob and every definition can be got at by who it is.
        ids = [str(m.mob_id) for m in f.content.mobs]
        assert len(set(ids)) == len(ids)
        classes = sorted(c.class_name for c in f.metadict["ClassDefinitions"].value)
        cuts = [{"title": m.name, "slots": [slot_of(s) for s in m.slots]} for m in f.content.toplevel()]
        return {"cuts": cuts, "mobs": len(ids), "ids": ids, "classes": classes}


print(json.dumps([described(path) for path in sys.argv[1:]]))
