"""Reading what a phone hands back: a file, or what was read from its screen piece by piece."""

from __future__ import annotations

import re
import zlib
from collections.abc import Sequence

from reamer.core.errors import PlanError
from reamer.core.plan.correction import Handed
from reamer.core.reading import parse, read_model

MOST_BYTES = 200_000
# At its end a file says what its text was when the phone wrote it.
SEAL = re.compile(rb'(.*),"crc":"([0-9a-f]{8})"\}\s*', re.S)
# A piece of what is read from a screen: which hand-back, which piece, of how many.
PIECE = re.compile(r"reamer:([0-9a-f]{8}):(\d{1,3})/(\d{1,3}):(.*)", re.S)


def read_handed(text: bytes) -> tuple[Handed, bool]:
    """What a phone hands back.

    text: the file
    returns: its content, and whether its text is as the phone wrote it
    raises: PlanError naming the field, where it is not what a card hands back
    Source: none, text only; the check value is CRC-32.
    """
    if len(text) > MOST_BYTES:
        raise PlanError("", f"it has {len(text):,} bytes; corrections have at most {MOST_BYTES:,}")
    if not text.strip():
        raise PlanError("", "the file is empty")
    sealed = SEAL.fullmatch(text)
    whole = sealed is not None and zlib.crc32(sealed[1] + b"}") == int(sealed[2], 16)
    try:
        data = parse(text)
    except PlanError as e:
        if "not JSON" in e.message:
            raise PlanError("", "it is cut off, or is not what a card hands back; hand it back again") from None
        raise
    if not isinstance(data, dict) or data.get("kind") != "corrections":
        raise PlanError("kind", "this is not what a card hands back")
    return read_model(Handed, {k: v for k, v in data.items() if k != "crc"}), whole


def joined(texts: Sequence[str]) -> bytes:
    """What was read from a screen as one text.

    texts: each piece as it was read, in any order, some more than once; or the whole
    returns: the file's text
    raises: PlanError saying which piece is missing, or that they do not belong together
    Source: none, text only.
    """
    pieces: dict[int, str] = {}
    of: set[tuple[str, int]] = set()
    whole = []
    for text in texts:
        found = PIECE.fullmatch(text)
        if found is None:
            whole.append(text)
            continue
        of.add((found[1], int(found[3])))
        pieces[int(found[2])] = found[4]
    if not pieces:
        if len(whole) != 1:
            raise PlanError("texts", "none of it is what a card shows" if whole else "nothing was read")
        return whole[0].encode()
    if len(of) > 1:
        raise PlanError("texts", "the codes are of more than one hand-back; read those of one screen only")
    number = next(iter(of))[1]
    missing = [str(n) for n in range(1, number + 1) if n not in pieces]
    if missing:
        raise PlanError("texts", f"of {number} codes these are missing: {', '.join(missing)}")
    return "".join(pieces[n] for n in range(1, number + 1)).encode()
