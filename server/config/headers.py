"""What a browser may do with a page of this server: load from it alone, and show it in no other page."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

POLICY = "; ".join(
    (
        "default-src 'self'",
        "style-src 'self' 'unsafe-inline'",  # Ant Design writes its styles into the page
        "img-src 'self' data: blob:",
        "font-src 'self' data:",  # small ones stand in the styles
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'none'",
        "frame-ancestors 'none'",
    )
)


class ContentPolicyMiddleware:
    """Sets the content security policy (CSP level 3)."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        answer = self._get_response(request)
        answer.headers.setdefault("Content-Security-Policy", POLICY)
        return answer
