"""The classes and types that an AAF file of ours describes in its meta dictionary, as the Python reference implementation (PyPI pyaaf2)
has them from the AMWA AAF Object Specification. Prints core/src/lists/aaf/baseline.json; a test holds the two against each other.
"""
import json

from aaf2 import metadict
from aaf2.model import classdefs, typedefs

USED = """Root MetaDictionary ClassDefinition PropertyDefinition Header ContentStorage Dictionary Identification
DataDefinition OperationDefinition ParameterDefinition InterpolationDefinition
CompositionMob MasterMob SourceMob TimelineMobSlot EventMobSlot
Sequence SourceClip Filler Selector Transition OperationGroup Timecode DescriptiveMarker ConstantValue VaryingValue ControlPoint
TaggedValue NetworkLocator TapeDescriptor CDCIDescriptor PCMDescriptor
TypeDefinitionInteger TypeDefinitionStrongObjectReference TypeDefinitionWeakObjectReference TypeDefinitionEnumeration
TypeDefinitionFixedArray TypeDefinitionVariableArray TypeDefinitionSet TypeDefinitionString TypeDefinitionStream TypeDefinitionRecord
TypeDefinitionRename TypeDefinitionExtendibleEnumeration TypeDefinitionIndirect TypeDefinitionOpaque TypeDefinitionCharacter""".split()

classes = {**metadict.root_classes, **classdefs.classdefs}
names = {args[0].lower(): name for name, args in classes.items()}
types = {}


def take(category, made):
    for name, args in {**category}.items():
        args = args if isinstance(args, (tuple, list)) else (args,)
        types[args[0].lower()] = {"name": name, "id": args[0].lower(), **made(*args[1:])}


take(typedefs.ints, lambda size, signed: {"kind": "integer", "size": size, "signed": signed})
take(typedefs.enums, lambda of, values: {"kind": "enumeration", "of": of, "names": list(values.values()), "values": list(values)})
take(typedefs.records, lambda parts: {"kind": "record", "names": [p[0] for p in parts], "types": [p[1] for p in parts]})
take(typedefs.fixed_arrays, lambda of, count: {"kind": "fixed", "of": of, "count": count})
take(typedefs.var_arrays, lambda of: {"kind": "array", "of": of})
take(typedefs.renames, lambda of: {"kind": "rename", "of": of})
take(typedefs.strings, lambda of: {"kind": "string", "of": of})
take(typedefs.streams, lambda: {"kind": "stream"})
take(typedefs.opaques, lambda: {"kind": "opaque"})
take(typedefs.extenums, lambda values: {"kind": "extended", "names": list(values.values()), "values": list(values)})
take(typedefs.chars, lambda: {"kind": "character"})
take(typedefs.indirects, lambda: {"kind": "indirect"})
take(typedefs.sets, lambda of: {"kind": "set", "of": of})
take({**metadict.root_types, **typedefs.strongrefs}, lambda of: {"kind": "strong", "of": of})
take(typedefs.weakrefs, lambda of, path: {"kind": "weak", "of": of, "path": list(path)})

wanted, of_types = {}, {}


def name_of(parent):
    return parent if parent in classes else names[parent.lower()]


def want_class(name):
    if name in wanted:
        return
    auid, parent, concrete, properties = classes[name]
    wanted[name] = None
    parent = name_of(parent) if parent else None
    if parent:
        want_class(parent)
    # What is optional and points at classes that are not used is left out.
    kept = [
        [n, p[0].lower(), p[1], p[2].lower(), p[3], p[4]]
        for n, p in properties.items()
        if p[1] is not None and (not p[3] or usable(p[2].lower()))
    ]
    wanted[name] = {"name": name, "id": auid.lower(), "parent": parent, "concrete": concrete, "properties": kept}
    for p in kept:
        want_type(p[3])


def usable(auid):
    made = types.get(auid)
    if made is None:
        return False
    if made["kind"] in ("strong", "weak"):
        return names[made["of"].lower()] in ALL
    return usable(made["of"].lower()) if made["kind"] in ("array", "set", "rename") else made["kind"] != "stream"


def ancestors(name):
    while name:
        yield name
        parent = classes[name][1]
        name = name_of(parent) if parent else None


def want_type(auid):
    auid = auid.lower()
    if auid in of_types:
        return
    made = of_types[auid] = types[auid]
    if made["kind"] in ("strong", "weak"):
        want_class(names[made["of"].lower()])
    elif "of" in made:
        want_type(made["of"])
    for part in made.get("types", ()):
        want_type(part)


ALL = {a for name in USED for a in ancestors(name)}
for used in USED:
    want_class(used)
print(json.dumps({"classes": sorted(wanted.values(), key=lambda c: c["id"]), "types": sorted(of_types.values(), key=lambda t: t["id"])}, indent=1))
