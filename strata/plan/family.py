"""What the openings of an element are for, and how a ladder of pads falls onto them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from strata.plan.model import Form
from strata.plan.scene import Scene

STRENGTHS = {
    "next": "the lightest with the next",
    "deepest": "the lightest with the deepest",
    "mid": "a mid with the deepest",
    "even": "evenly spread",
}
LINE_WIDTH = 2.6
# mm; narrower openings are drawn lines rather than tones
LINE_SHARE = 0.6
# of the element's largest openings, over which even narrow ones are a tone
SHADE = 0.45
# how far a second tone comes in from its side
PALE = frozenset(
    [
        "light",
        "lights",
        "glow",
        "shine",
        "highlight",
        "highlights",
        "snow",
        "cloud",
        "clouds",
        "spark",
        "sparks",
    ]
)
# what an element of drawn lines is called where they are meant to be pale
WIDE_ENOUGH = 4.0
# mm of opening in which a brush can shade at all
STEPS = ((1, "light"), (1, "medium"), (2, "medium"), (3, "medium"), (3, "heavy"))
# coats and hands by which one pad gets deeper


@dataclass(frozen=True)
class Slot:
    """Openings of one sheet that take one ink: ``role`` base, tone or line; ``form`` where in them."""

    sheet: int
    role: str
    form: Form
    area: float


@dataclass(frozen=True)
class Amount:
    """An ink in so many coats by a hand."""

    ink: str
    coats: int = 1
    hand: str = "medium"


def slots_of(scene: Scene, element: str) -> tuple[Slot, ...]:
    """What an element takes from light to deep: its openings by sheet, and a shade where it has but one tone.

    A light and a deep of every colour: where the set brings no second tone, a
    shade on the card's shadow side does, but for stamps, which print whole.
    """
    laid = scene.layer_set
    groups = sorted((g for g in laid.groups.values() if g.element == element), key=lambda g: g.sheet)
    if not groups:
        return ()
    if len(groups) == 1 and groups[0].typical_width < LINE_WIDTH and not PALE & set(element.lower().split()):
        # an outline is all that it is, and an outline is drawn deep
        return (Slot(groups[0].sheet, "line", Form(), groups[0].area),)
    whole = max(g.area for g in groups)
    tones: list[Slot] = []
    lines: list[Slot] = []
    for g in groups:
        line = g.typical_width < LINE_WIDTH and g.area < LINE_SHARE * whole
        (lines if line else tones).append(
            Slot(g.sheet, "line" if line else ("tone" if tones else "base"), Form(), g.area)
        )
    first = next(g for g in groups if g.sheet == tones[0].sheet)
    shades = laid.worked_as(first.sheet) != "stamp set" and first.typical_width >= WIDE_ENOUGH
    if len(tones) == 1 and shades:
        form = Form("side", scene.plan.materials.light % 360, SHADE)
        tones.append(Slot(tones[0].sheet, "tone", form, tones[0].area * SHADE))
    return (*tones, *lines)


def spread(
    scene: Scene, slots: Sequence[Slot], pads: Sequence[str], strength: str, line: str | None = None
) -> list[tuple[Slot, Amount]]:
    """The pads that the slots get: lightest first by the strength asked for; lines the deepest, or ``line``.

    Where the ladder lacks a depth the same pad goes on in more coats, or by a
    lighter hand below it.
    """
    ladder = sorted(dict.fromkeys(pads), key=lambda k: -scene.on_stock(k)[0])
    tones = [s for s in slots if s.role != "line"]
    rungs = _chosen(len(ladder), len(tones), strength)
    laid = list(zip(tones, _deepening([ladder[i] for i in rungs]), strict=True))
    lines, used = [s for s in slots if s.role == "line"], {a.ink for _, a in laid}
    for n, slot in enumerate(lines):
        # several sheets of lines go on getting deeper, the last one deepest
        ink = line or ladder[max(rungs[-1] if rungs else 0, len(ladder) - len(lines) + n)]
        laid.append((slot, Amount(ink, 2 if ink in used and line is None else 1)))
        used.add(ink)
    return laid


def _chosen(count: int, wanted: int, strength: str) -> list[int]:
    """Which of ``count`` pads, light to deep, the tones get."""
    last = count - 1
    if wanted == 1:
        return [0 if strength == "next" else last // 2]
    if strength == "next":
        return [min(i, last) for i in range(wanted)]
    start = last // 2 if strength == "mid" else 0
    if strength == "deepest" and wanted > 2:
        # the last takes the deepest by itself, those before it share the rest
        return [round(i * max(0, last - 1) / (wanted - 2)) for i in range(wanted - 1)] + [last]
    return [start + round(i * (last - start) / (wanted - 1)) for i in range(wanted)]


def _deepening(inks: Sequence[str]) -> list[Amount]:
    """The same pad several times over gets deeper by coats and hand."""
    found: list[Amount] = []
    for n, ink in enumerate(inks):
        same = sum(1 for k in inks if k == ink)
        before = sum(1 for k in inks[:n] if k == ink)
        if same == 1:
            found.append(Amount(ink))
        else:
            coats, hand = STEPS[min(before if same > 2 else 2 * before, len(STEPS) - 1)]
            found.append(Amount(ink, coats, hand))
    return found
