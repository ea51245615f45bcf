"""The ledger's chain, checkpoints and exports, from values alone."""

from __future__ import annotations

import copy
import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallshelf.core.errors import BadArgument, BadDocument
from tallshelf.core.ledger import (
    EXPORT_FORMAT,
    GENESIS,
    Checkpoint,
    entry_hash,
    key_id,
    new_key,
    public_key,
    read_checkpoint,
    read_export,
    sign_checkpoint,
    verify_chain,
)

KEY = new_key()


def chain(length: int) -> list[dict]:
    entries, previous = [], GENESIS
    for number in range(1, length + 1):
        entry = {
            "number": number,
            "at": f"2026-11-{number:02}T08:00:00Z",
            "event": "suspended",
            "actor": "ines",
            "via": "session",
            "subject": "berth-planner",
            "body": json.dumps({"item": "", "reason": f"r{number}"}, separators=(",", ":")),
            "previous": previous,
        }
        previous = entry["hash"] = entry_hash(entry)
        entries.append(entry)
    return entries


def head(entries: list[dict]) -> Checkpoint:
    return Checkpoint(len(entries), entries[-1]["hash"], "2026-11-27T08:00:00Z")


@given(st.integers(1, 9), st.data())
def test_any_edit_gap_or_reorder_is_found_and_the_first_is_named(length, data):
    entries = chain(length)
    assert verify_chain(entries).fault == "" and verify_chain(entries, head(entries)).fault == ""
    at = data.draw(st.integers(0, length - 1))
    how = data.draw(st.sampled_from(["edit", "gap", "reorder", "rehash"]))
    bad = copy.deepcopy(entries)
    if how == "edit":
        bad[at][data.draw(st.sampled_from(["actor", "at", "event", "via", "subject", "body"]))] = "x"
    elif how == "gap":
        del bad[at]
    elif how == "reorder" and length > 1:
        other = data.draw(st.integers(0, length - 1).filter(lambda one: one != at))
        bad[at], bad[other] = bad[other], bad[at]
    elif how == "rehash":
        bad[at]["actor"] = "oskar"
        bad[at]["hash"] = entry_hash(bad[at])
    found = verify_chain(bad)
    if bad == entries or (how == "gap" and at == length - 1) or (how == "rehash" and at == length - 1):
        assert verify_chain(bad, head(entries)).fault or bad == entries  # the checkpoint tells these
    else:
        assert found.fault and found.entries <= at + (how == "rehash")


@given(st.integers(1, 6), st.integers(1, 6))
def test_a_cut_tail_and_a_rewritten_chain_show_against_a_checkpoint(length, cut):
    entries = chain(length + cut)
    kept = head(entries)
    assert "cut" in verify_chain(entries[:length], kept).fault
    rewritten = chain(length + cut + 1)
    for one in rewritten:
        one["actor"] = "oskar"
    previous = GENESIS
    for one in rewritten:
        one["previous"] = previous
        previous = one["hash"] = entry_hash(one)
    assert verify_chain(rewritten).fault == ""
    assert "checkpoint" in verify_chain(rewritten, kept).fault


def test_a_checkpoint_is_read_by_its_key_alone():
    signed = sign_checkpoint(KEY, Checkpoint(3, "sha256:x", "2026-11-27T08:00:00Z"))
    assert read_checkpoint(signed + "\n", public_key(KEY)) == Checkpoint(
        3, "sha256:x", "2026-11-27T08:00:00Z"
    )
    other = public_key(new_key())
    assert key_id(other) != key_id(public_key(KEY))
    head_, _, rest = signed.partition(".")
    for bad, key in ((signed, other), (f"{head_}.{rest[1:]}", public_key(KEY)), ("x", public_key(KEY))):
        with pytest.raises(BadDocument):
            read_checkpoint(bad, key)
    for key in ("no key", KEY):
        with pytest.raises(BadArgument):
            read_checkpoint(signed, key)


def exported(entries: list[dict], checkpoint: Checkpoint | None = None) -> list[bytes]:
    lines = [{"format": EXPORT_FORMAT, "key": public_key(KEY)}]
    lines += [{**one, "body": json.loads(one["body"])} for one in entries]
    lines += [{"checkpoint": sign_checkpoint(KEY, checkpoint or head(entries))}]
    return [json.dumps(one).encode() for one in lines]


def test_an_export_is_verified_without_the_service():
    entries = chain(5)
    good = read_export(exported(entries))
    assert (good.found.entries, good.found.fault, good.own_key) == (5, "", True)
    assert read_export(exported(entries), key=public_key(KEY)).own_key is False
    kept = head(entries)
    assert "cut" in read_export(exported(entries[:3]), key=public_key(KEY), kept=kept).found.fault
    assert "another chain" in read_export(exported(entries[:3], head(entries))).found.fault
    for lines in (exported(entries)[:-1], exported(entries)[1:], [b"{}"], [b"[1]"], []):
        with pytest.raises(BadDocument):
            read_export(lines)
    with pytest.raises(BadDocument):
        read_export(exported(entries), key=public_key(new_key()))
