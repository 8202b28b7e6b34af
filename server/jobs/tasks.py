"""Jobs that outlast the server, as tasks in the database's queue."""

from django_tasks import task

from jobs.apart import APART, perform_apart
from jobs.models import Job
from jobs.perform import perform


@task()
def lasting(id: str) -> None:
    """Do the job with this id."""
    job = Job.objects.filter(pk=id).first()
    if job is not None and job.kind in APART:
        perform_apart(job, APART[job.kind])
    else:
        perform(id)
