"""What the open timeline library and its adapters (PyPI) find in list files, flattened to clips, as JSON.

usage: outside_lists.py [--rate FPS] FILE...
prints for each: {start, tracks, clips: [...], transitions: [...]} or {failed: why}; times in seconds from the start of the cut.
A clip inside of nested stacks and tracks is told where it stands on the record, cut to what its containers show of it.
"""
import json
import math
import sys

import opentimelineio as otio


def seconds(time):
    return time.value / time.rate


def speeds(item):
    """The factors of the speed effects of an item, multiplied; None where one is of a kind the library only names."""
    factor = 1.0
    for effect in item.effects:
        if isinstance(effect, otio.schema.LinearTimeWarp):
            factor *= effect.time_scalar
        elif isinstance(effect, otio.schema.TimeEffect):
            return None
    return factor


def flattened(timeline):
    clips, transitions = [], []

    def leaf(item, kind, lane, at, seen, factor, enabled):
        span = item.trimmed_range()
        begins, ends = max(at, seen[0]), min(at + seconds(span.duration), seen[1])
        own = speeds(item)
        scalar = None if own is None or factor is None else own * factor
        if ends - begins < 1e-9:
            return
        media = item.media_reference
        # Under a speed the adapters state the first frame of what is retimed.
        source = seconds(span.start_time) + (begins - at) * (1.0 if scalar is None else scalar)
        clips.append({
            "kind": kind, "lane": list(lane), "name": item.name, "in": begins, "out": ends, "source": source,
            "speed": scalar, "enabled": enabled and item.enabled,
            "generator": isinstance(media, otio.schema.GeneratorReference),
            "file": getattr(media, "target_url", None) or "",
        })

    def walk(item, kind, lane, at, seen, factor, enabled):
        """`at`: where the first frame that the item shows stands; `seen`: what of the record its containers let through."""
        enabled = enabled and item.enabled
        if isinstance(item, otio.schema.Clip):
            leaf(item, kind, lane, at, seen, factor, enabled)
            return
        if not isinstance(item, otio.core.Composition):
            return
        own = speeds(item)
        inner = None if own is None or factor is None else own * factor
        trim = item.source_range
        # One adapter states where a track begins by a trim that lies wholly outside of what the track holds.
        if trim and isinstance(item, otio.schema.Track) and abs(seconds(trim.start_time)) >= seconds(item.available_range().duration):
            trim = None
        first = seconds(trim.start_time) if trim else 0.0
        window = (at, at + seconds(trim.duration)) if trim else (at, math.inf)
        window = (max(window[0], seen[0]), min(window[1], seen[1]))
        for n, child in enumerate(item):
            if isinstance(child, otio.schema.Transition):
                continue
            if isinstance(item, otio.schema.Track):
                walk(child, kind, lane, at - first + seconds(item.range_of_child(child).start_time), window, inner, enabled)
            else:
                walk(child, getattr(child, "kind", kind), [*lane, n], at - first, window, inner, enabled)

    for n, track in enumerate(timeline.tracks):
        walk(track, track.kind, [n], 0.0, (-math.inf, math.inf), 1.0, True)
        for child in track:
            if isinstance(child, otio.schema.Transition):
                around = seconds(track.range_of_child(child).start_time) + seconds(child.in_offset)
                transitions.append({"kind": track.kind, "lane": [n], "at": around, "before": seconds(child.in_offset), "after": seconds(child.out_offset)})
    start = timeline.global_start_time
    return {"name": timeline.name, "start": None if start is None else seconds(start), "clips": clips, "transitions": transitions}


def timelines(found):
    if isinstance(found, otio.schema.SerializableCollection):
        return [t for child in found for t in timelines(child)]
    if isinstance(found, otio.schema.Timeline):
        return [found]
    if isinstance(found, (otio.core.Item,)):
        made = otio.schema.Timeline(name=found.name)
        made.tracks.append(found.deepcopy() if isinstance(found, otio.schema.Track) else otio.schema.Track(children=[found.deepcopy()]))
        return [made]
    return []


def described(path, options):
    try:
        # The AAF adapter remembers what it transcribed; its notes on the standard output are none of ours.
        held, sys.stdout = sys.stdout, sys.stderr
        try:
            found = otio.adapters.read_from_file(path, **(options if path.lower().endswith(".edl") else {}))
        finally:
            sys.stdout = held
        return [flattened(t) for t in timelines(found)]
    except Exception as why:  # The library gives many kinds.
        return {"failed": f"{type(why).__name__}: {why}"[:200]}


args = sys.argv[1:]
options = {}
if args[:1] == ["--rate"]:
    options = {"rate": float(args[1])}
    args = args[2:]
print(json.dumps([described(path, options) for path in args]))
