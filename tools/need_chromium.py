"""See that Chromium is there for the browser tests; install Debian's where it is missing and permitted."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys

PLACES = ("/usr/bin/chromium", "/usr/bin/chromium-browser")


def found() -> bool:
    return any(os.access(place, os.X_OK) for place in PLACES)


def main() -> int:
    if found():
        return 0
    if shutil.which("apt-get") is None or os.geteuid() != 0:
        print(
            "The browser tests need Chromium at /usr/bin/chromium. Install it: sudo apt-get install chromium"
        )
        return 1
    print("Installing Debian's chromium for the browser tests ...", flush=True)
    install = ["apt-get", "install", "-y", "-qq", "chromium"]
    quiet = {"stdout": subprocess.DEVNULL, "env": {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}}
    if subprocess.call(install, **quiet) != 0:
        subprocess.call(["apt-get", "update", "-qq"], **quiet)
        subprocess.call(install, **quiet)
    if not found():
        print("Chromium could not be installed; the browser tests need it.")
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
