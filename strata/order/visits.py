"""An order of passes as visits to sheets: what is inked from one seating to the next, behind which masks."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from strata.order.ticks import Work

Cover = frozenset[str]
BARE: Cover = frozenset()


@dataclass(frozen=True, slots=True)
class Visit:
    """Passes done on one card while one sheet is seated.

    ``runs``: (what is covered, passes in their order), one after another.
    ``off``: how the sheet comes off: ``lift``, or clean for a later visit, ``damp`` or ``wash``.
    """

    card: int
    sheet: int
    runs: tuple[tuple[Cover, tuple[int, ...]], ...]
    off: str = "lift"

    @property
    def passes(self) -> list[int]:
        """All its passes in their order."""
        return [i for _, run in self.runs for i in run]


def runs_of(work: Work, passes: Sequence[int]) -> tuple[tuple[Cover, tuple[int, ...]], ...]:
    """Passes through one sheet, in this order, behind as few masks as can be.

    A mask is laid as wide as its whole run needs it, so that it need not be
    lifted for a pass that wants a neighbour covered as well.
    """
    runs: list[tuple[Cover, list[int]]] = []
    for i in passes:
        need = work.needs[i]
        if runs:
            cover, members = runs[-1]
            wider = cover | need
            if (bool(cover) == bool(wider) or not members) and all(
                work.element[j] not in wider for j in (*members, i)
            ):
                runs[-1] = (wider, [*members, i])
                continue
        runs.append((need, [i]))
    return tuple((cover, tuple(members)) for cover, members in runs)


def visits_of(work: Work, order: Iterable[tuple[int, int]]) -> list[Visit]:
    """Visits for (card, pass) one after another: a new one for another sheet or card, and where two are not done in one seating."""
    gathered: list[tuple[int, int, list[int]]] = []
    held = 0
    for card, i in order:
        sheet = work.sheet[i]
        if not gathered or gathered[-1][:2] != (card, sheet) or work.split[i] & held:
            gathered.append((card, sheet, []))
            held = 0
        gathered[-1][2].append(i)
        held |= 1 << i
    return washes_noted(work, [Visit(c, s, runs_of(work, passes)) for c, s, passes in gathered])


def washes_noted(work: Work, visits: Sequence[Visit]) -> list[Visit]:
    """The visits, each told how its sheet comes off: clean where a later one wants it so, to dry during other work."""
    washes, _ = _washes(work, visits, {})
    return [replace(v, off=washes.get(n, "lift")) for n, v in enumerate(visits)]


def washes_resumed(
    work: Work, visits: Sequence[Visit], left: Mapping[int, int]
) -> tuple[list[Visit], dict[int, str]]:
    """The same where sheets carry ink already (``left``: passes as bits); and how sheets are cleaned before any visit."""
    washes, first = _washes(work, visits, dict(left))
    return [replace(v, off=washes.get(n, "lift")) for n, v in enumerate(visits)], first


def _washes(
    work: Work, visits: Sequence[Visit], left: dict[int, int]
) -> tuple[dict[int, str], dict[int, str]]:
    """Visits after which their sheet is cleaned, sheets that are cleaned before their first; and how."""
    clean = work.instance.lifted_clean
    last: dict[int, int] = {}
    washes: dict[int, str] = {}
    first: dict[int, str] = {}
    for n, visit in enumerate(visits):
        sheet = visit.sheet
        own = 0
        spoils = 0
        for i in visit.passes:
            own |= 1 << i
            spoils |= work.clash[i]
        if met := left.get(sheet, 0) & spoils:
            how = "wash" if met & ~work.thin else "damp"
            if sheet in last:
                washes[last[sheet]] = how
            else:
                first[sheet] = how
            left[sheet] = 0 if how == "wash" else left[sheet] & ~work.thin
        left[sheet] = 0 if sheet in clean else left.get(sheet, 0) | own
        last[sheet] = n
    return washes, first
