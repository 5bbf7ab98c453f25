"""Cuts of our own as AAF files, made by the Python reference implementation of the format (PyPI pyaaf2).

They repeat what we believe of the format. What has a witness outside (core/test/outside.test.ts) is: ratios and maps of speeds, freezes,
reverses, dissolves with their cut points, nests of layers, what is selected and what is switched off, cuts in cuts, tapes and their timecode, sound, titles,
sizes in percent. Ours alone, from the specification, are: wipes and their numbers, pulldowns, sizes as factors, opacity and mirrors, markers without a
track, references to a layer further down, timecode of several parts, with an origin or counted in samples, repeats, a cut in a cut at another rate.

usage: aaf_made.py OUT
writes OUT/cut.aaf: two picture tracks, a dissolve, speeds, a tape and a timecode in a file, markers, comments, an unknown effect
       OUT/nested.aaf: a cut in a cut, beside a second one
       OUT/more.aaf: drop frame, sources at another rate, a wipe, a speed that changes, nests and groups
       OUT/placed.aaf: sizes, opacities and mirrors, one in another, above and below a speed, on two clips at once, some that change on the way
       OUT/pulled.aaf: film on tape through a 2:3 pulldown, its phase, the other way round, one to one, one of a kind that is not known
       OUT/edges.aaf: timecode of several parts with an origin, a reference two layers down, a cut in a cut at another rate, one speed over several clips, a repeat
       OUT/events-N.aaf: N events on one track, for figures
"""
import sys
from fractions import Fraction

import aaf2
from aaf2.auid import AUID

RATE = 25


def tape(f, name, start):
    mob = f.create.SourceMob()
    mob.name = name
    mob.descriptor = f.create.TapeDescriptor()
    f.content.mobs.append(mob)
    slot = mob.create_picture_slot(RATE)
    slot.segment = f.create.SourceClip(length=90000, media_kind="picture")
    code = mob.create_timeline_slot(RATE)
    code.segment = f.create.Timecode(RATE, drop=False)
    code.segment.start = start
    code.segment.length = 90000
    return mob, slot.slot_id


def movie(f, name, tape_mob=None, at=0, start=None, size=(1920, 1080), length=2500):
    """A file, on a tape from `at` on, or with a timecode of its own; gives the master clip and its slot."""
    source = f.create.SourceMob()
    source.name = name
    desc = f.create.CDCIDescriptor()
    desc["ComponentWidth"].value = 8
    desc["HorizontalSubsampling"].value = 2
    desc["StoredWidth"].value, desc["StoredHeight"].value = size
    desc["FrameLayout"].value = "FullFrame"
    desc["ImageAspectRatio"].value = "16/9"
    desc["VideoLineMap"].value = [0]
    desc["SampleRate"].value = RATE
    desc["Length"].value = length
    locator = f.create.NetworkLocator()
    locator["URLString"].value = "file:///offline/%s" % name.replace(" ", "%20")
    desc["Locator"].append(locator)
    source.descriptor = desc
    f.content.mobs.append(source)
    slot = source.create_picture_slot(RATE)
    if tape_mob:
        slot.segment = tape_mob[0].create_source_clip(tape_mob[1], at, length)
    else:
        slot.segment = f.create.SourceClip(length=length, media_kind="picture")
    if start is not None:
        code = source.create_timeline_slot(RATE)
        code.segment = f.create.Timecode(RATE, drop=False)
        code.segment.start = start
        code.segment.length = length
    master = f.create.MasterMob()
    master.name = name.rsplit(".", 1)[0]
    master.comments["Scene"] = "salt pans"
    f.content.mobs.append(master)
    own = master.create_picture_slot(RATE)
    own.segment = source.create_source_clip(slot.slot_id, 0, length)
    return master, own.slot_id


def recording(f, name, start):
    """A sound file that counts samples, with a timecode of its own at the rate of the cut."""
    source = f.create.SourceMob()
    source.name = name
    desc = f.create.PCMDescriptor()
    desc["SampleRate"].value = 48000
    desc["AudioSamplingRate"].value = 48000
    desc["Channels"].value = 1
    desc["QuantizationBits"].value = 24
    desc["BlockAlign"].value = 3
    desc["AverageBPS"].value = 144000
    desc["Length"].value = 4800000
    source.descriptor = desc
    f.content.mobs.append(source)
    slot = source.create_sound_slot(48000)
    slot.segment = f.create.SourceClip(length=4800000, media_kind="sound")
    code = source.create_timeline_slot(RATE)
    code.segment = f.create.Timecode(RATE, drop=False)
    code.segment.start = start // 1920
    code.segment.length = 2500
    master = f.create.MasterMob()
    master.name = name.rsplit(".", 1)[0]
    f.content.mobs.append(master)
    own = master.create_sound_slot(48000)
    own.segment = source.create_source_clip(slot.slot_id, 0, 4800000)
    return master, own.slot_id


def clip(of, start, length):
    return of[0].create_source_clip(of[1], start, length)


def filler(f, length):
    return f.create.Filler("picture", length)


def operation(f, auid, name, inputs=1):
    opdef = f.create.OperationDef(AUID(auid), name, "")
    opdef.media_kind = "picture"
    opdef["NumberInputs"].value = inputs
    f.dictionary.register_def(opdef)
    return opdef


def speed(f, opdef, param, of, start, held, length, ratio):
    group = f.create.OperationGroup(opdef, length)
    group.media_kind = "picture"
    group.segments.append(clip(of, start, held))
    group.parameters.append(f.create.ConstantValue(param, ratio))
    return group


def composition(f, name, start=None, top=True):
    mob = f.create.CompositionMob()
    mob.name = name
    if top:
        mob.usage = "Usage_TopLevel"
    f.content.mobs.append(mob)
    if start is not None:
        code = mob.create_timeline_slot(RATE)
        code.segment = f.create.Timecode(RATE, drop=False)
        code.segment.start = start
        code.segment.length = 250
    return mob


def track(mob, name, parts, length, number):
    slot = mob.create_timeline_slot(RATE)
    slot.name = name
    slot["PhysicalTrackNumber"].value = number
    f_sequence = mob.root.create.Sequence("picture")
    f_sequence.length = length
    for part in parts:
        f_sequence.components.append(part)
    slot.segment = f_sequence
    return slot


def cut(out):
    with aaf2.open(out, "w") as f:
        warp = operation(f, "9d2ea890-0968-11d3-8a38-0050040ef7d2", "VideoSpeedControl")
        ratio = f.create.ParameterDef(AUID("72559a80-24d7-11d3-8a50-0050040ef7d2"), "SpeedRatio", "", f.dictionary.lookup_typedef("Rational"))
        f.dictionary.register_def(ratio)
        mix = operation(f, "0c3bea40-fc05-11d2-8a29-0050040ef7d2", "VideoDissolve", 2)
        blur = operation(f, "11111111-2222-3333-4444-555555555555", "Haze")
        a = movie(f, "A001C001.mov", tape(f, "A001", 90000), at=500)
        b = movie(f, "B 002.mov", start=180000, size=(3840, 2160))
        nowhere = movie(f, "none.mov")
        main = composition(f, "SALT CUT", start=900000)
        main.comments["Editor"] = "reel two"
        dissolve = f.create.Transition("picture", 12)
        dissolve["OperationGroup"].value = f.create.OperationGroup(mix, 12)
        dissolve["CutPoint"].value = 5
        haze = f.create.OperationGroup(blur, 20)
        haze.media_kind = "picture"
        haze.segments.append(clip(a, 700, 20))
        parts = [
            clip(a, 100, 50),
            dissolve,
            clip(b, 200, 62),
            filler(f, 10),
            speed(f, warp, ratio, a, 300, 40, 20, Fraction(1, 2)),
            speed(f, warp, ratio, a, 400, 20, 20, Fraction(-1, 1)),
            speed(f, warp, ratio, b, 10, 1, 15, Fraction(15, 1)),
            haze,
            clip(nowhere, 7, 25),
        ]
        track(main, "V1", parts, 210, 1)
        selector = f.create.Selector()
        selector.media_kind = "picture"
        selector.length = 30
        selector["Selected"].value = clip(b, 900, 30)
        selector["Alternates"].append(clip(a, 900, 30))
        track(main, "V2", [filler(f, 100), selector], 130, 2)
        heard, heard_slot = recording(f, "S001T01.wav", 90000 * 1920)
        sound = main.create_timeline_slot(48000)
        sound.name = "A1"
        sound.segment = f.create.Sequence("sound")
        sound.segment.length = 144000
        sound.segment.components.append(f.create.Filler("sound", 48000))
        sound.segment.components.append(heard.create_source_clip(heard_slot, 960000, 96000))
        marks = f.create.EventMobSlot()
        marks["EditRate"].value = RATE
        marks["SlotID"].value = 90
        marks["PhysicalTrackNumber"].value = 1
        sequence = f.create.Sequence("DescriptiveMetadata")
        marker = f.create.DescriptiveMarker()
        marker["Position"].value = 60
        marker["Comment"].value = "dust on the lens"
        marker["DescribedSlots"].value = {1}
        sequence.components.append(marker)
        marks.segment = sequence
        main.slots.append(marks)


def nested(out):
    with aaf2.open(out, "w") as f:
        a = movie(f, "A001C001.mov", start=90000)
        inner = composition(f, "INNER", top=False)
        inside = track(inner, "V1", [clip(a, 10, 40), clip(a, 200, 40)], 80, 1)
        for name, start, parts in (
            ("LONG", 0, lambda: [clip(a, 0, 25), inner.create_source_clip(inside.slot_id, 30, 30)]),
            ("SHORT", 250, lambda: [clip(a, 5, 20)]),
        ):
            mob = composition(f, name, start=start)
            made = parts()
            track(mob, "V1", made, sum(p.length for p in made), 1)


def more(out):
    """A drop-frame cut at 29.97 of sources at 24, with a wipe, a speed that changes, a nest of layers, and a group of essence."""
    ntsc = Fraction(30000, 1001)
    with aaf2.open(out, "w") as f:
        wipe = operation(f, "0c3bea44-fc05-11d2-8a29-0050040ef7d2", "SMPTEVideoWipe", 2)
        number = f.create.ParameterDef(AUID("e4962323-2267-11d3-8a4c-0050040ef7d2"), "SMPTEWipeNumber", "", f.dictionary.lookup_typedef("aafInt16"))
        ratio = f.create.ParameterDef(AUID("72559a80-24d7-11d3-8a50-0050040ef7d2"), "SpeedRatio", "", f.dictionary.lookup_typedef("Rational"))
        linear = f.create.InterpolationDef(AUID("5b6c85a4-0ede-11d3-80a9-006008143e6f"), "LinearInterp", "")
        warp = operation(f, "9d2ea890-0968-11d3-8a38-0050040ef7d2", "VideoSpeedControl")
        for definition in (number, ratio, linear):
            f.dictionary.register_def(definition)
        global RATE
        usual, RATE = RATE, 24
        film = movie(f, "D003C001.mov", start=86400)
        RATE = usual
        main = f.create.CompositionMob()
        main.name = "DROP"
        f.content.mobs.append(main)
        code = main.create_timeline_slot(ntsc)
        code.segment = f.create.Timecode(30, drop=True)
        code.segment.start = 107892
        code.segment.length = 900
        through = f.create.Transition("picture", 10)
        group = f.create.OperationGroup(wipe, 10)
        group.parameters.append(f.create.ConstantValue(number, 7))
        through["OperationGroup"].value = group
        through["CutPoint"].value = 0
        keyed = f.create.OperationGroup(warp, 60)
        keyed.media_kind = "picture"
        keyed.segments.append(clip(film, 500, 100))
        speeds = f.create.VaryingValue(ratio, linear)
        keyed.parameters.append(speeds)
        speeds.add_keyframe(Fraction(0, 1), Fraction(1, 1))
        speeds.add_keyframe(Fraction(1, 1), Fraction(1, 2))
        scope = f.create.NestedScope()
        scope.media_kind = "picture"
        scope.length = 30
        scope.slots.append(clip(film, 1000, 30))
        scope.slots.append(clip(film, 1500, 30))
        essence = f.create.EssenceGroup()
        essence.media_kind = "picture"
        essence.length = 20
        essence["Choices"].append(clip(film, 40, 20))
        slot = main.create_timeline_slot(ntsc)
        slot.segment = f.create.Sequence("picture")
        slot.segment.length = 190
        for part in (clip(film, 0, 30), through, clip(film, 240, 60), keyed, scope, essence):
            slot.segment.components.append(part)


def placed(out):
    with aaf2.open(out, "w") as f:
        ops = {
            name: operation(f, auid, "OperationDef_" + name)
            for name, auid in {
                "VideoScale": "2e0a119d-e6f7-4bee-b5dc-6dd42988687e",
                "VideoOpacity": "9bb90dfd-2aad-49af-b09c-8ba6cd5281d1",
                "VideoPosition": "86f5711e-ee72-450c-a118-17cf3b175dff",
                "Flip": "f1db0f32-8d64-11d3-80df-006008143e6f",
                "Flop": "f1db0f34-8d64-11d3-80df-006008143e6f",
                "FlipFlop": "f1db0f33-8d64-11d3-80df-006008143e6f",
                "VideoSpeedControl": "9d2ea890-0968-11d3-8a38-0050040ef7d2",
            }.items()
        }
        params = {}
        for name, auid in {
            "ScaleX": "8d568129-847e-11d5-935a-50f857c10000",
            "ScaleY": "8d56812a-847e-11d5-935a-50f857c10000",
            "OpacityLevel": "cb7c0ec4-f45f-4ee6-aef0-c63ddb134924",
            "PositionOffsetX": "c573a510-071a-454f-b617-ad6ae69054c2",
            "SpeedRatio": "72559a80-24d7-11d3-8a50-0050040ef7d2",
        }.items():
            params[name] = f.create.ParameterDef(AUID(auid), "ParameterDef_" + name, "", f.dictionary.lookup_typedef("Rational"))
            f.dictionary.register_def(params[name])
        linear = f.create.InterpolationDef(AUID("5b6c85a4-0ede-11d3-80a9-006008143e6f"), "InterpolationDef_Linear", "")
        spline = f.create.InterpolationDef(AUID("5b6c85a6-0ede-11d3-80a9-006008143e6f"), "InterpolationDef_BSpline", "")
        f.dictionary.register_def(linear)
        f.dictionary.register_def(spline)

        def effect(name, inside, **values):
            group = f.create.OperationGroup(ops[name], inside.length)
            group.media_kind = "picture"
            group.segments.append(inside)
            for parameter, value in values.items():
                if isinstance(value, tuple):
                    way, keys = value
                    varying = f.create.VaryingValue(params[parameter], way)
                    group.parameters.append(varying)
                    for time, at in keys:
                        varying.add_keyframe(Fraction(time), Fraction(at))
                else:
                    group.parameters.append(f.create.ConstantValue(params[parameter], Fraction(value)))
            return group

        a = movie(f, "A001C001.mov", start=90000)
        main = composition(f, "PLACED", start=0)
        two = f.create.Sequence("picture")
        two.length = 40
        two.components.append(clip(a, 600, 20))
        two.components.append(clip(a, 700, 20))
        fast = speed(f, ops["VideoSpeedControl"], params["SpeedRatio"], a, 300, 40, 20, Fraction(1, 2))
        retimed = f.create.OperationGroup(ops["VideoSpeedControl"], 20)
        retimed.media_kind = "picture"
        retimed.segments.append(effect("Flop", effect("VideoOpacity", clip(a, 400, 10), OpacityLevel="1/2")))
        retimed.parameters.append(f.create.ConstantValue(params["SpeedRatio"], Fraction(2, 1)))
        parts = [
            effect("VideoScale", clip(a, 100, 20), ScaleX="3/2", ScaleY="5/4"),
            effect("Flop", effect("VideoScale", fast, ScaleX=2, ScaleY=2)),
            effect("FlipFlop", effect("Flip", clip(a, 150, 20))),
            effect("VideoOpacity", two, OpacityLevel=(linear, [(0, 0), ("1/2", 1), (1, "1/2")])),
            effect("VideoOpacity", clip(a, 200, 20), OpacityLevel=(spline, [(0, 1), (1, 0)])),
            effect("VideoPosition", clip(a, 250, 20), PositionOffsetX="1/4"),
            effect("VideoScale", clip(a, 270, 20)),
            retimed,
        ]
        track(main, "V1", parts, 180, 1)


def pulled(out):
    film, ntsc = Fraction(24, 1), Fraction(30000, 1001)
    with aaf2.open(out, "w") as f:

        def on_tape(name, rate, kind, direction, phase, tape_rate, length=40000):
            tape_mob = f.create.SourceMob()
            tape_mob.name = "R" + name
            tape_mob.descriptor = f.create.TapeDescriptor()
            f.content.mobs.append(tape_mob)
            pictures = tape_mob.create_picture_slot(tape_rate)
            pictures.segment = f.create.SourceClip(length=90000, media_kind="picture")
            code = tape_mob.create_timeline_slot(tape_rate)
            code.segment = f.create.Timecode(round(float(tape_rate)), drop=False)
            code.segment.start = 100000
            code.segment.length = 90000
            mob = f.create.SourceMob()
            mob.name = name + ".mov"
            mob.descriptor = f.create.CDCIDescriptor()
            mob.descriptor["ComponentWidth"].value = 8
            mob.descriptor["HorizontalSubsampling"].value = 2
            mob.descriptor["StoredWidth"].value, mob.descriptor["StoredHeight"].value = 1920, 1080
            mob.descriptor["FrameLayout"].value = "FullFrame"
            mob.descriptor["ImageAspectRatio"].value = "16/9"
            mob.descriptor["VideoLineMap"].value = [0]
            mob.descriptor["SampleRate"].value = rate
            mob.descriptor["Length"].value = 40000
            f.content.mobs.append(mob)
            slot = mob.create_picture_slot(rate)
            through = pulldown(tape_mob.create_source_clip(pictures.slot_id, 50, 50000), length, kind, direction, phase)
            slot.segment = through
            if length < 40000:
                slot.segment = f.create.Sequence("picture")
                slot.segment.length = length
                slot.segment.components.append(through)
            master = f.create.MasterMob()
            master.name = name
            f.content.mobs.append(master)
            own = master.create_picture_slot(rate)
            own.segment = mob.create_source_clip(slot.slot_id, 0, 40000)
            return master, own.slot_id

        def pulldown(inside, length, kind, direction, phase):
            made = f.create.Pulldown()
            made.media_kind = "picture"
            made.length = length
            made["InputSegment"].value = inside
            made["PulldownKind"].value = kind
            made["PulldownDirection"].value = direction
            made["PhaseFrame"].value = phase
            return made

        main = f.create.CompositionMob()
        main.name = "PULLED"
        main.usage = "Usage_TopLevel"
        f.content.mobs.append(main)
        slot = main.create_timeline_slot(film)
        slot.segment = f.create.Sequence("picture")
        usual = on_tape("usual", film, "TwoThreePD", "TapeToFilmSpeed", 0, ntsc)
        phased = on_tape("phased", film, "TwoThreePD", "TapeToFilmSpeed", 2, ntsc)
        back = on_tape("back", ntsc, "TwoThreePD", "FilmToTapeSpeed", 0, film)
        even = on_tape("even", film, "OneToOnePAL", "TapeToFilmSpeed", 0, Fraction(25, 1))
        odd = on_tape("odd", film, "VideoTapNTSC", "TapeToFilmSpeed", 0, ntsc)
        short = on_tape("short", film, "TwoThreePD", "TapeToFilmSpeed", 0, ntsc, 40)
        parts = [
            clip(usual, 20000, 20),
            clip(usual, 20003, 20),
            clip(phased, 1, 20),
            clip(back, 40, 20),
            clip(even, 1000, 20),
            clip(odd, 240, 20),
            pulldown(clip(back, 100, 25), 20, "TwoThreePD", "TapeToFilmSpeed", 0),
            clip(usual, 0, 20000),
            pulldown(clip(back, 0, 25000), 20000, "TwoThreePD", "TapeToFilmSpeed", 0),
            clip(short, 20, 20),
        ]
        slot.segment.length = sum(p.length for p in parts)
        for part in parts:
            slot.segment.components.append(part)


def edges(out):
    """Ours alone, from the specification: nothing outside of the project has been found that holds it."""
    with aaf2.open(out, "w") as f:
        warp = operation(f, "9d2ea890-0968-11d3-8a38-0050040ef7d2", "VideoSpeedControl")
        loop = operation(f, "9d2ea891-0968-11d3-8a38-0050040ef7d2", "VideoRepeat")
        ratio = f.create.ParameterDef(AUID("72559a80-24d7-11d3-8a50-0050040ef7d2"), "SpeedRatio", "", f.dictionary.lookup_typedef("Rational"))
        f.dictionary.register_def(ratio)
        a = movie(f, "A001C001.mov", start=90000)
        b = movie(f, "B002C001.mov", start=180000)

        def code(slot, parts, origin=0):
            sequence = f.create.Sequence("timecode")
            for part in parts:
                sequence.components.append(part)
            sequence.length = sum(p.length for p in parts)
            slot.segment = sequence
            slot["Origin"].value = origin

        def labels(start, length, fps=RATE, drop=False):
            made = f.create.Timecode(fps, drop=drop)
            made.start, made.length = start, length
            return made

        # A recording counted in samples: 2 s without timecode, then from 10:00:00:00 on, later from 12:00:00:00 on.
        broken = f.create.SourceMob()
        broken.name = "broken"
        broken.descriptor = f.create.TapeDescriptor()
        f.content.mobs.append(broken)
        pictures = broken.create_picture_slot(RATE)
        pictures.segment = f.create.SourceClip(length=90000, media_kind="picture")
        second = broken.create_timeline_slot(48000)
        second["PhysicalTrackNumber"].value = 2
        code(second, [labels(1, 48000 * 3600)])
        first = broken.create_timeline_slot(48000)
        first["PhysicalTrackNumber"].value = 1
        code(first, [f.create.Filler("timecode", 96000), labels(900000, 480000), labels(1080000, 48000 * 3600)])
        odd = movie(f, "broken.mov", (broken, pictures.slot_id), at=0)

        main = composition(f, "EDGES")
        start = main.create_timeline_slot(RATE)
        start["PhysicalTrackNumber"].value = 1
        code(start, [f.create.Filler("timecode", 50), labels(900000, 500)], 50)

        # A cut at 50 in the one at 25.
        inner = f.create.CompositionMob()
        inner.name = "FAST"
        f.content.mobs.append(inner)
        inside = inner.create_timeline_slot(50)
        inside.segment = f.create.Sequence("picture")
        inside.segment.length = 80
        inside.segment.components.append(clip(a, 0, 40))
        inside.segment.components.append(clip(b, 100, 40))

        two = f.create.Sequence("picture")
        two.length = 20
        two.components.append(clip(a, 500, 8))
        two.components.append(clip(b, 600, 12))
        slow = f.create.OperationGroup(warp, 40)
        slow.media_kind = "picture"
        slow.segments.append(two)
        slow.parameters.append(f.create.ConstantValue(ratio, Fraction(2, 1)))
        again = f.create.OperationGroup(loop, 25)
        again.media_kind = "picture"
        again.segments.append(clip(b, 900, 10))

        scope = f.create.NestedScope()
        scope.media_kind = "picture"
        scope.length = 30
        below = f.create.ScopeReference()
        below.media_kind = "picture"
        below.length = 30
        below["RelativeScope"].value = 0
        below["RelativeSlot"].value = 2
        for part in (clip(a, 1000, 30), clip(b, 1000, 30), below):
            scope.slots.append(part)
        parts = [
            clip(odd, 25, 10),
            clip(odd, 50 + 30, 10),
            clip(odd, 50 + 260, 10),
            inner.create_source_clip(inside.slot_id, 10, 30),
            slow,
            again,
            scope,
        ]
        track(main, "V1", parts, sum(p.length for p in parts), 1)


def many(out, count):
    with aaf2.open(out, "w") as f:
        clips = [movie(f, "A%03d.mov" % i, start=90000 + i * 5000) for i in range(20)]
        mob = composition(f, "MANY", start=0)
        track(mob, "V1", [clip(clips[i % 20], (i * 7) % 2000, 10) for i in range(count)], count * 10, 1)


if __name__ == "__main__":
    folder = sys.argv[1]
    cut(folder + "/cut.aaf")
    nested(folder + "/nested.aaf")
    more(folder + "/more.aaf")
    placed(folder + "/placed.aaf")
    pulled(folder + "/pulled.aaf")
    edges(folder + "/edges.aaf")
    for number in sys.argv[2:]:
        many(folder + "/events-%s.aaf" % number, int(number))
