"""Commands as somebody runs them: what they write, and their exit code."""

import io
import tempfile
from pathlib import Path

from django.core.management import call_command


def run_command(name: str, *arguments) -> tuple[str, int]:
    """What a command writes, and its exit code."""
    out = io.StringIO()
    try:
        call_command(name, *arguments, stdout=out)
    except SystemExit as left:
        return out.getvalue(), left.code
    return out.getvalue(), 0


def run_on_text(name: str, text: str, *options) -> tuple[str, int]:
    """The same for a command that reads one file, of this text."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "given.json"
        path.write_text(text, encoding="utf-8")
        return run_command(name, str(path), *options)
