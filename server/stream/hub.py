"""Who follows which workspace, and what they are told: PostgreSQL's notifications, heard once in each process, as
server-sent events (WHATWG HTML, section 9.2).

One thread of each process has a loop with one connection to the database and every open stream: a stream costs a
socket and some kilobytes, never a thread. Nothing but names of topics leaves by it.
"""

import asyncio
import contextlib
import json
import os
import secrets
import socket
import threading
import time
from collections import Counter
from collections.abc import AsyncGenerator, Iterator
from concurrent.futures import CancelledError

import psycopg
import structlog
from django.db import connection
from psycopg.conninfo import make_conninfo

from .topics import CHANNEL

log = structlog.get_logger("yalla.stream")

MOST = 1000
"""Streams of one process."""
MOST_OF_ONE = 50
"""Streams of one member in one process: a browser opens one for all its tabs."""
GATHER, PAUSE = 0.25, 0.75
"""Seconds in which changes are gathered, and that lie between two events at least."""
HEARTBEAT = 20.0
"""Seconds after which something is sent where nothing changes, so that a dead connection is noticed."""
LIFETIME = 3600.0
"""Seconds after which a stream ends: the browser opens it anew, and has to be signed in still."""
SLOW = 10.0
"""Seconds that a client may take to read what was sent."""
PATIENCE = 5.0
"""Seconds in which PostgreSQL brings back what was announced as a trial, and in which a new process begins to hear."""
_RETRY = 2.0
_HEAD = (
    b"HTTP/1.1 200 OK\r\nContent-Type: text/event-stream\r\nCache-Control: no-store\r\n"
    b"X-Accel-Buffering: no\r\nX-Content-Type-Options: nosniff\r\nConnection: close\r\n\r\n"
)


class _Follower:
    """What a stream has not been told yet."""

    def __init__(self) -> None:
        self.topics: set[str] = set()
        self.over = False
        self.changed = asyncio.Event()

    def tell(self, topic: str) -> None:
        self.topics.add(topic)
        self.changed.set()

    def end(self) -> None:
        self.over = True
        self.changed.set()


class Hub:
    """The streams of this process."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._pid = 0
        self._loop: asyncio.AbstractEventLoop
        self._thread: threading.Thread
        self._followers: dict[str, set[_Follower]] = {}
        self._open = Counter[str]()
        self._hears = threading.Event()
        self._began = 0.0

    def takes(self, member: str) -> bool:
        """Whether a stream for this member can be opened: changes are heard, and there are not too many."""
        self._running()
        # A process that has just begun hears in a moment.
        return (
            self._hears.wait(max(0.0, self._began + PATIENCE - time.monotonic()))
            and self._open.total() < MOST
            and self._open[member] < MOST_OF_ONE
        )

    def take_over(self, client: socket.socket, workspace: str, member: str) -> None:
        """Answer on a connection that nobody else writes to any more, and close it in the end."""
        asyncio.run_coroutine_threadsafe(self._serve(client, workspace, member), self._running())

    def follow(self, workspace: str, member: str) -> Iterator[bytes]:
        """The same for a thread that has nothing else to do."""
        loop = self._running()
        events = self._events(workspace, member)
        try:
            while True:
                event = asyncio.run_coroutine_threadsafe(_next(events), loop).result()
                if event is None:
                    return
                yield event
        except CancelledError:
            return
        finally:
            with contextlib.suppress(RuntimeError):
                asyncio.run_coroutine_threadsafe(events.aclose(), loop)

    def stop(self) -> None:
        """End every stream, and the connection to the database."""
        with self._lock:
            if self._pid != os.getpid():
                return
            self._pid = 0
            self._loop.call_soon_threadsafe(self._loop.stop)
            self._thread.join()

    def _running(self) -> asyncio.AbstractEventLoop:
        with self._lock:
            # Threads do not come along when a process is forked.
            if self._pid != os.getpid():
                self._followers, self._open, self._pid = {}, Counter(), os.getpid()
                self._hears, self._began = threading.Event(), time.monotonic()
                self._loop = asyncio.new_event_loop()
                self._thread = threading.Thread(target=self._run, daemon=True, name="stream")
                self._thread.start()
            return self._loop

    def _run(self) -> None:
        self._loop.create_task(self._listen(dict(connection.get_connection_params())))
        self._loop.run_forever()
        tasks = asyncio.all_tasks(self._loop)
        for task in tasks:
            task.cancel()
        self._loop.run_until_complete(asyncio.gather(*tasks, return_exceptions=True))
        self._loop.run_until_complete(self._loop.shutdown_asyncgens())
        self._loop.close()

    async def _listen(self, settings: dict[str, object]) -> None:
        """Hear what is announced, for as long as the process lives.

        A trial is announced again and again, and has to come back: a database that does not move, or a pool that
        gives each statement another connection, says nothing by itself. Where it does not come, streams end, so
        that screens ask instead of believing that nothing changes.
        """
        known = {key: str(settings[key]) for key in ("dbname", "host", "port", "user", "password")}
        address = make_conninfo(**known, connect_timeout="5", keepalives_idle="10")
        while True:
            try:
                database = await psycopg.AsyncConnection.connect(address, autocommit=True)
                try:
                    await self._hear(database)
                finally:
                    self._end_streams()
                    await database.close()
            except (psycopg.Error, OSError, TimeoutError) as error:
                log.warning("changes are not heard", error=type(error).__name__)
            await asyncio.sleep(_RETRY)

    async def _hear(self, database: psycopg.AsyncConnection) -> None:
        async with asyncio.timeout(PATIENCE):
            await database.execute(f"LISTEN {CHANNEL}")
        while True:
            trial = asyncio.ensure_future(self._try(database))
            # Streams end at once where it does not come, whatever its end waits for.
            if not (await asyncio.wait({trial}, timeout=PATIENCE))[0]:
                self._end_streams()
                trial.cancel()
                raise TimeoutError
            await trial
            self._hears.set()
            async for note in database.notifies(timeout=HEARTBEAT):
                self._pass_on(note.payload)

    async def _try(self, database: psycopg.AsyncConnection) -> None:
        """Until what is announced here comes back."""
        trial, came = f"trial {secrets.token_hex(8)}", False
        await database.execute("SELECT pg_notify(%s, %s)", [CHANNEL, trial])
        while not came:
            # To its end: what came in the same packet would be lost.
            async for note in database.notifies(stop_after=1):
                self._pass_on(note.payload)
                came = came or note.payload == trial

    def _pass_on(self, announced: str) -> None:
        workspace, _, topic = announced.partition(" ")
        for follower in self._followers.get(workspace, ()):
            follower.tell(topic)

    def _end_streams(self) -> None:
        self._hears.clear()
        for followers in self._followers.values():
            for follower in followers:
                follower.end()

    async def _events(self, workspace: str, member: str) -> AsyncGenerator[bytes]:
        """The events of one stream, as they are sent."""
        follower = _Follower()
        followers = self._followers.setdefault(workspace, set())
        followers.add(follower)
        self._open[member] += 1
        try:
            yield b"retry: 2000\n\n"
            ends = asyncio.get_running_loop().time() + LIFETIME
            while asyncio.get_running_loop().time() < ends:
                try:
                    async with asyncio.timeout(HEARTBEAT):
                        await follower.changed.wait()
                except TimeoutError:
                    yield b":\n\n"
                    continue
                if follower.over:
                    return
                await asyncio.sleep(GATHER)
                topics, follower.topics = sorted(follower.topics), set()
                follower.changed.clear()
                yield f"data: {json.dumps({'topics': topics})}\n\n".encode()
                await asyncio.sleep(PAUSE)
        finally:
            self._open[member] -= 1
            self._open += Counter()
            followers.discard(follower)
            if not followers and self._followers.get(workspace) is followers:
                del self._followers[workspace]

    async def _serve(self, client: socket.socket, workspace: str, member: str) -> None:
        with contextlib.closing(client):
            client.setblocking(False)
            try:
                reader, writer = await asyncio.open_connection(sock=client)
            except OSError:
                return
            writing = asyncio.ensure_future(self._write(writer, workspace, member))
            gone = asyncio.ensure_future(_until_gone(reader))
            try:
                await asyncio.wait((writing, gone), return_when=asyncio.FIRST_COMPLETED)
            finally:
                writing.cancel()
                gone.cancel()
                await asyncio.gather(writing, gone, return_exceptions=True)
                writer.close()

    async def _write(self, writer: asyncio.StreamWriter, workspace: str, member: str) -> None:
        writer.write(_HEAD)
        async with contextlib.aclosing(self._events(workspace, member)) as events:
            async for event in events:
                writer.write(event)
                async with asyncio.timeout(SLOW):
                    await writer.drain()


async def _next(events: AsyncGenerator[bytes]) -> bytes | None:
    return await anext(events, None)


async def _until_gone(reader: asyncio.StreamReader) -> None:
    """Until the other side ends the connection; whatever it sends is not looked at."""
    with contextlib.suppress(OSError):
        while await reader.read(1024):
            pass


HUB = Hub()
