"""The layer check catches what it is there for: each violation is planted in a copy, and must be found."""

import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from tools.check import CORE, ROOT, SERVED

PLANTED = {
    "a service that imports views": ("studio/inks/services.py", "from studio.inks.views import InksView"),
    "a service that imports views by another": (
        "studio/builds/state.py",
        "import studio.builds.colouring_views",
    ),
    "an app in another's views": ("studio/builds/views.py", "from studio.sets.views import SetsView"),
    "a lower app that knows a higher": ("studio/inks/models.py", "from studio.builds.models import Build"),
    "sets that know inks": ("studio/sets/services.py", "from studio.inks.models import Ink"),
    "the contract that knows who keeps it": ("studio/history/contract.py", "import studio.builds.models"),
    "a package of the core outside the layers": (
        "strata/nowhere/__init__.py",
        '"""Nobody said where this is."""',
    ),
    "an app of the studio outside the order": ("studio/record/__init__.py", '"""Nor this."""'),
    "a core that knows Django": ("strata/plan/model.py", "import django"),
    "a core that knows the studio": ("strata/picture/shown.py", "import studio.colours"),
    "optics that know plans": ("strata/optics/stack.py", "from strata.plan.model import Pass"),
    "a checker that asks the planner": ("strata/order/check.py", "from strata.order.meeting import on_brush"),
    "modules in a circle": ("strata/order/steps.py", "from strata.order import narration"),
}


class LayerTest(unittest.TestCase):
    def lint(self, folder: Path) -> subprocess.CompletedProcess[str]:
        command = [str(Path(sys.executable).parent / "lint-imports"), "--no-cache"]
        return subprocess.run(command, cwd=folder, capture_output=True, text=True, check=False)

    def test_every_planted_violation_is_found(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            for package in ("strata", "studio"):
                shutil.copytree(
                    ROOT / package, folder / package, ignore=shutil.ignore_patterns("__pycache__")
                )
            shutil.copy(ROOT / "pyproject.toml", folder)
            clean = self.lint(folder)
            self.assertEqual(clean.returncode, 0, clean.stdout)
            for what, (file, line) in PLANTED.items():
                path = folder / file
                before = path.read_text() if path.exists() else None
                path.parent.mkdir(exist_ok=True)
                path.write_text(f"{before or ''}\n{line}\n")
                found = self.lint(folder)
                with self.subTest(what):
                    self.assertNotEqual(found.returncode, 0)
                    self.assertIn("BROKEN", found.stdout)
                if before is None:
                    shutil.rmtree(path.parent)
                else:
                    path.write_text(before)


class AllTestsTest(unittest.TestCase):
    def test_every_file_of_tests_is_run_once(self) -> None:
        own = [
            str(file.relative_to(ROOT).with_suffix("")).replace("/", ".")
            for file in ROOT.glob("tests/**/test_*.py")
        ]
        self.assertGreater(len(own), 100)
        for name in own:
            with self.subTest(name):
                within = [part for part in (*CORE, *SERVED) if f"{name}.".startswith(f"{part}.")]
                self.assertEqual(len(within), 1)
