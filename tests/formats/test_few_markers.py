"""Captures that see a part of the player or the club alone: measured or refused in words, never a stack trace."""

from __future__ import annotations

import numpy as np
import pytest
from validation.hostile import manifest, zipped

from finearc.cli.main import main
from finearc.core.frames.handedness import Hand
from finearc.core.markers.labels import CLUB, HEAD, PELVIS, THORAX, file_label
from finearc.formats.bundle import MANIFEST
from finearc.formats.trc import trc_text

RATE_HZ, FRAMES = 240.0, 480
TIME_S = np.arange(FRAMES) / RATE_HZ
GROUPS = {"club": CLUB, "head": HEAD, "pelvis": PELVIS, "thorax": THORAX, "pelvis and club": [*PELVIS, *CLUB]}


def still(places):
    return np.repeat(places[None], FRAMES, axis=0)


def circling(places):
    way = np.stack([np.sin(6 * TIME_S), np.cos(6 * TIME_S), 0 * TIME_S], axis=1)
    return still(places) + way[:, None]


def turning(places):
    c, s = np.cos(9 * TIME_S), np.sin(9 * TIME_S)
    turn = np.stack(
        [np.stack([c, -s, 0 * c], 1), np.stack([s, c, 0 * c], 1), np.stack([0 * c, 0 * c, 0 * c + 1], 1)], 1
    )
    return np.einsum("nij,kj->nki", turn, places)


def noise(places):
    return still(places) + np.random.default_rng(2).normal(scale=0.01, size=(FRAMES, *places.shape))


def in_one_place(places):
    return np.ones((FRAMES, *places.shape))


@pytest.mark.parametrize("moves", [still, circling, turning, noise, in_one_place])
@pytest.mark.parametrize("group", list(GROUPS))
def test_a_few_markers_end_in_words(group, moves, tmp_path, capsys):
    labels = [file_label(m, Hand.RIGHT) for m in sorted(GROUPS[group], key=lambda m: m.name)]
    places = np.random.default_rng(1).normal(scale=0.15, size=(len(labels), 3))
    trc = trc_text("m.trc", labels, TIME_S, moves(places), RATE_HZ).encode()
    path = tmp_path / "x.zip"
    path.write_bytes(zipped({MANIFEST: manifest([{"kind": "markers", "file": "m.trc"}]), "m.trc": trc}))
    code = main(["analyze", str(path)])
    said = capsys.readouterr()
    assert code in (0, 2)
    assert "not foreseen" not in said.err, said.err
    if code == 2:
        assert said.err.startswith("finearc: "), said.err
        assert said.err.count("\n") == 1
