"""``python -m bench.orders [EVERY]``: the laws of generated orders on the whole product of rope system × backup ×
stance × courtesy × length of the descent × party, or on every so many of it. The tests take all pairs."""

from __future__ import annotations

import itertools
import multiprocessing
import sys
import time

from reamer.core.rehearsal.faults import faults
from tests.core.test_rehearsal import FACTORS, order_for, wrongs
from tests.rehearsing import run

Choice = dict[str, object]


def tried(choice: Choice) -> tuple[Choice, int, list[str]]:
    """One order: how many faults were tried on its states, and what is wrong with it."""
    data = order_for(choice)
    play = run(data)
    n = sum(len(faults(p.scene, world)) for p in play.stations for world in p.states)
    return choice, n, wrongs(data, play)


def main(every: int) -> int:
    """Try them all on every processor; print what is wrong, and how many were tried."""
    product = (dict(zip(FACTORS, values, strict=True)) for values in itertools.product(*FACTORS.values()))
    start, orders, count, bad = time.perf_counter(), 0, 0, 0
    with multiprocessing.Pool() as pool:
        for choice, n, wrong in pool.imap_unordered(tried, itertools.islice(product, 0, None, every), 8):
            orders, count, bad = orders + 1, count + n, bad + bool(wrong)
            if wrong:
                print(choice, wrong[0], f"and {len(wrong) - 1} more", flush=True)
    took = time.perf_counter() - start
    print(f"{orders} orders, {count} faults tried, {bad} orders with something wrong, {took:.0f} s")
    return 1 if bad else 0


if __name__ == "__main__":
    raise SystemExit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 1))
