"""Import a file, in a process of its own: prints its seconds and its peak memory in MB."""

import json
import resource
import sys
import time

import django

django.setup()

from server.imports import imports  # noqa: E402

if __name__ == "__main__":
    started = time.monotonic()
    imports.work_on(sys.argv[1])
    seconds = time.monotonic() - started
    # Linux gives the peak in KiB.
    print(json.dumps([seconds, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024]))
