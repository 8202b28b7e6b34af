"""Only pages of this server may change anything."""

from collections.abc import Callable
from urllib.parse import urlsplit

from django.http import HttpRequest, HttpResponse, JsonResponse

SAFE = {"GET", "HEAD", "OPTIONS"}


class SameOriginMiddleware:
    """Refuses changing requests that a browser sends from another site. Programs that are no browsers send neither header."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.method not in SAFE and not self._own(request):
            return JsonResponse({"message": "This request came from another site and was refused."}, status=403)
        return self._get_response(request)

    @staticmethod
    def _own(request: HttpRequest) -> bool:
        if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
            return False
        origin = request.headers.get("Origin")
        return origin is None or urlsplit(origin).netloc == request.get_host()
