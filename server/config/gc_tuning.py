"""How often Python looks for objects that only refer to each other.

A batch of submissions makes hundreds of thousands of objects that live until it is stored; looking
through all of them again and again takes a third of the time.
"""

import gc

_BETWEEN = 100_000
"""New objects, beyond those that went, after which the youngest are looked through."""


def tune_gc() -> None:
    """Look seldom, and never again at what is there from the start."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(_BETWEEN, 20, 50)
