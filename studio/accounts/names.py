"""Names of makers: one name whatever its case or the form in which it was typed, and none that only looks like another."""

from __future__ import annotations

import unicodedata
from typing import Any

from confusable_homoglyphs import confusables
from django.contrib.auth.models import User

from strata.errors import BadValue

TAKEN = "Somebody here already has that name, or one that looks like it."


def plain(name: str) -> str:
    """What two names share that are one name: NFKC, without case (Unicode Standard Annex 15; D145)."""
    return unicodedata.normalize("NFKC", unicodedata.normalize("NFKC", name).casefold())


def called(name: str) -> User | None:
    """The maker of that name, in whatever case it is typed."""
    wanted = plain(name)
    exact = User.objects.filter(username=name).first()
    if exact is not None:
        return exact
    alike = User.objects.filter(username__iexact=name)
    # of a case that the database does not know (Ä and ä) it must be asked name by name
    rows = alike if alike or name.isascii() else User.objects.all()
    return next((u for u in rows if plain(u.username) == wanted), None)


def refuse_look_alikes(name: str) -> None:
    """Raises BadValue for a name that mixes scripts so as to look like another, or that is taken in another case."""
    if confusables.is_dangerous(name):
        raise BadValue("That name mixes letters of several scripts. Use letters of one.", "name")
    if called(name) is not None:
        raise BadValue(TAKEN, "name")
    mine = _skeleton(name)
    if not name.isascii() and any(
        mine == _skeleton(u) for u in User.objects.values_list("username", flat=True)
    ):
        raise BadValue(TAKEN, "name")


def _skeleton(name: str) -> str:
    """Each letter as the Latin one that it can be taken for (Unicode Technical Standard 39, in short)."""
    found = []
    for letter in plain(name):
        told: Any = (
            False if letter.isascii() else confusables.is_confusable(letter, preferred_aliases=["latin"])
        )
        alike = told[0]["homoglyphs"] if told else []
        latin = next((h["c"] for h in alike if len(h["c"]) == 1 and h["c"].isascii()), letter)
        found.append(plain(latin))
    return "".join(found)
