"""Everything below /api is the API; every other address is a place in the front end."""

from bench.api import api
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path
from problems import server_error


def front_end(request: HttpRequest) -> HttpResponse:
    page = settings.WEB / "index.html"
    if not page.is_file():
        return HttpResponse("The front end is not built yet. Run: make demo", content_type="text/plain", status=503)
    return HttpResponse(page.read_bytes(), headers={"Cache-Control": "no-cache"})


handler500 = server_error
urlpatterns = [path("api/", api.urls), re_path(r"^(?!api/|assets/).*$", front_end)]
