"""The one page: the built interface, for every address that is not the API's."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import ensure_csrf_cookie


@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    index = settings.WEB_DIST / "index.html"
    if not index.exists():
        return HttpResponse("The interface is not built; run ./emvar demo", status=503, content_type="text/plain")
    response = HttpResponse(index.read_bytes(), content_type="text/html; charset=utf-8")
    response.headers["Cache-Control"] = "no-cache"
    return response
