"""The commands of ./run."""

import errno
import os
import shutil
import signal
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from types import FrameType

from . import builds
from .packages import install_missing
from .postgres import Cluster
from .words import Stop, complain, say
from .world import World

USAGE = """./run demo          start Yalla with the demo data on http://127.0.0.1:8400 (YALLA_PORT)
./run test [part]   all tests and checks; parts: core, server, browser, checks
./run bench [name]  measure: accept, routed_p95, route, import, decisions, replay_look, audience_count,
                    people_page, mixed, advance, enter, rehearse, ahead, send, broadcast_prepare,
                    broadcast_send, compose, handoff, heard,
                    typing, first_paint
./run screenshots   take docs/screenshots anew from the demo data
./run build         build the interface; every start does so when it has changed
./run dev           the same as demo, with the front end served by Vite and rebuilt as you edit
./run stop          stop what a start left running"""


def main(words: list[str]) -> int:
    """Do what the words ask; the exit code."""
    commands = {
        "demo": demo,
        "test": test,
        "bench": bench,
        "screenshots": screenshots,
        "dev": dev,
        "build": build,
        "stop": stop,
    }
    command = commands.get(words[0]) if words else None
    if command is None:
        print(USAGE)
        return 0 if words in ([], ["help"], ["--help"]) else 2
    # Everything that starts here starts many times.
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
    # A shell that starts this in the background sets SIGINT to be ignored; Ctrl-C counts anyway.
    signal.signal(signal.SIGINT, _interrupt)
    signal.signal(signal.SIGTERM, _interrupt)
    try:
        return command(words[1:])
    except Stop as reason:
        complain(str(reason))
        return 1
    except KeyboardInterrupt:
        say("stopped")
        return 0 if words[0] in ("demo", "dev") else 130
    except OSError as error:
        if error.errno == errno.ENOSPC:
            complain("The disk is full. Free some space, then start again.")
        else:
            complain(f"{error.filename or 'The system'}: {error.strerror or error}.")
        return 1


def data_folder() -> Path:
    """Where all files of the demo are."""
    return Path(os.environ.get("YALLA_DATA", builds.ROOT / ".data")).resolve()


def demo(words: list[str]) -> int:
    """Start everything with the demo data, until Ctrl-C."""
    install_missing(browser=False)
    world = World(data_folder(), _port())
    pid = world.data / "run.pid"
    interface = builds.Beside("build")
    beside = ThreadPoolExecutor(1)
    try:
        # Both cores have something to do: what needs nothing of the other goes beside it.
        database = beside.submit(world.start_database)
        builds.python_environment(development=False)
        database.result()
        world.make_tables()
        pages = beside.submit(_collect_once_built, world, interface)
        world.load_demo()
        pages.result()
        pid.write_text(str(os.getpid()))
        say("starting web, worker and outside")
        world.start()
        environment = world.environment()
        say(f"ready at {world.address}")
        say(
            f"sign in as {environment['YALLA_DEMO_EMAIL']} with “{environment['YALLA_DEMO_PASSWORD']}”"
        )
        say(
            f"the outside world (website, inboxes, clock) is at http://127.0.0.1:{world.outside_port}"
        )
        say("Ctrl-C stops everything")
        world.wait()
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        interface.stop()
        beside.shutdown(cancel_futures=True)
        world.stop()
        pid.unlink(missing_ok=True)
    return 0


def _collect_once_built(world: World, interface: builds.Beside) -> None:
    interface.wait()
    world.collect()


def build(words: list[str]) -> int:
    """Build the interface."""
    builds.front_end()
    return 0


def dev(words: list[str]) -> int:
    """The demo, with Vite serving the front end as it is edited."""
    os.environ["YALLA_DEBUG"] = "1"
    install_missing(browser=False)
    builds.python_environment(development=True)
    builds.node_modules()
    builds.front_end()
    world = World(data_folder(), _port())
    try:
        world.start_database()
        world.make_tables()
        world.load_demo()
        world.collect()
        world.start()
        say(f"the server is at {world.address}; edit web/src at http://127.0.0.1:5173")
        os.environ["YALLA_PUBLIC_ADDRESS"] = world.address
        os.spawnvp(os.P_WAIT, "npm", ["npm", "--prefix", str(builds.WEB), "run", "dev"])
    finally:
        world.stop()
    return 0


def test(words: list[str]) -> int:
    """Every test and check, or a part of them."""
    from .testing import run_tests

    install_missing(browser=True, mail=True)
    interface = builds.Beside("build")
    try:
        builds.python_environment(development=True)
        interface.wait()
    finally:
        interface.stop()
    builds.node_modules()
    return run_tests(words)


def bench(words: list[str]) -> int:
    """Measure, on a cluster and with processes of its own."""
    os.environ["YALLA_URLS"] = "bench.rows"
    # The load comes from one address, and is meant.
    os.environ["YALLA_POSTS_PER_VISITOR"] = "0"
    os.environ["YALLA_POSTS_PER_MINUTE"] = "1000000"
    return _with_own_world("bench", ["-m", "bench", *words], ["web", "outside"])


def screenshots(words: list[str]) -> int:
    """Take the pictures of docs/screenshots from fresh demo data."""
    return _with_own_world("screenshots", ["-m", "demo.screenshots", *words], [], demo_data=True)


def stop(words: list[str]) -> int:
    """Stop a demo that runs, or what it left behind."""
    pid = data_folder() / "run.pid"
    stopped = False
    if pid.exists():
        number = int(pid.read_text())
        try:
            os.kill(number, signal.SIGTERM)
            stopped = True
            for _ in range(150):
                time.sleep(0.2)
                os.kill(number, 0)
        except ProcessLookupError:
            pid.unlink(missing_ok=True)
    if (data_folder() / "postgres").exists() and Cluster(
        data_folder() / "postgres"
    ).stop_left_behind():
        stopped = True
    say("stopped" if stopped else "nothing was running")
    return 0


def _with_own_world(
    name: str, python: list[str], processes: list[str], *, demo_data: bool = False
) -> int:
    from .postgres import free_port

    install_missing(browser=True)
    builds.python_environment(development=True)
    builds.front_end()
    os.environ["YALLA_OUTSIDE_PORT"] = str(free_port())
    os.environ["YALLA_SMTP_PORT"] = str(free_port())
    os.environ["YALLA_INBOUND_PORT"] = str(free_port())
    if demo_data:
        # Not what an older version of the demo had made.
        shutil.rmtree(data_folder() / name, ignore_errors=True)
    world = World(data_folder() / name, free_port())
    try:
        world.start_database()
        world.make_tables()
        if demo_data:
            world.load_demo()
        world.collect()
        world.start(*processes)
        # A bench makes tables of its own, for the limits that it compares with.
        os.environ.update(world.environment(owner=name == "bench"))
        return os.spawnv(os.P_WAIT, builds.PYTHON, [str(builds.PYTHON), *python])
    finally:
        world.stop()


def _port() -> int:
    text = os.environ.get("YALLA_PORT", "8400")
    if not text.isdigit() or not 1024 <= int(text) <= 65_000:
        raise Stop(f"YALLA_PORT is “{text}”; it has to be a number from 1024 to 65000.")
    return int(text)


def _interrupt(signum: int, frame: FrameType | None) -> None:
    raise KeyboardInterrupt


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
