"""What docs/architecture.md, docs/glossary.md and CONTRIBUTING.md claim of the code, read off the code."""

import ast
import os
import re
import shutil
import subprocess
import sys
import tomllib
from collections import Counter
from itertools import chain
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase

ROOT = settings.BASE_DIR
CODE = ROOT / "frimble"
ARCHITECTURE = (ROOT / "docs/architecture.md").read_text()
GLOSSARY = (ROOT / "docs/glossary.md").read_text()

_MOST_IN_A_FOLDER = 15
_LONGEST_TEMPLATE_LINE = 140
_READS = ("views", "forms", "queries", "presenters")
_WRITES = {"save", "create", "bulk_create", "update_or_create", "get_or_create", "bulk_update", "delete", "update"}


def ours(*patterns) -> list[Path]:
    """Our own files: nothing vendored, nothing made while it runs."""
    result = chain.from_iterable(ROOT.glob(pattern) for pattern in patterns)
    return sorted(p for p in result if p.is_file() and not {"vendor", "__pycache__"} & set(p.parts))


def layers() -> list[set[str]]:
    """The apps from the bottom of the layers to their top, those side by side together."""
    contracts = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"]["contracts"]
    (result,) = [c["layers"] for c in contracts if c["type"] == "layers"]
    return [{name.strip().removeprefix("frimble.") for name in layer.split("|")} for layer in reversed(result)]


class ArchitectureTests(SimpleTestCase):
    def test_the_layers_it_names_are_those_that_are_held(self):
        line = re.search(r"^`core` ← .*?\.", ARCHITECTURE, re.M | re.S)[0]
        answer = [set(re.findall(r"`(\w+)`", part)) for part in line.split("←")]
        self.assertEqual(answer, layers())

    def test_every_app_has_its_row_and_every_folder_it_names_is_there(self):
        rows = dict(re.findall(r"^\| `frimble/(\w+)` \| (.*) \|$", ARCHITECTURE, re.M))
        apps = {p.parent.name for p in CODE.glob("*/__init__.py")} - {"config"}
        self.assertEqual(set(rows), apps)
        for app in ("coatings", "exposures", "screens", "films"):
            there = {p.parent.name for p in (CODE / app).glob("*/__init__.py")}
            there -= {"migrations", "tests", "management", "templatetags"}
            self.assertEqual({f for f in there if f"`{f}`" not in rows[app]}, set(), app)

    def test_every_path_that_a_document_names_is_there(self):
        named = re.compile(r"`((?:core|ui|exposures|films|screens|coatings|exchange|frimble|bench|docs)/[\w/.]+\.\w+)`")
        checked = 0
        for document in (*ROOT.glob("docs/*.md"), *ROOT.glob("*.md")):
            for path in named.findall(document.read_text()):
                checked += 1
                self.assertTrue((ROOT / path).exists() or (CODE / path).exists(), f"{document.name} names {path}")
        self.assertGreater(checked, 40)

    def test_every_name_in_it_is_in_the_code(self):
        written = "\n".join(p.read_text() for p in ours("frimble/**/*.py"))
        names = re.findall(r"`((?:core|people|screens|ui)\.[\w.]+)`", ARCHITECTURE)
        self.assertGreater(len(names), 8)
        for name in names:
            path = CODE.joinpath(*name.split("."))
            holder = CODE.joinpath(*name.split(".")[:-1])
            known = path.is_dir() or path.with_suffix(".py").exists()
            inside = any(
                h.exists() and re.search(rf"\b{path.name}\b", h.read_text()) for h in (holder.with_suffix(".py"),)
            )
            self.assertTrue(known or inside, name)
        for name in re.findall(r"`([A-Z][a-z]\w+)`", ARCHITECTURE):
            self.assertRegex(written, rf"\b{name}\b")

    def test_nothing_is_decided_by_a_displayed_word(self):
        compared = re.compile(r"""(?:verdict|outcome|grade)\s*(?:==|!=)\s*["']""")
        for path in (*ours("frimble/**/*.html"), *ours("frimble/**/*.py")):
            if "tests" not in path.parts and "testing" not in path.parts:
                self.assertIsNone(compared.search(path.read_text()), f"{path} compares a word that is shown")

    def test_no_template_or_script_names_a_later_place(self):
        rank = {app: n for n, level in enumerate(layers()) for app in level}
        named = re.compile(r"\{%\s*(?:url|include|extends|static)\s+['\"]([\w-]+)[:/]")
        checked = 0
        for path in ours("frimble/**/*.html"):
            app = path.relative_to(CODE).parts[0]
            for other in named.findall(path.read_text()):
                checked += 1
                if other in rank:
                    self.assertLessEqual(rank[other], rank[app], f"{path.name} names {other}")
        self.assertGreater(checked, 200)
        for path in ours("frimble/**/*.js"):
            if "static" in path.parts:
                self.assertEqual(path.parts[path.parts.index("static") + 1], path.relative_to(CODE).parts[0])

    def test_the_server_starts_without_the_image_libraries(self):
        """They cost seconds and memory that only the first photo should pay."""
        code = (
            "import sys, django; django.setup(); import frimble.config.urls; "
            "print([n for n in ('cv2', 'scipy.optimize', 'scipy.fft', 'skimage', 'ortools') if n in sys.modules])"
        )
        place = {**os.environ, "DJANGO_SETTINGS_MODULE": "frimble.config.settings"}
        started = subprocess.run(
            [sys.executable, "-c", code], cwd=CODE.parent, env=place, capture_output=True, text=True
        )
        self.assertEqual(started.stdout.strip(), "[]", started.stderr[-400:])

    def test_the_worker_is_told_where_the_room_is(self):
        """A task that is none of ours would tell days and hours by UTC."""
        tasks = [path for path in ours("frimble/**/*.py") if re.search(r"^@task\b", path.read_text(), re.M)]
        self.assertGreater(len(tasks), 4)
        for path in tasks:
            self.assertIn("from frimble.people.room_time import task\n", path.read_text(), path)

    def test_what_reads_does_not_write(self):
        reading = [p for name in _READS for p in ours(f"frimble/**/{name}.py") if "core" not in p.parts]
        self.assertGreater(len(reading), 60)
        for path in reading:
            for node in ast.walk(ast.parse(path.read_text())):
                if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr in _WRITES:
                    owner = ast.unparse(node.func.value)
                    self.assertNotRegex(owner, r"objects|_base_manager", f"{path}: {ast.unparse(node)[:80]}")
                    if node.func.attr in ("save", "delete") and not node.args:
                        self.assertIn(owner, ("page", "image"), f"{path}: {ast.unparse(node)[:80]}")


class RoomTests(SimpleTestCase):
    def test_no_folder_of_code_holds_more_than_one_can_look_over(self):
        held = Counter(p.parent for p in ours("frimble/**/*", "bench/**/*"))
        self.assertEqual({str(f): n for f, n in held.items() if n > _MOST_IN_A_FOLDER}, {})

    def test_templates_can_be_read(self):
        long = [
            f"{p.name}:{n}"
            for p in ours("frimble/**/*.html")
            for n, line in enumerate(p.read_text().splitlines(), 1)
            if len(line) > _LONGEST_TEMPLATE_LINE
        ]
        self.assertEqual(long, [])


class GlossaryTests(SimpleTestCase):
    def rows(self) -> list[list[str]]:
        return [
            [c.strip() for c in line.strip("|").split(" |")] for line in GLOSSARY.splitlines() if line.startswith("| ")
        ]

    def test_none_of_the_old_names_is_left(self):
        old = {name for row in self.rows() for name in re.findall(r"`([^`]+)`", row[-1])}
        self.assertGreater(len(old), 12)
        # Upgrades read what earlier versions wrote, and migrations tell how it became what it is.
        files = [
            p for p in ours("frimble/**/*.py", "frimble/**/*.html", "frimble/**/*.js", "frimble/**/*.css", "bench/**/*.py")
            if "migrations" not in p.parts and p.name not in ("upgrades.py", Path(__file__).name)
        ]  # fmt: skip
        left = {
            f"{name} in {p.relative_to(ROOT)}"
            for p in files
            for name in old
            if re.search(rf"(?<![\w]){re.escape(name)}(?!\w)", p.read_text())
        }
        self.assertEqual(left, set())

    def test_every_name_in_code_is_there(self):
        written = "\n".join(p.read_text() for p in ours("frimble/**/*.py"))
        names = {name for row in self.rows() for name in re.findall(r"`([A-Z][a-z]\w+)`", row[1])}
        self.assertGreater(len(names), 20)
        self.assertEqual({name for name in names if not re.search(rf"class {name}\b", written)}, set())


class ContributingTests(SimpleTestCase):
    def test_the_files_it_names_are_there(self):
        text = (ROOT / "CONTRIBUTING.md").read_text()
        named = re.findall(r"`((?:core|exposures|exchange|docs)/[\w/]+\.(?:py|md))`", text)
        self.assertGreater(len(named), 8)
        for name in named:
            self.assertTrue((CODE / name).exists() or (ROOT / name).exists(), name)


class RepositoryTests(SimpleTestCase):
    def test_it_holds_no_links_and_nothing_that_it_ignores(self):
        if not (ROOT / ".git").exists() or not shutil.which("git"):
            self.skipTest("not a checkout, or no git to ask")
        held = _git("ls-files", "--stage", "-z")
        self.assertIn("manage.py", " ".join(held))
        self.assertEqual([line for line in held if line.startswith("120000")], [])
        self.assertEqual(_git("ls-files", "--cached", "--ignored", "--exclude-standard", "-z"), [])

    def test_what_an_installation_makes_is_ignored_as_folder_or_link(self):
        ignored = set((ROOT / ".gitignore").read_text().split())
        self.assertLessEqual({".venv", "node_modules"}, ignored)


def _git(*arguments) -> list[str]:
    whoever_owns_it = ["-c", f"safe.directory={ROOT}"]
    command = [str(shutil.which("git")), *whoever_owns_it, *arguments]
    answer = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=True)
    return [line for line in answer.stdout.split("\0") if line]
