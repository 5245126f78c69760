"""The one page: the built interface, for every address that is not the API's."""

import secrets

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import ensure_csrf_cookie

from .security import policy

NONCE_PLACE = b"__NONCE__"  # in the built page; a library of the interface marks the one style that it adds with it


@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    index = settings.WEB_DIST / "index.html"
    if not index.exists():
        return HttpResponse("The interface is not built; run ./emvar demo", status=503, content_type="text/plain")
    nonce = secrets.token_urlsafe(16)
    body = index.read_bytes().replace(NONCE_PLACE, nonce.encode())
    response = HttpResponse(body, content_type="text/html; charset=utf-8")
    response.headers["Content-Security-Policy"] = policy(nonce)
    response.headers["Cache-Control"] = "no-cache"
    return response
