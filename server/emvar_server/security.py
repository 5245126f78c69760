"""Content security policy, and CSRF checks that no view can be exempt from."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import CsrfViewMiddleware


def policy(nonce: str = "") -> str:
    """What a page may load and do; a style of its own only with the nonce of this very answer."""
    style = f"'self' 'nonce-{nonce}'" if nonce else "'self'"
    return (
        f"default-src 'self'; img-src 'self' data:; style-src {style}; font-src 'self'; "
        "connect-src 'self'; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
    )


class ContentSecurityPolicy:
    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", policy())
        return response


class OwnHost:
    """Turns other hosts away before anything is answered, the built interface's files too."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        request.get_host()  # raises DisallowedHost, which Django answers with 400
        return self.get_response(request)


class CsrfForAll(CsrfViewMiddleware):
    """The API's views come marked as exempt; here every view is checked all the same."""

    def process_view(self, request, callback, callback_args, callback_kwargs):  # type: ignore[no-untyped-def]
        def checked(*args, **kwargs): ...  # type: ignore[no-untyped-def]

        return super().process_view(request, checked, callback_args, callback_kwargs)


def csrf_failure(request: HttpRequest, reason: str = "") -> JsonResponse:
    return JsonResponse(
        {"problems": [{"where": "request", "what": "the page is out of date; reload it and try again"}]},
        status=403,
    )
