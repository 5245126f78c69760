"""A plan: the open format, reading it, references, times and hours, edits, what is placed and recorded of it."""

from .air import Aid, Air, AirSpan, BenchAir
from .bonds import Bond, bonds, check_moves, crossed
from .documents import Record, Schedule, as_placed
from .edits import AnyEdit, apply, edits_json, parse_edits
from .hours import USUAL, Busy, Hours, Sitting, sittings
from .kit import DripKit, GunKit, Kit, Measured
from .known import known_to
from .mixes import (
    coverage_of,
    default_mix,
    film_of,
    is_fine,
    method_of,
    mix_of,
    passes_of,
    ratio_words,
    thinned,
)
from .model import FORMAT, MAX_STEPS, VERSION, Build, Plan, Trial, Zone, area_together, siblings
from .own import OwnCoat, OwnMaterial, OwnThinner, with_own
from .parse import json_of, parse, parse_plan, parse_step
from .placing import put, renamed, step_data, technique_of
from .steps import MAX_ZONES, AnyStep, CoatStep, Colour, FittingStep, Mix, MixPart, SprayWith, Step, WorkingStep
from .timing import Timing, at, begins_at, minutes_since_start, morning_after, step_times

__all__ = [
    "FORMAT",
    "MAX_STEPS",
    "MAX_ZONES",
    "USUAL",
    "VERSION",
    "Aid",
    "Air",
    "AirSpan",
    "AnyEdit",
    "AnyStep",
    "BenchAir",
    "Bond",
    "Build",
    "Busy",
    "CoatStep",
    "Colour",
    "DripKit",
    "FittingStep",
    "GunKit",
    "Hours",
    "Kit",
    "Measured",
    "Mix",
    "MixPart",
    "OwnCoat",
    "OwnMaterial",
    "OwnThinner",
    "Plan",
    "Record",
    "Schedule",
    "Sitting",
    "SprayWith",
    "Step",
    "Timing",
    "Trial",
    "WorkingStep",
    "Zone",
    "apply",
    "area_together",
    "as_placed",
    "at",
    "begins_at",
    "bonds",
    "check_moves",
    "coverage_of",
    "crossed",
    "default_mix",
    "edits_json",
    "film_of",
    "is_fine",
    "json_of",
    "known_to",
    "method_of",
    "minutes_since_start",
    "mix_of",
    "morning_after",
    "parse",
    "parse_edits",
    "parse_plan",
    "parse_step",
    "passes_of",
    "put",
    "ratio_words",
    "renamed",
    "siblings",
    "sittings",
    "step_data",
    "step_times",
    "technique_of",
    "thinned",
    "with_own",
]
