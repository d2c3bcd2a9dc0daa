"""Whether a backup is whole: every part against what its manifest says."""

from pathlib import Path

from frimble.core.conclusions import InvalidInput
from frimble.server.backups.manifest import DATABASE, Manifest, contents, sha256


def check(folder: Path) -> Manifest:
    """A backup that holds together.

    Raises:
        InvalidInput: no backup lies there, a part is missing or altered, or it is not of this program.
    """
    manifest = Manifest.read(folder)
    database = folder / DATABASE
    if not database.is_file():
        raise InvalidInput(f"The backup in {folder} has lost its database.", "folder")
    if sha256(database) != manifest.database:
        raise InvalidInput(f"The database in {folder} was altered or cut short since the backup was made.", "folder")
    schema, rows = contents(database)
    if schema != list(manifest.schema) or rows != dict(manifest.rows):
        raise InvalidInput(f"The database in {folder} is not the one its manifest describes.", "folder")
    for name, digest in manifest.files.items():
        kept = stored(folder, manifest, digest)
        if ".." in Path(name).parts or Path(name).is_absolute():
            raise InvalidInput(f"The backup in {folder} names a file outside of its place: {name}.", "folder")
        if not kept.is_file() or sha256(kept) != digest:
            raise InvalidInput(f"The file {name} of the backup in {folder} is missing or was altered.", "folder")
    return manifest


def stored(folder: Path, manifest: Manifest, digest: str) -> Path:
    """Where a file of a backup is kept."""
    return (folder / manifest.store / digest[:2] / digest).resolve()


def against_program(manifest: Manifest, known: set[str], folder: Path) -> list[str]:
    """The migrations that the backup's database still lacks.

    Args:
        known: the migrations of this program, as `app.name`.

    Raises:
        InvalidInput: it has tables that this program does not know.
    """
    done = set(manifest.schema)
    apps = {name.split(".")[0] for name in known}
    # Apps of earlier versions leave their tables behind; nobody reads them.
    newer = sorted(name for name in done - known if name.split(".")[0] in apps)
    if newer:
        raise InvalidInput(
            f"The backup in {folder} was made by version {manifest.program}, newer than this program ({newer[0]}): "
            "restore it with that version.",
            "folder",
        )
    return sorted(known - done)
