"""What is kept is made once, whoever asks, and goes when it has not been asked for longest."""

import threading
from concurrent.futures import ThreadPoolExecutor

import pytest
from tightseam.document.kept import Kept

PATIENCE = 10  # s


def test_what_has_not_been_asked_for_longest_goes_first():
    kept, made = Kept(2), []

    def ask(key):
        return kept.get(key, lambda: made.append(key) or key.upper())

    assert [ask(key) for key in "abacb"] == ["A", "B", "A", "C", "B"]
    assert made == ["a", "b", "c", "b"]  # b was asked for before a, and went when c came


def test_what_is_heavy_leaves_less_room():
    kept = Kept(10, len)
    for word in ("four", "five", "ten"):
        kept.put(word, word)
    assert kept.get("five", lambda: "made") == "five"
    assert kept.get("four", lambda: "made") == "made"  # four, five and ten are more than ten letters
    kept.put("much", "more than all of it")
    assert kept.get("much", lambda: "made") == "more than all of it"  # the last one always stays
    assert kept.get("ten", lambda: "anew") == "anew"
    kept.put("ten", "other")
    kept.put("ten", "other")  # counts once
    assert kept.get("ten", lambda: "made") == "other"


def test_who_asks_while_it_is_made_waits_for_it():
    kept, made = Kept(4), []
    begun, go = threading.Event(), threading.Event()

    def make():
        made.append(1)
        begun.set()
        assert go.wait(PATIENCE)
        return object()

    with ThreadPoolExecutor(2) as pool:
        first = pool.submit(kept.get, "key", make)
        assert begun.wait(PATIENCE)
        second = pool.submit(kept.get, "key", make)
        assert kept.get("another", lambda: "meanwhile") == "meanwhile"
        go.set()
        assert first.result(PATIENCE) is second.result(PATIENCE)
    assert made == [1]


def test_what_could_not_be_made_is_tried_again_by_the_next():
    kept = Kept(4)
    with pytest.raises(ZeroDivisionError):
        kept.get("key", lambda: 1 / 0)
    assert kept.get("key", lambda: "made") == "made"
