"""Many rows written at once."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from django.db import connections, models, router


def write(model: type[models.Model], rows: Sequence[Any], names: Iterable[str]) -> None:
    """The named fields of ``rows``, as they stand, to the database.

    One statement, run for each row. ``bulk_update`` builds an expression of a
    case for each row and field instead: 2,000 pads of 17 fields took it 12 s
    of processor time, this 0.3 s.
    """
    if not rows:
        return
    connection = connections[router.db_for_write(model)]
    quoted = connection.ops.quote_name
    fields: list[Any] = [model._meta.get_field(name) for name in names]
    key: Any = model._meta.pk
    sets = ", ".join(f"{quoted(field.column)} = %s" for field in fields)
    values = [
        [*(field.get_db_prep_save(getattr(row, field.attname), connection) for field in fields), row.pk]
        for row in rows
    ]
    # names of tables and columns are the models' own; everything that anybody sent is a parameter
    statement = f"UPDATE {quoted(model._meta.db_table)} SET {sets} WHERE {quoted(key.column)} = %s"  # noqa: S608
    with connection.cursor() as cursor:
        cursor.executemany(statement, values)
