"""Jobs that outlast the server, as tasks in the database's queue."""

from django_tasks import task

from jobs.perform import perform


@task()
def lasting(id: str) -> None:
    """Do the job with this id."""
    perform(id)
