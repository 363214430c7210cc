"""Make the program known to the desktop of one user: menu entry, icon, and what opens .wattagon files."""

from __future__ import annotations

import shutil
import subprocess
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from wattagon import files
from wattagon.errors import FileError, InputError

if TYPE_CHECKING:
    import argparse

STOCK = Path(__file__).resolve().parent.parent / "stock"
# what is shipped, and where it goes under the user's own data folder
PLACES = (
    (STOCK / "desktop" / "wattagon.desktop", "applications/wattagon.desktop"),
    (STOCK / "desktop" / "wattagon.xml", "mime/packages/wattagon.xml"),
    (STOCK / "icons" / "wattagon.svg", "icons/hicolor/scalable/apps/wattagon.svg"),
    (STOCK / "icons" / "wattagon.svg", "icons/hicolor/scalable/mimetypes/application-x-wattagon.svg"),
)
# tools of the desktop that read the folders anew; where one is missing the desktop does it at the next login
RENEW = (("update-mime-database", "mime"), ("update-desktop-database", "applications"), ("gtk-update-icon-cache", "icons/hicolor"))


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    parser.add_argument("--install", action="store_true", help="into this user's own folders: menu entry, icon, double click")
    parser.add_argument("--remove", action="store_true", help="take all of it away again")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    if options.install == options.remove:
        raise InputError("desktop", "neither or both", "--install or --remove")
    folder = files.home_folder("XDG_DATA_HOME", ".local/share")
    for source, place in PLACES:
        target = folder / place
        try:
            if options.remove:
                target.unlink(missing_ok=True)
            else:
                target.parent.mkdir(parents=True, exist_ok=True)
                files.write_bytes(target, _contents(source))
        except OSError as error:
            raise FileError(f"{target} cannot be changed: {error.strerror or error}") from None
        print(f"{'removed' if options.remove else 'wrote'} {target}")
    for tool, place in RENEW:
        if shutil.which(tool) and (folder / place).is_dir():
            subprocess.run([tool, str(folder / place)], check=False, capture_output=True)
    return 0


def _contents(source: Path) -> bytes:
    """A shipped file; the menu entry starts this very installation, which may hide in a virtual environment."""
    raw = source.read_bytes()
    if source.suffix != ".desktop":
        return raw
    program = shutil.which("wattagon", path=str(Path(sys.executable).parent))
    start = _quoted(program) if program else f"{_quoted(sys.executable)} -m wattagon.cli"
    return raw.decode("utf-8").replace("Exec=wattagon %f", f"Exec={start} %f").encode("utf-8")


def _quoted(path: str) -> str:
    """A path as the value of Exec has it: reserved characters behind backslashes in quotes, and a per cent sign twice."""
    quoted = "".join(f"\\{letter}" if letter in '"`$\\' else letter for letter in path).replace("\\", "\\\\").replace("%", "%%")
    return f'"{quoted}"'
