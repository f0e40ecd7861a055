"""Values that are looked up once a second, however many threads ask for them."""

import itertools
import time
from concurrent.futures import ThreadPoolExecutor
from threading import Event
from unittest import TestCase
from unittest.mock import patch

from server.workspaces.briefly import Briefly


class Looking(TestCase):
    def setUp(self) -> None:
        self.now = 100.0
        clock = patch("server.workspaces.briefly.time.monotonic", lambda: self.now)
        clock.start()
        self.addCleanup(clock.stop)
        self.kept = Briefly[int]()
        self.numbers = itertools.count()

    def get(self) -> int | None:
        return self.kept.get("form", lambda: next(self.numbers))

    def test_for_a_second_nothing_is_looked_up(self) -> None:
        seen = []
        for at in (100.0, 100.5, 100.99, 101.0, 101.9, 102.0, 104.5):
            self.now = at
            seen.append(self.get())
        self.assertEqual(seen, [0, 0, 0, 1, 1, 2, 3])

    def test_what_is_forgotten_is_looked_up_at_once_and_nothing_else(self) -> None:
        self.get()
        other = self.kept.get("other", lambda: 70)
        self.kept.forget("form")
        self.kept.forget("never there")
        self.assertEqual((self.get(), other, self.kept.get("other", lambda: 71)), (1, 70, 70))

    def test_what_is_not_there_is_not_kept(self) -> None:
        self.assertIsNone(self.kept.get("form", lambda: None))
        self.assertEqual(self.get(), 0)
        self.now = 101.5
        self.assertIsNone(self.kept.get("form", lambda: None))
        self.assertEqual(self.get(), 1)

    def test_a_look_that_fails_lets_the_next_one_look(self) -> None:
        self.get()
        self.now = 101.5
        for _ in range(2):
            with self.assertRaises(ZeroDivisionError):
                self.kept.get("form", lambda: 1 // 0)
        self.assertEqual(self.get(), 1)

    def test_while_one_looks_the_others_have_the_value_so_far_for_two_seconds(self) -> None:
        self.get()
        self.now = 101.5
        begun, ends = Event(), Event()

        def slowly() -> int:
            begun.set()
            ends.wait(20)
            return 50

        with ThreadPoolExecutor(1) as pool:
            slow = pool.submit(self.kept.get, "form", slowly)
            self.assertTrue(begun.wait(20))
            self.assertEqual([self.get() for _ in range(5)], [0] * 5)
            self.now = 102.0
            self.assertEqual(self.get(), 1, "two seconds are the most")
            ends.set()
            self.assertEqual(slow.result(20), 50)
        self.assertEqual(self.get(), 1, "what was looked up later stays")

    def test_what_was_on_its_way_when_it_was_forgotten_is_not_kept(self) -> None:
        def paused_meanwhile() -> int:
            self.now += 0.1
            self.kept.forget("form")
            return 50

        self.assertEqual(self.kept.get("form", paused_meanwhile), 50)
        self.now += 0.1
        self.assertEqual(self.get(), 0)

    def test_many_threads_look_few_times(self) -> None:
        self.get()
        self.now = 101.2

        def slowly() -> int:
            time.sleep(0.1)
            return next(self.numbers)

        with ThreadPoolExecutor(8) as pool:
            seen = set(pool.map(lambda _: self.kept.get("form", slowly), range(64)))
        self.assertEqual(next(self.numbers), 2, "one of them looked")
        self.assertLessEqual(seen, {0, 1})
