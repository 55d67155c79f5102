"""The vocabulary of a brief, the figures in its sentences, and what is said of a word that is none."""

from __future__ import annotations

import difflib

from .tokens import NUMBER_WORDS, Token

TOPICS = "people, footage, hours, what is kept, until when, money or the room"
_ROLES = {
    ("edit", "Edit"): "edit editor editors editing edits cutter cutters",
    ("assist", "Assist"): "assist assistant assistants assists",
    ("colour", "Colour"): "colour color colourist colourists colorist colorists grade grading grader",
    ("sound", "Sound"): "sound audio mixer mix",
    ("graphics", "Graphics"): "graphics effects compositor compositors compositing",
    ("online", "Online"): "online finishing conform",
    ("viewer", "Viewer"): "viewer viewers screening review",
    ("render", "Render"): "render renders rendering",
    ("ingest", "Ingest"): "ingest ingests offload loader",
    ("photo", "Photo"): (
        "photo photos photographer photographers stills retouch retouching retoucher retouchers culling"
    ),
}
ROLES = {word: role for role, words in _ROLES.items() for word in words.split()}
"""Who works, by the words they go by: (kind of work, name of the seats)."""
SEAT_WORDS = frozenset(
    [
        "seat",
        "seats",
        "suite",
        "suites",
        "station",
        "stations",
        "desk",
        "desks",
        "person",
        "people",
        "workstation",
        "workstations",
        "machine",
        "machines",
        "user",
        "users",
        "node",
        "nodes",
    ]
)
FAR_WORDS = frozenset(["remote", "far", "away", "afar", "home"])
FILLERS = frozenset(
    [
        "a",
        "an",
        "the",
        "of",
        "with",
        "at",
        "on",
        "in",
        "and",
        "each",
        "every",
        "per",
        "play",
        "plays",
        "playing",
        "who",
        "that",
        "for",
        "from",
        "we",
        "shoot",
        "shoots",
        "shooting",
        "about",
        "is",
        "are",
        "footage",
        "material",
        "video",
        "film",
        "to",
        "be",
        "raw",
        "as",
        "them",
        "their",
        "by",
        "which",
        "it",
    ]
)
KEPT_WORDS = frozenset(
    ["today", "now", "kept", "keep", "already", "existing", "so", "archive", "archived", "old", "there"]
)
SHARES = {"half": 50.0, "third": 100 / 3, "quarter": 25.0, "tenth": 10.0, "all": 100.0, "everything": 100.0}
NOISE = {"quiet": 35, "silent": 25}
"""dB(A) at most: a quiet room, and one where sound is recorded."""
AIR = {
    "closet": ("closet", "a closet without air of its own"),
    "cupboard": ("closet", "a closet without air of its own"),
    "cooled": ("cooled", "a room with cooling"),
    "rack": ("cooled", "a machine room with cooling"),
    "open": ("open room", "an open room"),
    "studio": ("open room", "an open room"),
}
WEEKLY_KINDS = {
    **dict.fromkeys(("stills", "photos", "pictures", "raws"), "stills"),
    **dict.fromkeys(("exports", "export", "deliveries"), "exports"),
}
LINE_WAYS = {
    **dict.fromkeys(("up", "upload", "upstream"), "up"),
    **dict.fromkeys(("down", "download", "downstream"), "down"),
}
RATIOS = {"proxies": "proxy_ratio", "previews": "preview_ratio"}
_KNOWN = sorted(
    {
        *ROLES, *SEAT_WORDS, *FAR_WORDS, *NOISE, *AIR, *KEPT_WORDS, *WEEKLY_KINDS, *RATIOS,
        "streams", "budget", "until", "years", "week", "readers", "channels", "uncompressed",
    }
)  # fmt: skip


_COUNTS = ("number", "thousands", "times", "size", "rate", "percent", "hours", "span")
_FOOTAGE = ("kilo", "fps", "bits", "sampling", "ratio", "geometry", "lines")


def names_people(token: Token) -> bool:
    """Whether it is a role, or a word for seats."""
    return token.word in ROLES or token.word in SEAT_WORDS


def count_of(token: Token) -> int | None:
    """How many it says, in figures or words; None where it is no count."""
    if token.kind in ("number", "times") and float(token.value).is_integer():
        return int(token.value)
    return NUMBER_WORDS.get(token.word, 1 if token.word in ("a", "an") else None)


def share_of(token: Token) -> float | None:
    """The per cent it says; None where it says none up to a hundred."""
    share = token.value if token.kind == "percent" else SHARES.get(token.word)
    return share if share is not None and share <= 100 else None


def is_strange(token: Token, *known: str) -> bool:
    """Whether it means something, and nothing that is known here."""
    return token.word not in known and token.word not in FILLERS and token.kind != "slash"


def no_word(token: Token, of: str = "brief") -> str:
    """Why a word cannot be taken, and what it may have meant."""
    said = f"“{token.text}”"
    if token.kind == "unsure":
        return f"{said} could be bits or bytes: say Mb/s for bits or MB/s for bytes."
    if token.kind == "wrong":
        return (
            f"{said} cannot be read: say a size such as 60MB, a rate such as 220 Mb/s, a sum such as "
            "9000 EUR or a day such as 2029-06-30."
        )
    if token.kind == "wire":
        return f"{said} is no word of a {of}: wires are said under Wiring."
    if token.kind in _COUNTS:
        return f"{said} of what? Say it with its unit or what it counts: {TOPICS}."
    if token.word in _KNOWN or token.kind in _FOOTAGE:
        wanted = f"1 edit seat plays {token.text}" if token.kind in _FOOTAGE else TOPICS
        return f"{said} says nothing by itself: say {wanted}."
    near = difflib.get_close_matches(token.word, _KNOWN, 1, 0.75) if len(token.word) > 4 else []
    hint = f"Did you mean “{near[0]}”?" if near else f"Say {TOPICS}."
    return f"{said} is no word of a {of}. {hint}"


def size_text(size_bytes: float) -> str:
    """A size to three figures."""
    if size_bytes >= 1e14:
        return f"{size_bytes / 1e12:,.0f} TB"
    for name, unit in (("TB", 1e12), ("GB", 1e9)):
        if size_bytes >= unit:
            return f"{size_bytes / unit:.3g} {name}"
    return f"{size_bytes / 1e6:.3g} MB"


def counted(count: int, word: str) -> str:
    """``1 stream``, ``2 streams``."""
    return f"{count} {word}" if count == 1 else f"{count} {word}s"
