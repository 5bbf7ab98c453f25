"""Whether a compound file is as MS-CFB wants it, by the olefile library (PyPI), which reads such files and nothing else of AAF.

usage: aaf_compound.py FILE
prints the number of its streams and storages; fails where a chain of sectors is broken, or a tree of names is out of order, not balanced in
its black entries (MS-CFB 2.6.4), or has a red entry below a red one.
"""
import json
import sys

import olefile
from olefile import NOSTREAM

RED = 0


def walk(ole, sid):
    """Names in order below an entry, and how many black entries each way down passes."""
    if sid == NOSTREAM:
        return [], 1
    entry = ole.direntries[sid]
    (left, black), (right, other) = walk(ole, entry.sid_left), walk(ole, entry.sid_right)
    assert black == other, "%s: %d black entries on one side, %d on the other" % (entry.name, black, other)
    for child in (entry.sid_left, entry.sid_right):
        assert entry.color != RED or child == NOSTREAM or ole.direntries[child].color != RED, "red below red: " + entry.name
    return left + [entry.name] + right, black + (entry.color != RED)


with open(sys.argv[1], "rb") as f:
    file = bytearray(f.read())
# Where other compound files have zeros, an AAF file says that it is one.
assert file[8:24].hex() == "0102010d000200" "00060e2b3403020101", file[8:24].hex()
file[8:24] = bytes(16)
with olefile.OleFileIO(bytes(file), raise_defects=olefile.DEFECT_INCORRECT) as ole:
    assert not ole.parsing_issues, ole.parsing_issues
    storages = [ole.root] + [ole.direntries[ole._find(s)] for s in ole.listdir(streams=False, storages=True)]
    for storage in storages:
        names, _ = walk(ole, storage.sid_child)
        assert names == sorted(names, key=lambda n: (len(n), n.upper())), storage.name
    streams = ole.listdir(streams=True, storages=False)
    read = sum(len(ole.openstream(s).read()) == ole.get_size(s) for s in streams)
    assert read == len(streams)
    print(json.dumps({"streams": len(streams), "storages": len(storages)}))
