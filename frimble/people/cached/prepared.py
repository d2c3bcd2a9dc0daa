"""A query that every page asks: put together once, since that takes longer than answering it."""

import threading
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any

from django.db import connections
from django.db.models import QuerySet

# Stand in the query's text where a moment is filled in at each reading; no record bears them.
_STAND_IN = datetime(1801, 2, 3, 4, 5, 6, 789012, tzinfo=UTC)


class Prepared(threading.local):
    """A query of rows of values whose only changing parts are moments; each thread puts it together once.

    Attributes:
        build: the query for some moments; besides them it may rest on nothing that changes while the program runs.
    """

    def __init__(self, build: Callable[..., QuerySet]):
        self.build = build
        self.compiler = None

    def rows(self, *moments: datetime) -> list[tuple[Any, ...]]:
        """What the database answers now."""
        if self.compiler is None:
            self._put_together(len(moments))
        adapt = self.connection.ops.adapt_datetimefield_value
        filled = dict(zip(self.stand_ins, map(adapt, moments), strict=True))
        with self.connection.cursor() as cursor:
            cursor.execute(self.text, [filled.get(value, value) for value in self.given])
            return list(self.compiler.results_iter([cursor.fetchall()], tuple_expected=True))

    def _put_together(self, number: int) -> None:
        moments = [_STAND_IN + timedelta(days=k) for k in range(number)]
        queryset = self.build(*moments)
        self.connection = connections[queryset.db]
        self.stand_ins = [self.connection.ops.adapt_datetimefield_value(moment) for moment in moments]
        self.compiler = queryset.query.get_compiler(queryset.db)
        self.text, self.given = self.compiler.as_sql()
