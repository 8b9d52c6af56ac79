"""A file that a run holds as long as it lives: the system lets go of it however the run ends, so it tells the living from the dead."""

from __future__ import annotations

import fcntl
import os
import time
from pathlib import Path


def remove_tree(place: Path) -> None:
    """Take a folder away with all that is in it, as far as that is possible."""
    import shutil  # only here, as it brings three kinds of archives along

    shutil.rmtree(place, ignore_errors=True)


def hold(path: Path) -> int:
    """Hold a file; answers its descriptor, to be closed when it is let go of. Raises OSError when it cannot be made."""
    file = os.open(path, os.O_RDWR | os.O_CREAT, 0o600)
    for _try in range(100):
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:  # another run just looks whether it is held
            time.sleep(0.002)
            continue
        except OSError:  # a file system without locks: then nobody else is told apart, and nothing is lost
            pass
        break
    return file


def is_held(path: Path) -> bool:
    """Whether a living run holds it."""
    try:
        file = os.open(path, os.O_RDWR)
    except OSError:
        return False
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return True
    except OSError:
        return False
    finally:
        os.close(file)
    return False
