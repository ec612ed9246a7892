"""An order of passes as visits to sheets: what is inked from one seating to the next, behind which masks."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from strata.order.second_copy import copied, told_apart
from strata.order.ticks import OFF, Work

Cover = frozenset[str]
BARE: Cover = frozenset()


@dataclass(frozen=True, slots=True)
class Visit:
    """Passes done on one card while one sheet is seated.

    ``runs``: (what is covered, passes in their order), one after another.
    ``copy`` of the sheet that is taken, where there are two.
    ``off``: how the sheet comes off: ``lift``, or clean for a later visit, ``damp`` or ``wash``.
    """

    card: int
    sheet: int
    runs: tuple[tuple[Cover, tuple[int, ...]], ...]
    off: str = "lift"
    copy: int = 1

    @property
    def plastic(self) -> int:
        """The number of its sheet among things done, which tells copies apart."""
        return copied(self.sheet, self.copy)

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
    return _Cleaned(work, {}, {}).noted(visits)


def washes_resumed(
    work: Work, visits: Sequence[Visit], left: Mapping[int, int], seated: int | None
) -> tuple[list[Visit], dict[int, str]]:
    """The same where sheets carry ink already, and how some are cleaned before any visit.

    ``left``: passes as bits, by what the sheet goes by among things done;
    ``seated``: what lies on a card now.
    """
    sheet, copy = told_apart(seated or 0)
    cleaned = _Cleaned(work, dict(left), {sheet: copy})
    return cleaned.noted(visits), cleaned.first


class _Cleaned:
    """Goes through visits with what is left on each sheet, and has it cleaned where a later visit wants it so."""

    def __init__(self, work: Work, left: dict[int, int], taken: dict[int, int]) -> None:
        self.work, self.left, self.taken = work, left, taken
        self.first: dict[int, str] = {}

    def noted(self, visits: Sequence[Visit]) -> list[Visit]:
        """The visits with the copy that each takes and how it comes off."""
        clean, last = self.work.instance.lifted_clean, dict[int, int]()
        found: list[Visit] = []
        for n, visit in enumerate(visits):
            own = spoils = 0
            for i in visit.passes:
                own |= 1 << i
                spoils |= self.work.clash[i]
            here = replace(visit, copy=self._copy(visit.sheet, spoils), off="lift")
            how = self._cleaning(here.plastic, spoils)
            if how != "lift":
                if here.plastic in last:
                    before = last[here.plastic]
                    found[before] = replace(found[before], off=how)
                else:
                    self.first[here.plastic] = how
                stays = 0 if how == "wash" else ~self.work.thin
                self.left[here.plastic] &= stays
            left = 0 if visit.sheet in clean else self.left.get(here.plastic, 0) | own
            self.left[here.plastic], self.taken[visit.sheet], last[here.plastic] = left, here.copy, n
            found.append(here)
        return found

    def _cleaning(self, plastic: int, spoils: int) -> str:
        """What a sheet needs before passes are done that some residues would spoil."""
        met = self.left.get(plastic, 0) & spoils
        return "lift" if not met else "wash" if met & ~self.work.thin else "damp"

    def _copy(self, sheet: int, spoils: int) -> int:
        """The copy that needs least cleaning: of two clean ones the one that was taken last, of two dirty ones the other."""
        if sheet not in self.work.instance.twice:
            return 1
        taken = self.taken.get(sheet, 1)

        def cost(copy: int) -> tuple[int, bool]:
            needs = OFF.index(self._cleaning(copied(sheet, copy), spoils))
            return needs, (copy == taken) == bool(needs)

        return min((1, 2), key=cost)
