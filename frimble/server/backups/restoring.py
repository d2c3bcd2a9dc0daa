"""A backup put back: all of it is looked through first, swapped in at the end, and what was there is kept."""

import shutil
from pathlib import Path

from frimble.core.conclusions import InvalidInput
from frimble.server.backups.checking import against_program, check, stored
from frimble.server.backups.making import back_up
from frimble.server.backups.manifest import DATABASE, Manifest, sha256


def restore(
    folder: Path, database: Path, media: Path, aside: Path, known: set[str], older: bool = False
) -> tuple[Manifest, list[str]]:
    """Put a backup back; what stood there before is kept in `aside` as a backup of its own.

    Args:
        known: the migrations of this program. older: whether a backup of older tables is taken; it must be migrated then.

    Returns:
        its manifest, and the migrations that its database still lacks.

    Raises:
        InvalidInput: anything is wrong with it; then nothing was changed.
    """
    manifest = check(folder)
    lacking = against_program(manifest, known, folder)
    if lacking and not older:
        raise InvalidInput(
            f"The backup in {folder} was made by version {manifest.program}, whose tables are older. "
            "Say --older to put it back and bring its tables up to this version.",
            "folder",
        )
    if database.is_file():
        back_up(database, media, aside)
    fresh, files = _laid_beside(folder, manifest, database, media)
    _swap(fresh, database, files, media)
    return manifest, lacking


def _laid_beside(folder: Path, manifest: Manifest, database: Path, media: Path) -> tuple[Path, Path]:
    """Whole copies next to where they belong, on the same disk, each held against its digest."""
    fresh, files = database.with_suffix(".restoring"), media.with_name(f"{media.name}.restoring")
    if files.exists():
        shutil.rmtree(files)
    files.mkdir(parents=True, mode=0o700)
    shutil.copyfile(folder / DATABASE, fresh)
    fresh.chmod(0o600)
    if sha256(fresh) != manifest.database:
        raise InvalidInput(f"The copy of the database beside {database} is not whole: is the disk full?", "folder")
    for name, digest in manifest.files.items():
        to = files / name
        to.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        shutil.copyfile(stored(folder, manifest, digest), to)
    return fresh, files


def _swap(fresh: Path, database: Path, files: Path, media: Path) -> None:
    """Renames alone, each at one stroke; what was there stands in the backup made before."""
    before = media.with_name(f"{media.name}.before")
    if before.exists():
        shutil.rmtree(before)
    if media.exists():
        media.replace(before)
    files.replace(media)
    for rest in ("-wal", "-shm"):
        database.with_name(database.name + rest).unlink(missing_ok=True)
    fresh.replace(database)
    shutil.rmtree(before, ignore_errors=True)
