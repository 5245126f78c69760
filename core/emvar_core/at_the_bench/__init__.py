"""Doing it: what a step asks of hands and eyes at its moment, and the windows that run from then on, as timers."""
