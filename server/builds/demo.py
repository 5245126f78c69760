"""The demo builds that ship with it, as plan files."""

from __future__ import annotations

import json

from django.conf import settings
from django.db import transaction
from emvar_core.plan import parse_plan

from . import store
from .models import Build, DemoLoaded


def load(reset: bool = False) -> list[str]:
    """Loads those that were not loaded before, once; with `reset` all, as they were. Gives the names of what is new."""
    loaded = []
    for path in sorted((settings.ROOT / "demo").glob("*.json")):
        build_id = f"demo-{path.stem}"
        with transaction.atomic():
            if reset:
                Build.everything.filter(pk=build_id).delete()
                DemoLoaded.objects.filter(pk=build_id).delete()
            if DemoLoaded.objects.filter(pk=build_id).exists():
                continue
            store.create(parse_plan(json.loads(path.read_text(encoding="utf-8"))), build_id)
            DemoLoaded.objects.create(pk=build_id)
        loaded.append(path.stem)
    return loaded
