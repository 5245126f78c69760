"""Simulated bench instruments behind one small interface: a compressor with gauge, a thermo-hygrometer, a gram scale.

They stand in for real ones, can be set, and can be made to misbehave. What reads them asks
`read()` and gets figures, whether they can be trusted, and words.
"""

from __future__ import annotations

import math
import random
import threading
import time
from abc import ABC, abstractmethod
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, ClassVar

from ..errors import NotSettable, NotThere


@dataclass(frozen=True)
class Reading:
    """What an instrument shows: figures with units in their names, whether to trust them, and why not."""

    values: dict[str, float]
    trusted: bool
    words: str


def _number(field: str, value: float | str, low: float, high: float) -> float:
    try:
        number = float(value)
    except ValueError:
        raise NotSettable(f"{field}: '{str(value)[:20]}' is not a number") from None
    if not low <= number <= high or not math.isfinite(number):
        raise NotSettable(f"{field}: {number:g} is outside {low:g} to {high:g}")
    return number


class Instrument(ABC):
    """What every instrument can do: be read, have its knobs turned (`controls`, with their limits), and misbehave."""

    name: str
    faults: tuple[str, ...]
    controls: ClassVar[dict[str, tuple[float, float]]]

    def __init__(self) -> None:
        self.fault = "none"

    @abstractmethod
    def read(self) -> Reading: ...

    def set(self, field: str, value: float | str) -> None:
        """Turns a knob, or switches a fault on. Raises NotSettable, naming the field."""
        if field == "fault":
            if value not in ("none", *self.faults):
                raise NotSettable(f"fault: '{str(value)[:20]}' is none of {', '.join(('none', *self.faults))}")
            self.fault = str(value)
        elif field in self.controls:
            setattr(self, field, _number(field, value, *self.controls[field]))
        else:
            raise NotSettable(f"{field[:30]}: the {self.name.lower()} has {', '.join(self.controls)} and fault")


class Compressor(Instrument):
    """A small tank compressor with regulator. The gauge falls while air flows, and more when the tank runs low."""

    name = "Compressor"
    faults = ("leak", "weak_motor", "gauge_stuck")
    controls: ClassVar = {"regulator_kpa": (0, 400), "flow_l_min": (0, 60)}
    TANK_L, CUT_IN_KPA, CUT_OUT_KPA, MOTOR_L_MIN, DROOP_KPA = 3.0, 300.0, 400.0, 23.0, 18.0

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        super().__init__()
        self.clock, self.at = clock, clock()
        self.tank_kpa, self.regulator_kpa, self.flow_l_min = 400.0, 100.0, 0.0
        self.running = False
        self.stuck_kpa = 100.0

    def _step(self) -> None:
        """Brings the tank up to now: isothermal, free air in and out."""
        now = self.clock()
        minutes = min(max(now - self.at, 0.0), 3600.0) / 60
        self.at = now
        slice_ = 1 / 120
        while minutes > 0:
            dt = min(slice_, minutes)
            minutes -= dt
            if self.tank_kpa <= self.CUT_IN_KPA:
                self.running = True
            elif self.tank_kpa >= self.CUT_OUT_KPA:
                self.running = False
            gain = (self.MOTOR_L_MIN * (0.35 if self.fault == "weak_motor" else 1.0)) if self.running else 0.0
            drain = self.flow_l_min + (6.0 if self.fault == "leak" else 0.0)
            self.tank_kpa = max(self.tank_kpa + (gain - drain) * dt / self.TANK_L * 101.325, 0.0)

    def gauge_kpa(self) -> float:
        """What the gauge behind the regulator reads, kPa: less while air flows."""
        drop = self.DROOP_KPA * self.flow_l_min / 12.0
        return max(min(self.regulator_kpa, self.tank_kpa) - drop, 0.0)

    def read(self) -> Reading:
        self._step()
        gauge = self.gauge_kpa()
        if self.fault == "gauge_stuck":
            return Reading({"gauge_kpa": self.stuck_kpa, "tank_kpa": round(self.tank_kpa, 1)}, False,
                           "The needle does not move when the trigger opens: the gauge is stuck.")  # fmt: skip
        low = self.tank_kpa < self.regulator_kpa
        words = "The tank is below the regulator: let it fill." if low else ""
        values = {
            "gauge_kpa": round(gauge, 1),
            "tank_kpa": round(self.tank_kpa, 1),
            "regulator_kpa": self.regulator_kpa,
        }
        return Reading({**values, "flow_l_min": self.flow_l_min}, not low, words)

    def set(self, field: str, value: float | str) -> None:
        self._step()
        if field == "fault":
            self.stuck_kpa = self.gauge_kpa()
        super().set(field, value)


class Hygrometer(Instrument):
    """A thermo-hygrometer on the bench."""

    name = "Thermo-hygrometer"
    faults = ("drift", "wet_sensor")
    controls: ClassVar = {"temp_c": (-10, 60), "rh_pct": (0, 100)}

    def __init__(self) -> None:
        super().__init__()
        self.temp_c, self.rh_pct = 20.0, 50.0

    def read(self) -> Reading:
        if self.fault == "wet_sensor":
            return Reading({"temp_c": self.temp_c, "rh_pct": 99.9}, False, "It reads 99.9 %: the sensor is wet.")
        shift = 6.0 if self.fault == "drift" else 0.0
        values = {"temp_c": round(self.temp_c, 1), "rh_pct": round(min(self.rh_pct + shift, 100.0), 1)}
        return Reading(values, True, "")


class Scale(Instrument):
    """A gram scale: shows what lies on it, less the tare, to a hundredth."""

    name = "Gram scale"
    faults = ("unsteady", "overload")
    controls: ClassVar = {"load_g": (0, 200)}

    def __init__(self, seed: int = 1) -> None:
        super().__init__()
        self.load_g, self.tare_g = 0.0, 0.0
        self.noise = random.Random(seed)

    def read(self) -> Reading:
        if self.fault == "overload":
            return Reading({"grams": 0.0}, False, "Overload: take the cup off and tare again.")
        shown = self.load_g - self.tare_g
        if self.fault == "unsteady":
            shown += self.noise.uniform(-0.2, 0.2)
            return Reading(
                {"grams": round(shown, 2)}, False, "The figure does not settle: a draught, or a weak battery."
            )
        return Reading({"grams": round(shown, 2)}, True, "")

    def set(self, field: str, value: float | str) -> None:
        if field == "tare":
            self.tare_g = self.load_g
        else:
            super().set(field, value)


class Bench:
    """The instruments of this bench, by id; safe to be asked from several threads."""

    def __init__(self) -> None:
        self.lock = threading.Lock()
        self.instruments: dict[str, Instrument] = {
            "compressor": Compressor(),
            "hygrometer": Hygrometer(),
            "scale": Scale(),
        }

    def read_all(self) -> dict[str, tuple[Instrument, Reading]]:
        with self.lock:
            return {key: (i, i.read()) for key, i in self.instruments.items()}

    def set(self, key: str, field: str, value: float | str) -> None:
        """Sets a control. Raises NotThere for an unknown instrument, NotSettable for a wrong control or value."""
        if key not in self.instruments:
            raise NotThere("instrument on this bench", key)
        with self.lock:
            self.instruments[key].set(field, value)


BENCH = Bench()


def describe(key: str, instrument: Instrument, reading: Reading) -> dict[str, Any]:
    """An instrument as plain data."""
    return {
        "id": key,
        "name": instrument.name,
        "values": reading.values,
        "trusted": reading.trusted,
        "words": reading.words,
        "fault": instrument.fault,
        "faults": list(instrument.faults),
    }
