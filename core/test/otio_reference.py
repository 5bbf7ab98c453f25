"""Reads lists with the Python reference library of OpenTimelineIO and prints what it found, as JSON.

Usage: otio_reference.py RATE FILE...   Prints [[{name, start, duration, record, speed}]] a file, frames at RATE.
With `--rewrite OUT` after a file, the library also writes the timeline as OTIO to OUT.
"""
import json
import sys

import opentimelineio as otio

rate = float(sys.argv[1])
found = []
args = sys.argv[2:]
while args:
    path = args.pop(0)
    options = {"rate": rate} if path.endswith(".edl") else {}
    timeline = otio.adapters.read_from_file(path, **options)
    if isinstance(timeline, otio.schema.SerializableCollection):
        timeline = next(iter(timeline.find_children(descended_from_type=otio.schema.Timeline)))
    if args and args[0] == "--rewrite":
        args.pop(0)
        otio.adapters.write_to_file(timeline, args.pop(0))
    tracks = []
    for track in timeline.tracks:
        events = []
        for clip in track.find_clips():
            span = clip.range_in_parent()
            start = clip.trimmed_range().start_time.rescaled_to(rate).value
            scalars = [e.time_scalar for e in clip.effects if isinstance(e, otio.schema.LinearTimeWarp)]
            events.append({
                "name": clip.name,
                "start": round(start),
                "duration": round(span.duration.rescaled_to(rate).value),
                "record": round(span.start_time.rescaled_to(rate).value),
                "speed": scalars[0] if scalars else 1,
            })
        tracks.append(events)
    found.append(tracks)
print(json.dumps(found))
