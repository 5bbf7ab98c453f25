"""Makes timelines with the Python reference library of OpenTimelineIO and says what the library itself finds in them.

Usage: otio_timelines.py FOLDER COUNT SEED     writes COUNT timelines into FOLDER and prints [description]
       otio_timelines.py --describe FILE...    prints [description] of files of any format the library reads

A description: {start: seconds, rate, tracks: [{kind, clips: [...], transitions: [...]}]}; times in seconds from the start of the cut.
"""
import json
import os
import random
import sys

import opentimelineio as otio
from opentimelineio.opentime import RationalTime, TimeRange

RATES = [24, 24000 / 1001, 25, 30000 / 1001, 30, 50]


def seconds(time):
    return time.value / time.rate


def described(timeline):
    start = timeline.global_start_time
    tracks = []
    for track in timeline.tracks:
        clips, transitions = [], []
        at = 0.0
        for item in track:
            if isinstance(item, otio.schema.Transition):
                transitions.append({"at": at, "before": seconds(item.in_offset), "after": seconds(item.out_offset)})
                continue
            span = track.range_of_child(item)
            at = seconds(span.end_time_exclusive())
            if not isinstance(item, otio.schema.Clip):
                continue
            scalar = 1.0
            for effect in item.effects:
                if isinstance(effect, otio.schema.LinearTimeWarp):
                    scalar *= effect.time_scalar
            source = item.trimmed_range()
            clips.append({
                "name": item.name,
                "in": seconds(span.start_time),
                "out": seconds(span.end_time_exclusive()),
                "source": seconds(source.start_time),
                "sourceRate": source.start_time.rate,
                "speed": scalar,
                "enabled": item.enabled and track.enabled,
                "markers": [
                    seconds(span.start_time) + seconds(m.marked_range.start_time) - seconds(source.start_time) for m in item.markers
                ],
                "file": getattr(item.media_reference, "target_url", None) or "",
            })
        tracks.append({"kind": track.kind, "clips": clips, "transitions": transitions})
    return {"start": None if start is None else seconds(start), "rate": None if start is None else start.rate, "tracks": tracks}


def timeline(rng, name):
    rate = rng.choice(RATES)
    made = otio.schema.Timeline(name)
    made.global_start_time = RationalTime(round(rng.choice([0, 3600, 36000]) * rate), rate)
    for t in range(rng.randint(1, 3)):
        kind = otio.schema.TrackKind.Audio if t > 0 and rng.random() < 0.3 else otio.schema.TrackKind.Video
        track = otio.schema.Track(f"track {t}", kind=kind)
        track.enabled = rng.random() > 0.1
        if rng.random() < 0.1:
            track.markers.append(otio.schema.Marker("on the track", TimeRange(RationalTime(3, rate), RationalTime(1, rate))))
        joined = True
        for n in range(rng.randint(1, 8)):
            own = rate if rng.random() < 0.6 else rng.choice(RATES)
            length = RationalTime(rng.randint(12, 120), own)
            if rng.random() < 0.15:
                track.append(otio.schema.Gap(source_range=TimeRange(RationalTime(0, own), length)))
                joined = True
                continue
            if not joined and rng.random() < 0.35:
                offsets = [RationalTime(rng.randint(0, 5), rate), RationalTime(rng.randint(1, 5), rate)]
                track.append(otio.schema.Transition(name="", transition_type="SMPTE_Dissolve", in_offset=offsets[0], out_offset=offsets[1]))
            joined = False
            start = RationalTime(rng.randint(0, 2_000_000), own)
            media = otio.schema.ExternalReference(target_url=f"file:///cards/A%20left/{name}_{t}_{n}.mov")
            clip = otio.schema.Clip(f"{name} {t} {n}", media_reference=media)
            if rng.random() < 0.2:
                media.available_range = TimeRange(start, length)
            else:
                clip.source_range = TimeRange(start, length)
            for _ in range(rng.choice([0, 0, 0, 1, 1, 2])):
                clip.effects.append(otio.schema.LinearTimeWarp(time_scalar=rng.choice([2.0, 0.5, -1.0, 3.0, 0.25, 1.0])))
            if rng.random() < 0.05:
                clip.effects.append(otio.schema.FreezeFrame())
            for _ in range(rng.choice([0, 0, 1, 2])):
                clip.markers.append(
                    otio.schema.Marker("look", TimeRange(start + RationalTime(rng.randint(0, 10), own), RationalTime(1, own)), color=rng.choice(["RED", "GREEN", "PINK"]))
                )
            clip.enabled = rng.random() > 0.1
            track.append(clip)
        made.tracks.append(track)
    return made


def first_timeline(found):
    if isinstance(found, otio.schema.SerializableCollection):
        return next(iter(found.find_children(descended_from_type=otio.schema.Timeline)))
    return found


if sys.argv[1] == "--describe":
    print(json.dumps([described(first_timeline(otio.adapters.read_from_file(path))) for path in sys.argv[2:]]))
else:
    folder, count, seed = sys.argv[1], int(sys.argv[2]), int(sys.argv[3])
    rng = random.Random(seed)
    found = []
    for n in range(count):
        made = timeline(rng, f"cut{n}")
        otio.adapters.write_to_file(made, os.path.join(folder, f"timeline-{n}.otio"))
        found.append(described(made))
    print(json.dumps(found))
