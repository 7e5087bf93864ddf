"""Where things live in a checkout. Everything made on this machine is under .keen/, .venv/ and
web/."""

import hashlib
import os
import stat
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
# Data, lock and address of one installation; tests and second installations choose another folder.
HOME = Path(os.environ.get("KEEN_HOME") or ROOT / ".keen").absolute()
STAMPS = (
    ROOT / ".keen" / "stamps"
)  # what this checkout has installed and built, whichever data it serves
VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"
WEB = ROOT / "web"
BUILD = WEB / "build"


def others_may_enter(folder: Path) -> bool:
    """Whether another user (postgres) can reach `folder`: every parent must be traversable."""
    existing = folder
    while not existing.exists():
        existing = existing.parent
    return all(bool(p.stat().st_mode & stat.S_IXOTH) for p in (existing, *existing.parents))


def data_folder() -> Path:
    """The project's own data folder.

    PostgreSQL refuses to run as root, so root starts it as the user postgres, who cannot enter a
    checkout below a closed folder such as /root. Then the data lives under /var/lib instead.
    """
    inside = HOME / "data"
    if os.geteuid() != 0 or others_may_enter(HOME):
        return inside
    mark = hashlib.sha256(str(HOME).encode()).hexdigest()[:12]
    return Path("/var/lib/keen-tracer") / mark
