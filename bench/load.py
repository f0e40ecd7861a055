"""A load of posts on loopback, bounded in time: as fast as they go, or at a rate."""

import http.client
import itertools
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from urllib.parse import urlencode

FORM = {"Content-Type": "application/x-www-form-urlencoded"}


def post_for(
    port: int,
    path: str,
    body: Callable[[int], dict[str, str]],
    seconds: float,
    clients: int,
    rate: float | None = None,
    waits: list[float] | None = None,
) -> tuple[int, float]:
    """Post for some seconds with some clients; how many were taken, and per second.

    Into `waits` goes how long each answer took (seconds), where a list is given.

    With a `rate`, posts begin at fixed times whether or not earlier ones were answered
    (as far as there are clients free), so that a slow answer is not hidden.
    """
    numbers = itertools.count()
    started = time.monotonic()
    taken = [0] * clients

    def client(index: int) -> None:
        connection = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
        while True:
            number = next(numbers)
            begin = started + number / rate if rate else time.monotonic()
            if begin - started > seconds:
                break
            time.sleep(max(0.0, begin - time.monotonic()))
            connection.request("POST", path, urlencode(body(number)), FORM)
            answer = connection.getresponse()
            answer.read()
            if answer.status not in (204, 303):
                raise RuntimeError(f"{path} answered {answer.status}")
            if waits is not None:
                waits.append(time.monotonic() - begin)
            taken[index] += 1
        connection.close()

    with ThreadPoolExecutor(clients) as pool:
        list(pool.map(client, range(clients)))
    return sum(taken), sum(taken) / (time.monotonic() - started)
