"""Django's PostgreSQL, with one writing transaction at a time as SQLite has it.

Every change reads what is there, works out what comes of it and writes that, in
one transaction. SQLite begins such a transaction with the lock in its hand
(``BEGIN IMMEDIATE``); PostgreSQL would let two of them read the same state and
the second fail or, worse, win. An advisory lock at the beginning says the same.
Reading outside a transaction waits for nobody.
"""

from __future__ import annotations

from django.db.backends.postgresql import base, creation

ONE_AT_A_TIME = 0x616E6173
# any number, as long as nobody else in this database takes it


class DatabaseCreation(creation.DatabaseCreation):
    """Test databases go although a thread of a test still has one open."""

    def _destroy_test_db(self, test_database_name: str, verbosity: int) -> None:
        with self._nodb_cursor() as cursor:  # type: ignore[attr-defined]
            name = self.connection.ops.quote_name(test_database_name)
            cursor.execute(f"DROP DATABASE IF EXISTS {name} WITH (FORCE)")


class DatabaseWrapper(base.DatabaseWrapper):
    """A connection on which a transaction waits its turn."""

    creation_class = DatabaseCreation

    def set_autocommit(
        self, autocommit: bool, force_begin_transaction_with_broken_autocommit: bool = False
    ) -> None:
        super().set_autocommit(autocommit, force_begin_transaction_with_broken_autocommit)
        if not autocommit:
            with self.cursor() as cursor:
                cursor.execute("SELECT pg_advisory_xact_lock(%s)", [ONE_AT_A_TIME])
