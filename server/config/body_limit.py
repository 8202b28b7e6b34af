"""How large a request may be, in one place for every server."""

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse


class BodyLimitMiddleware:
    """Refuses what is too large before it is read: files by MOST_BODY_BYTES, all else by DATA_UPLOAD_MAX_MEMORY_SIZE."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        files = request.content_type == "multipart/form-data"
        most = settings.MOST_BODY_BYTES if files else settings.DATA_UPLOAD_MAX_MEMORY_SIZE
        size = _length(request)
        if size > most:
            what = "The files have" if files else "The request has"
            message = f"{what} {size / 1e6:.0f} MB; {most / 1e6:.0f} MB are the most. Nothing was stored."
            return JsonResponse({"message": message, "head": None, "changed": []}, status=413)
        return self._get_response(request)


def _length(request: HttpRequest) -> int:
    try:
        return int(request.META.get("CONTENT_LENGTH") or 0)
    except ValueError:
        return 0
