"""The API of the bench."""

from characters import history
from django.db import OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import ValidationError
from tightseam.document.errors import TightSeamError
from tightseam.exchange.delivery import Cancelled

from bench.checkin_api import router as checkin
from bench.controls_api import router as controls
from bench.findings_api import router as findings
from bench.handoff_api import router as handoff
from bench.jaw_api import router as jaw
from bench.landmarks_api import router as landmarks
from bench.lids_api import router as lids
from bench.shapes_api import router as shapes
from bench.shelf_api import router as shelf
from bench.stage_api import router as stage
from bench.unforeseen import unforeseen
from bench.weights_api import router as weights

api = NinjaAPI(title="Tight Seam", version="1", docs_url=None)


@api.exception_handler(TightSeamError)
def _refuse(request: HttpRequest, error: TightSeamError) -> HttpResponse:
    return api.create_response(request, {"message": str(error), "head": None, "changed": []}, status=400)


@api.exception_handler(Cancelled)
def _stopped(request: HttpRequest, error: Cancelled) -> HttpResponse:
    return api.create_response(request, {"message": "Stopped. Nothing was stored.", "head": None, "changed": []}, status=409)


@api.exception_handler(history.StaleBase)
def _stale(request: HttpRequest, error: history.StaleBase) -> HttpResponse:
    body = {"message": f"{error} Look again, then repeat your edit.", "head": error.head.number, "changed": [r.text for r in error.since]}
    return api.create_response(request, body, status=409)


@api.exception_handler(ValidationError)
def _invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    first = error.errors[0]
    where = " › ".join(str(step) for step in first["loc"][2:])
    return api.create_response(request, {"message": f"{where or 'The request'}: {first['msg']}.", "head": None, "changed": []}, status=422)


@api.exception_handler(OperationalError)
def _busy(request: HttpRequest, error: OperationalError) -> HttpResponse:
    full = "full" in str(error)
    message = (
        "The disk is full: make room, then try again." if full else "The database is busy or cannot be written: try again in a moment."
    )
    return api.create_response(request, {"message": f"{message} Nothing was changed.", "head": None, "changed": []}, status=503)


@api.exception_handler(Exception)
def _unforeseen(request: HttpRequest, error: Exception) -> HttpResponse:
    message = unforeseen(f"{request.method} {request.path}")
    return api.create_response(request, {"message": message, "head": None, "changed": []}, status=500)


@api.exception_handler(Http404)
def _missing(request: HttpRequest, error: Http404) -> HttpResponse:
    return api.create_response(request, {"message": str(error), "head": None, "changed": []}, status=404)


for router in (shelf, stage, checkin, landmarks, weights, lids, jaw, shapes, controls, findings, handoff):
    api.add_router("", router)
