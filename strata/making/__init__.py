"""A making: what was meant at the table, what happened, what is really there, and what is left to do."""

from strata.making.events import Event, read_event, write_event
from strata.making.making import Making, Meant

__all__ = ["Event", "Making", "Meant", "read_event", "write_event"]
