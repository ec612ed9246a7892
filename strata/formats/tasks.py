"""What the guarded child can do: each task takes files, options and a way to say how far it is."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from strata.formats.guarded import READ, Progress

Task = Callable[[Sequence[bytes], dict[str, Any], Progress], Any]


def _measure(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    from strata.formats.report import svg_report

    by, width, only_visible = options["by"], options["width_mm"], options["visible"]
    return svg_report(files[0], by, width, only_visible, lambda: say(0.5, READ))


def _set(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    from strata.formats.set_file import write_set
    from strata.formats.svg_set import read_files

    found = read_files(files, **options)
    say(0.9, READ)
    return {"set": write_set(found.layer_set), "left_out": found.left_out}


def _trace(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    from strata.formats.report import report
    from strata.formats.svg.geometry import union
    from strata.tracing import trace

    found = trace(files[0], options["width_mm"], options["height_mm"], progress=say)
    say(0.9, READ)
    return report((found.width, found.height), [("sheet", union(found.openings))], list(found.warnings))


TASKS: dict[str, Task] = {"measure": _measure, "set": _set, "trace": _trace}
