"""Answers are sent packed, as far as that is worth its time."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware

MOST_BYTES = 1_000_000  # packing a longer answer takes longer than sending it over the machine's own wire


class Packed(GZipMiddleware):
    """Packs text answers of some length. No answer holds a secret that could be guessed from its length."""

    def process_response(self, request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
        if isinstance(response, HttpResponse) and len(response.content) > MOST_BYTES:
            return response
        return super().process_response(request, response)
