"""Set the table: everything that an order of work will want, as it is fetched."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from strata.order.steps import Step
from strata.order.wording import named
from strata.panel.laid import FREE
from strata.plan.media import BOTTLES, MEDIA
from strata.plan.scene import Scene
from strata.plan.tools import brush


@dataclass(frozen=True)
class Pull:
    """``pads``: (key, name, place), by place in the drawer; ``bottles``, ``brushes``, ``sheets``, ``masks`` and
    ``rest`` in words; ``stock``: its name and how many panels of it."""

    pads: tuple[tuple[str, str, str], ...]
    bottles: tuple[str, ...]
    brushes: tuple[str, ...]
    sheets: tuple[str, ...]
    masks: tuple[str, ...]
    stock: tuple[str, int]
    rest: tuple[str, ...]


def pull_list(scene: Scene, steps: Iterable[Step], cards: int, places: Mapping[str, str]) -> Pull:
    """What these steps want, in the order in which a hand would look for it.

    ``places``: where pads are kept now, by key.
    """
    every = list(steps)
    inks = dict.fromkeys(k for p in scene.plan.passes for k in p.stripes)
    pads = [(k, scene.ink_of(k).name or k, places.get(k, "")) for k in inks if k not in BOTTLES]
    pads.sort(key=lambda pad: (not pad[2], pad[2], pad[1]))
    bottles = [BOTTLES[k].name for k in inks if k in BOTTLES]
    bottles += [
        MEDIA[p.medium].label for p in scene.plan.passes if MEDIA[p.medium].bottle and p.medium != "ink"
    ]
    taken: dict[str, set[int]] = {}
    for s in every:
        if s.kind == "ink" and s.brush and s.which is not None:
            taken.setdefault(s.brush, set()).add(s.which)
    used = sorted({p.sheet for p in scene.plan.passes} - {FREE})
    both = {s.sheet for s in every if s.copy > 1}
    masks = dict.fromkeys(", ".join(s.masks) for s in every if s.kind == "mask")
    return Pull(
        tuple(pads),
        tuple(dict.fromkeys(bottles)),
        tuple(_counted(len(n), brush(size).label) for size, n in sorted(taken.items())),
        tuple(
            f"{named(scene, n)[0].upper()}{named(scene, n)[1:]}, {scene.layer_set.sheet(n).name}{', both copies' * (n in both)}"
            for n in used
        ),
        tuple(masks),
        (scene.stock.name, cards),
        tuple(_beside({s.kind for s in every})),
    )


def _counted(count: int, label: str) -> str:
    return label if count == 1 else f"{count} of the {label}"


def _beside(kinds: set[str]) -> Iterable[str]:
    yield "Scrap of the same card, for a first dab"
    yield "A dry cloth"
    if kinds & {"wipe", "clean", "damp", "wash"}:
        yield "A damp cloth and a bowl of water"
    if "mask" in kinds:
        yield "Low-tack tape or notes for masks"
    if "heat" in kinds:
        yield "The heat tool, on its stand"
    if "seal" in kinds:
        yield "Fixative, for outdoors or an open window"
    if "glue" in kinds:
        yield "Glue that is dry when it sets, foam"
