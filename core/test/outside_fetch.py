"""Fetches the source archives of the open timeline library and of its adapters from the package registry, and unpacks their sample files.

usage: outside_fetch.py FOLDER
Nothing is built. Which adapters, and of which version, the installed plugins package says: those whose adapters read .edl, .xml or .aaf. Files
are kept by the first eight digits of the SHA-256 of their content, since none of them is ours to name:
FOLDER/<hash>.<extension>, and FOLDER/index.json: [{hash, extension, size, movie}], `movie` being the hash of one rendered from a list.
"""
import hashlib
import io
import json
import os
import sys
import tarfile
from importlib import metadata

import opentimelineio as otio
from pip._internal.commands import create_command

LISTS = ("aaf", "edl", "xml", "otio")
MOVIES = ("mov",)


def distributions():
    """Name and version of the library, and of each package that brings an adapter for one of the formats."""
    wanted = {"opentimelineio": metadata.version("opentimelineio")}
    owners = metadata.packages_distributions()
    for adapter in otio.plugins.ActiveManifest().adapters:
        if not set(adapter.suffixes) & {"edl", "xml", "aaf"}:
            continue
        parts = os.path.normpath(adapter.module().__file__).split(os.sep)
        package = parts[parts.index("site-packages") + 1]
        for name in owners.get(package, []):
            wanted[name.lower()] = metadata.version(name)
    return wanted


def archives(wanted):
    """The source archive of each, as bytes, by the client that is set up here."""
    command = create_command("download")
    with command.main_context():
        options, _ = command.parse_args(["--no-deps", "--no-binary", ":all:"])
        session = command.get_default_session(options)
        finder = command._build_package_finder(options=options, session=session)
        for name, version in sorted(wanted.items()):
            links = [c.link for c in finder.find_all_candidates(name) if str(c.version) == version and not c.link.is_wheel]
            if not links:
                sys.exit(f"There is no source archive of {name} {version}.")
            answer = session.get(links[0].url_without_fragment)
            answer.raise_for_status()
            if links[0].hash and hashlib.new(links[0].hash_name, answer.content).hexdigest() != links[0].hash:
                sys.exit(f"The source archive of {name} {version} is not what the registry says of it.")
            yield answer.content


def samples(archive):
    """The sample files of an archive: their names without folders and extension, extensions, and contents."""
    with tarfile.open(fileobj=io.BytesIO(archive)) as tar:
        for member in tar:
            name, dot, extension = os.path.basename(member.name).rpartition(".")
            if not member.isfile() or "sample_data" not in member.name or extension not in LISTS + MOVIES:
                continue
            yield name, extension, tar.extractfile(member).read()


folder = sys.argv[1]
os.makedirs(folder, exist_ok=True)
found = {}
for archive in archives(distributions()):
    for name, extension, content in samples(archive):
        short = hashlib.sha256(content).hexdigest()[:8]
        with open(os.path.join(folder, f"{short}.{extension}"), "wb") as out:
            out.write(content)
        found.setdefault(short, {"hash": short, "extension": extension, "size": len(content), "name": name})
rendered = {f["name"]: f["hash"] for f in found.values() if f["extension"] in MOVIES}
index = [
    {"hash": f["hash"], "extension": f["extension"], "size": f["size"], "movie": rendered.get(f"{f['name']}_{f['extension']}")}
    for f in found.values()
    if f["extension"] in LISTS
]
with open(os.path.join(folder, "index.json"), "w") as out:
    json.dump(sorted(index, key=lambda f: (f["extension"], f["hash"])), out, indent=1)
