"""Make what is handed out: a wheel, and a Debian package that brings its libraries along. `make_dist.py [FOLDER]`, dist/ without it."""

from __future__ import annotations

import compileall
import gzip
import os
import shutil
import subprocess
import sys
import tempfile
import tomllib
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
ROOT = Path(__file__).parents[1]
PACKAGING = ROOT / "packaging"
SIZES = (16, 22, 24, 32, 48, 64, 96, 128, 256, 512)
LEFT_OUT = ("PyQt6/Qt6/qml", "PyQt6/Qt6/translations", "bin", "share", "numpy/tests", "scipy/tests")


def main(out: Path) -> None:
    """The wheel first: the package is made of it."""
    out.mkdir(parents=True, exist_ok=True)
    for old in (*out.glob("robust_ledger-*.whl"), *out.glob("robust-ledger_*.deb")):
        old.unlink()
    run(sys.executable, "-m", "build", "--wheel", "--no-isolation", "--outdir", str(out), str(ROOT))
    (wheel,) = out.glob("robust_ledger-*.whl")
    with tempfile.TemporaryDirectory(prefix="robust-ledger-dist-") as folder:
        tree = Path(folder) / "tree"
        stage(tree, wheel)
        name = out / f"robust-ledger_{version()}_{architecture()}.deb"
        run("dpkg-deb", "--root-owner-group", "-Zxz", "-z1", "--build", str(tree), str(name))
    for made in sorted(out.iterdir()):
        print(f"{made.name}  {made.stat().st_size / 1e6:.1f} MB")


def stage(tree: Path, wheel: Path) -> None:
    """Put every file where the package has it."""
    library, share = tree / "usr/lib/robust-ledger", tree / "usr/share"
    pip = (sys.executable, "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--no-compile")
    run(*pip, "--target", str(library), "-c", str(ROOT / "constraints.txt"), str(wheel))
    for name in LEFT_OUT:
        shutil.rmtree(library / name, ignore_errors=True)
    # Compiled here, so that nobody writes beside the package's own files, and removing it leaves nothing.
    compileall.compile_dir(str(library), quiet=2, stripdir=str(tree), invalidation_mode=_unchecked())
    put(PACKAGING / "launcher", tree / "usr/bin/robust-ledger", 0o755)
    put(PACKAGING / "robust-ledger.desktop", share / "applications/robust-ledger.desktop")
    put(PACKAGING / "robust-ledger.mime.xml", share / "mime/packages/robust-ledger.xml")
    put(PACKAGING / "robust-ledger.metainfo.xml", share / "metainfo/org.robustledger.desk.metainfo.xml")
    put(PACKAGING / "copyright", share / "doc/robust-ledger/copyright")
    for path in sorted((ROOT / "examples").rglob("*")):
        if path.is_file():
            put(path, share / "robust-ledger/examples" / path.relative_to(ROOT / "examples"))
    icons(share / "icons/hicolor")
    from man_page import man_page

    packed(man_page().encode(), share / "man/man1/robust-ledger.1.gz")
    packed((ROOT / "CHANGELOG.md").read_bytes(), share / "doc/robust-ledger/changelog.gz")
    control(tree)


def icons(folder: Path) -> None:
    """The icon in every size, for the program and for its jobs."""
    from PyQt6.QtGui import QGuiApplication, QIcon

    app = QGuiApplication.instance() or QGuiApplication(["robust-ledger"])
    drawing = ROOT / "src/robust_ledger/assets/icons/robust-ledger.svg"
    icon = QIcon(str(drawing))
    for kind, name in (("apps", "robust-ledger"), ("mimetypes", "application-x-robust-ledger-job+json")):
        put(drawing, folder / "scalable" / kind / f"{name}.svg")
        for size in SIZES:
            path = folder / f"{size}x{size}" / kind / f"{name}.png"
            path.parent.mkdir(parents=True, exist_ok=True)
            if not icon.pixmap(size, size).save(str(path)):
                raise SystemExit(f"{path} could not be drawn.")
    del app


def control(tree: Path) -> None:
    """What the package manager is told."""
    files = [path for path in tree.rglob("*") if path.is_file()]
    kilobytes = sum(path.stat().st_size for path in files) // 1024
    minor = sys.version_info.minor
    needs = [f"python3 (>= 3.{minor})", f"python3 (<< 3.{minor + 1})", *libraries()]
    fields = {
        "Package": "robust-ledger",
        "Version": version(),
        "Section": "misc",
        "Priority": "optional",
        "Architecture": architecture(),
        "Maintainer": "The Robust Ledger team <nobody@localhost>",
        "Installed-Size": str(kilobytes),
        "Depends": ", ".join(needs),
        "Description": "plan, change over and document a one-day panel replacement\n"
        " Measuring, arithmetic, matching, scheduling and record keeping for the\n"
        " electrician who replaces the panel of a house in one day.",
    }
    place = tree / "DEBIAN"
    place.mkdir(parents=True)
    (place / "control").write_text("".join(f"{key}: {value}\n" for key, value in fields.items()), encoding="utf-8")
    for path in (tree, *tree.rglob("*")):
        if path.is_dir():
            path.chmod(0o755)


def libraries() -> list[str]:
    """Debian's packages that the desk has need of, from the list that running from source reads too."""
    text = (PACKAGING / "libraries.txt").read_text(encoding="utf-8")
    return text.partition("[desk]\n")[2].partition("[")[0].split("\n")[:-1]


def version() -> str:
    data = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))
    return str(data["project"]["version"])


def architecture() -> str:
    return subprocess.run(["dpkg", "--print-architecture"], capture_output=True, text=True, check=True).stdout.strip()


def put(source: Path, path: Path, mode: int = 0o644) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    shutil.copyfile(source, path)
    path.chmod(mode)


def packed(data: bytes, path: Path) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(gzip.compress(data, 9, mtime=0))
    path.chmod(0o644)


def _unchecked():  # type: ignore[no-untyped-def]
    from py_compile import PycInvalidationMode

    return PycInvalidationMode.UNCHECKED_HASH


def run(*words: str) -> None:
    """Run a program; its failure ends this one."""
    done = subprocess.run(words, check=False)
    if done.returncode:
        raise SystemExit(f"{words[0]} ended with {done.returncode}: {' '.join(words[:6])}")


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else ROOT / "dist")
