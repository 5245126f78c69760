"""The API of ways out and ways back: everything here only reads; what is chosen is then posted as edits."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from emvar_core.ways import faults, mend, overlay, park, remedies, rescue, substitutes, trial
from emvar_core.ways.rescue import Rescue, WipeNow
from ninja import Query, Router, Schema
from pydantic import Field

from .answers import Problems, answer
from .builds_at_times import Times, plan_at, plan_of
from .long_process import HELPER, version_of

router = Router()
MOST_MIN = 800 * 1440.0


class At(Schema):
    """An instant, minutes since the build's start, and whose times the coats are laid at."""

    at: float = Field(ge=0, le=MOST_MIN)
    times: Times = "plan"


class ParkIn(At):
    back: float | None = Field(None, ge=0, le=MOST_MIN)


class LookingOut(Schema):
    """How far a mended or undoable version of a long plan is: the seams or effects looked at."""

    kind: str
    looked_at: int


class RescueOut(Schema):
    rescue: Rescue
    wipe: WipeNow


@router.get("/builds/{build_id}/rescue/{zone_id}/{step_id}", response={200: RescueOut, 404: Problems})
def read_rescue(request: HttpRequest, build_id: str, zone_id: str, step_id: str, q: Query[At]) -> Any:
    """What takes this coat off at an instant, and the strongest thing this spot may be wiped with."""
    plan = plan_at(build_id, q.times)
    rescued = RescueOut.model_construct(
        rescue=rescue.rescue(plan, step_id, zone_id, q.at), wipe=rescue.wipe_now(plan, zone_id, q.at)
    )
    return answer(RescueOut, rescued)


@router.get("/builds/{build_id}/reach", response={200: list[rescue.Reach], 404: Problems})
def read_reach(request: HttpRequest, build_id: str, q: Query[At]) -> Any:
    """How far down one could go back in each zone at an instant."""
    plan = plan_at(build_id, q.times)
    return answer(list[rescue.Reach], rescue.all_reaches(plan, q.at))


@router.get("/builds/{build_id}/over/{zone_id}", response={200: list[overlay.Over], 404: Problems})
def read_over(request: HttpRequest, build_id: str, zone_id: str, q: Query[At]) -> Any:
    """What may go over a zone as it stands at an instant, now and later."""
    plan = plan_at(build_id, q.times)
    return answer(list[overlay.Over], overlay.over(plan, zone_id, q.at))


@router.get("/builds/{build_id}/under/{step_id}", response={200: list[overlay.Under], 404: Problems})
def read_under(request: HttpRequest, build_id: str, step_id: str) -> Any:
    """What should lie under a coat."""
    plan = plan_of(build_id)
    return answer(list[overlay.Under], overlay.under(plan, step_id))


@router.get(
    "/builds/{build_id}/substitutes/{step_id}/{lacking}", response={200: list[substitutes.Substitute], 404: Problems}
)
def read_substitutes(request: HttpRequest, build_id: str, step_id: str, lacking: str) -> Any:
    """What stands in for a material or thinner that one lacks."""
    plan = plan_of(build_id)
    return answer(list[substitutes.Substitute], substitutes.substitutes(plan, step_id, lacking))


@router.get(
    "/builds/{build_id}/diagnose/{zone_id}/{step_id}/{appearance}", response={200: faults.Diagnosis, 404: Problems}
)
def read_diagnosis(
    request: HttpRequest, build_id: str, zone_id: str, step_id: str, appearance: str, q: Query[At]
) -> Any:
    """From what a coat looks like to the likely causes, and the next minute."""
    plan = plan_at(build_id, q.times)
    return answer(faults.Diagnosis, faults.diagnose(plan, step_id, zone_id, appearance, q.at))


@router.get("/builds/{build_id}/scrap-test/{seam_id}", response={200: trial.ScrapTest, 404: Problems})
def read_scrap_test(request: HttpRequest, build_id: str, seam_id: str) -> Any:
    """The smallest trial that settles a seam."""
    plan = plan_of(build_id)
    return answer(trial.ScrapTest, trial.scrap_test(plan, seam_id))


@router.get("/builds/{build_id}/park", response={200: park.Parking, 404: Problems})
def read_parking(request: HttpRequest, build_id: str, q: Query[ParkIn]) -> Any:
    """What is live if one stops now, and what must be done first."""
    plan = plan_at(build_id, q.times)
    return answer(park.Parking, park.park(plan, q.at, q.back))


@router.get("/builds/{build_id}/mended", response={200: mend.Version, 404: Problems, 503: Problems})
def read_mended(request: HttpRequest, build_id: str) -> Any:
    """A whole set of remedies for the plan; nothing is changed yet."""
    return HttpResponse(version_of(build_id, "mended", plan_of(build_id)), content_type="application/json")


@router.get("/builds/{build_id}/undoable", response={200: mend.Version, 404: Problems, 503: Problems})
def read_undoable(request: HttpRequest, build_id: str) -> Any:
    """The mended plan with what lets every effect come off without touching what lies below."""
    return HttpResponse(version_of(build_id, "undoable", plan_of(build_id)), content_type="application/json")


@router.get("/builds/{build_id}/looking", response=LookingOut | None)
def read_looking(request: HttpRequest, build_id: str) -> Any:
    """The long question of a build that is being answered, and how far it is."""
    now = HELPER.at(build_id)
    return None if now is None else LookingOut(kind=now.kind, looked_at=now.looked_at)


@router.post("/builds/{build_id}/looking/stop", response={204: None})
def stop_looking(request: HttpRequest, build_id: str) -> Any:
    """Ends it: what was found so far is its answer."""
    HELPER.stop(build_id)
    return 204, None


@router.get("/builds/{build_id}/remarks/{remark_id}", response={200: list[remedies.Remedy], 404: Problems})
def read_remark_remedies(request: HttpRequest, build_id: str, remark_id: str) -> Any:
    """What would settle a remark on a step, tried on the plan."""
    plan = plan_of(build_id)
    return answer(list[remedies.Remedy], remedies.remark_remedies(plan, remark_id))
