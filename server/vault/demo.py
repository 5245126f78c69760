"""The demo: the plans that ship, and a finished build with its logbook and pictures."""

from __future__ import annotations

from builds import demo, store
from builds.models import Build, DemoLoaded
from django.conf import settings
from django.db import transaction

from . import archive

ENDS = ".build.zip"


def load(reset: bool = False) -> list[str]:
    """Loads what was not loaded before, once; with `reset` all, as it was. Gives the names of what is new."""
    loaded = demo.load(reset)
    for path in sorted((settings.ROOT / "demo").glob(f"*{ENDS}")):
        name = path.name.removesuffix(ENDS)
        build_id = f"demo-{name}"
        with transaction.atomic():
            if reset:
                Build.everything.filter(pk=build_id).delete()
                DemoLoaded.objects.filter(pk=build_id).delete()
            if DemoLoaded.objects.filter(pk=build_id).exists():
                continue
            [kept] = archive.read(path, judge=False).builds
            archive.put(kept, build_id)
            store.assessed(kept.plan)
            DemoLoaded.objects.create(pk=build_id)
        loaded.append(name)
    return loaded
