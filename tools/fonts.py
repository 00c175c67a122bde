"""Makes the typefaces of papers out of the packages the screens take theirs from: Latin and its extension in one file.

Run after a package of type is renewed: `python -m tools.fonts`. Both typefaces are under the SIL Open Font License.
"""

from pathlib import Path
from tempfile import TemporaryDirectory

from fontTools.merge import Merger
from fontTools.ttLib import TTFont

PACKAGES = Path(__file__).parents[1] / "web" / "node_modules" / "@fontsource"
OUT = Path(__file__).parents[1] / "src" / "heathrise" / "exchange" / "paper" / "fonts"
FACES = (
    ("atkinson-hyperlegible-next", 400, "text"),
    ("atkinson-hyperlegible-next", 700, "text-bold"),
    ("ibm-plex-mono", 400, "figures"),
)


def main() -> None:
    """Write every face, and the licence beside it."""
    OUT.mkdir(parents=True, exist_ok=True)
    for package, weight, name in FACES:
        with TemporaryDirectory() as folder:
            parts = [_plain(package, part, weight, Path(folder)) for part in ("latin", "latin-ext")]
            Merger().merge(parts).save(OUT / f"{name}.ttf")
        (OUT / f"{name}.LICENSE").write_bytes((PACKAGES / package / "LICENSE").read_bytes())


def _plain(package: str, part: str, weight: int, folder: Path) -> str:
    """Return the path of a part of a face as an unpacked file."""
    font = TTFont(PACKAGES / package / "files" / f"{package}-{part}-{weight}-normal.woff")
    font.flavor = None
    path = folder / f"{part}.ttf"
    font.save(path)
    return str(path)


if __name__ == "__main__":
    main()
