"""Brushes in the model: each goes from pass to pass, and is cared for in between by hands that are free."""

from __future__ import annotations

from dataclasses import dataclass, field

from strata.order.proof.model import Model, Var
from strata.order.ticks import CLEANED, NOTHING


@dataclass
class Path:
    """The brushes of a pool (a size, kept for one family or for none): arcs from pass to pass."""

    size: str
    which: list[int]
    arcs: dict[tuple[int, int], Var] = field(default_factory=dict)
    firsts: dict[int, Var] = field(default_factory=dict)


@dataclass
class Cares:
    """What the solver decided of the brushes: paths, and when each pass's brush is cared for."""

    paths: list[Path] = field(default_factory=list)
    begins: dict[int, Var] = field(default_factory=dict)


def take_brushes(model: Model) -> Cares:
    """Brushes for all passes that need one."""
    cares = Cares()
    for size, pool in model.work.pools.items():
        own = [i for i in range(model.work.count) if model.work.size[i] == size]
        arcs: dict[int, list[tuple[int, Var]]] = {i: [] for i in own}
        members: dict[int, list[Var]] = {i: [] for i in own}
        for kept in dict.fromkeys(pool):
            which = [n for n, k in enumerate(pool) if k == kept]
            may = [i for i in own if kept is None or model.work.tasks[i].family == kept]
            if may:
                cares.paths.append(_path(model, Path(size, which), may, arcs, members))
        for flags in members.values():
            model.cp.add_exactly_one(flags)
        for i in own:
            _care(model, i, arcs[i], cares)
    return cares


def _path(
    model: Model,
    path: Path,
    may: list[int],
    into: dict[int, list[tuple[int, Var]]],
    members: dict[int, list[Var]],
) -> Path:
    cp = model.cp
    node = {i: n + 1 for n, i in enumerate(may)}
    arcs: list[tuple[int, int, object]] = []
    for i in may:
        first, last, absent = (model.flag(f"{what} {i}") for what in ("first", "last", "not here"))
        arcs += [(0, node[i], first), (node[i], 0, last), (node[i], node[i], absent)]
        path.firsts[i] = first
        members[i].append(absent.negated())  # type: ignore[arg-type]
        for j in may:
            if i == j or model.work.below[i] >> j & 1:
                continue
            flag = model.flag(f"{i} then {j}")
            arcs.append((node[i], node[j], flag))
            path.arcs[i, j] = flag
            into[j].append((i, flag))
    # a circuit must have a route even where this pool is not used
    idle = len(may) + 1
    arcs += [(0, idle, cp.new_constant(1)), (idle, 0, cp.new_constant(1))]
    cp.add_multiple_circuit(arcs)  # type: ignore[arg-type]
    cp.add(sum(path.firsts.values()) <= len(path.which))
    return path


def _care(model: Model, j: int, into: list[tuple[int, Var]], cares: Cares) -> None:
    """The care before pass j, by the pass that its brush comes from."""
    cp, work = model.cp, model.work
    costly = []
    for i, flag in into:
        care = work.care[i][j]
        if care == NOTHING:
            cp.add(model.starts[j] >= model.ends[i]).only_enforce_if(flag)
            continue
        length, dry = work.care_ticks[care], work.brush_dry if care == CLEANED else 0
        cp.add(model.starts[j] >= model.ends[i] + length + dry).only_enforce_if(flag)
        costly.append((i, flag, length, dry))
        if care == CLEANED:
            model.cleans.append(flag)
    if not costly:
        return
    begins = model.tick(f"care {j}")
    for i, flag, length, dry in costly:
        cp.add(begins >= model.ends[i]).only_enforce_if(flag)
        cp.add(begins + length + dry <= model.starts[j]).only_enforce_if(flag)
    for length in sorted({c[2] for c in costly}):
        needed = model.flag(f"care of {j} takes {length}")
        cp.add(sum(f for _, f, n, _ in costly if n == length) == needed)
        model.handled(begins, length, needed, f"care {j} {length}")
    cares.begins[j] = begins
