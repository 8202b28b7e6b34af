"""The API of the bench."""

from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import ValidationError
from problems import Problem, problem_of

from bench.checkin_api import router as checkin
from bench.controls_api import router as controls
from bench.findings_api import router as findings
from bench.handoff_api import router as handoff
from bench.jaw_api import router as jaw
from bench.jobs_api import router as jobs
from bench.landmarks_api import router as landmarks
from bench.lids_api import router as lids
from bench.mix_api import router as mix
from bench.recipes_api import router as recipes
from bench.shapes_api import router as shapes
from bench.shelf_api import router as shelf
from bench.stage_api import router as stage
from bench.takes_api import router as takes
from bench.waiting import CameToNothing
from bench.weights_api import router as weights

api = NinjaAPI(title="Tight Seam", version="1", docs_url=None)


@api.exception_handler(ValidationError)
def _invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    first = error.errors[0]
    where = " › ".join(str(step) for step in first["loc"][2:])
    return _refused(request, 422, Problem(message=f"{where or 'The request'}: {first['msg']}."))


@api.exception_handler(CameToNothing)
def _came_to_nothing(request: HttpRequest, error: CameToNothing) -> HttpResponse:
    return _refused(request, error.status, error.problem)


@api.exception_handler(Http404)  # for it there is a handler of another kind
@api.exception_handler(Exception)
def _any_other(request: HttpRequest, error: Exception) -> HttpResponse:
    return _refused(request, *problem_of(error, f"{request.method} {request.path}"))


def _refused(request: HttpRequest, status: int, problem: Problem) -> HttpResponse:
    return api.create_response(request, problem.model_dump(), status=status)


for router in (shelf, jobs, stage, checkin, landmarks, weights, lids, jaw, shapes, controls, takes, findings, mix, handoff, recipes):
    api.add_router("", router)
