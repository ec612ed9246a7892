"""The shortest plan for one card, searched by constraint programming, with a bound under every plan.

The solver is CP-SAT; the model follows the table: seatings of a sheet are
objects, passes go into them; masks are objects, passes go behind them;
brushes are paths from pass to pass. See ``docs/decisions/0025``.
"""

from strata.order.proof.solve import solve

__all__ = ["solve"]
