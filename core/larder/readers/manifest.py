"""Checksum manifests, GNU style (``HASH  path``) and BSD style (``SHA256 (path) = HASH``).

What two manifests share tells what exists twice, whatever the files and folders are called. Paths are read
past and never used.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from larder.base.errors import Refused
from larder.base.guard import Wanted

LARGEST_MANIFEST_BYTES = 20_000_000
MOST_FILES = 200_000
MANIFEST_ACCEPTED = "a checksum manifest as sha256sum or md5sum writes it, plain or with --tag"
ALGORITHM_BY_DIGITS = {32: "MD5", 40: "SHA1", 56: "SHA224", 64: "SHA256", 96: "SHA384", 128: "SHA512"}
"""Hexadecimal digits of a digest (RFC 1321, FIPS 180-4); a GNU manifest does not name its algorithm."""
KEY_DIGITS = 16
"""Digits kept of a digest, 64 bits: among 200,000 files a chance meeting has odds below one in 10^8."""
_WANTED = Wanted("manifest", MANIFEST_ACCEPTED, LARGEST_MANIFEST_BYTES)
_LINES = re.compile(r"[^\n]+")
_GNU = re.compile(r"\\?(?P<digest>[0-9A-Fa-f]{32,128}) [ *](?P<path>.+)")
_BSD = re.compile(r"\\?(?P<name>[A-Z0-9-]+) ?\((?P<path>.+)\) ?= ?(?P<digest>[0-9A-Fa-f]{32,128})")


@dataclass(frozen=True)
class Manifest:
    """The distinct contents of a manifest: ``keys`` are the first 64 bits of each digest."""

    algorithm: str
    keys: frozenset[int]
    file_count: int


def read_manifest(raw: bytes) -> Manifest:
    """The manifest in ``raw``; raises :class:`Refused` naming the first line that is none."""
    _WANTED.check_bytes(len(raw))
    try:
        # Paths may hold any sign, control characters too: they are read past.
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise _WANTED.refused("bytes that are no UTF-8") from None
    algorithms: set[str] = set()
    keys: set[int] = set()
    files = 0
    for match in _LINES.finditer(text):
        line = match[0].rstrip("\r")
        if not line.strip() or line.startswith("#"):
            continue
        algorithm, digest = _line(line, text, match.start())
        algorithms.add(algorithm)
        keys.add(int(digest[:KEY_DIGITS], 16))
        files += 1
        if files > MOST_FILES:
            raise Refused("manifest", f"more than {MOST_FILES} files", f"1 to {MOST_FILES} files")
    if not files:
        raise Refused("manifest", "0 files", f"1 to {MOST_FILES} files")
    if len(algorithms) > 1:
        raise Refused("manifest", " and ".join(sorted(algorithms)), "checksums of one kind")
    return Manifest(algorithms.pop(), frozenset(keys), files)


def _line(line: str, text: str, at: int) -> tuple[str, str]:
    """(algorithm, digest) of a line that starts ``at`` a place of the whole text."""
    match = _GNU.fullmatch(line) or _BSD.fullmatch(line)
    algorithm = ALGORITHM_BY_DIGITS.get(len(match["digest"])) if match else None
    named = match.groupdict().get("name") if match else None
    if match is None or algorithm is None or (named or algorithm).replace("-", "") != algorithm:
        raise Refused(f"manifest, line {text.count(chr(10), 0, at) + 1}", line, MANIFEST_ACCEPTED)
    return algorithm, match["digest"].lower()


def shares_in_common(one: Manifest, other: Manifest) -> tuple[float, float] | None:
    """The share of each manifest's contents that the other has too; None where they cannot be compared."""
    if one.algorithm != other.algorithm:
        return None
    common = len(one.keys & other.keys)
    return common / len(one.keys), common / len(other.keys)
