"""Eye seats of revisions."""

from django.http import Http404
from tightseam.document.units import CM_TO_MM
from tightseam.head.found import found_head
from tightseam.landmarks.gaze_sweep import ACROSS, HEIGHT, Contact
from tightseam.landmarks.seats import EyeSeat, cut_through, seats_of

from bench.rigs import Rig
from bench.schemas import ContactOut, CutOut, EyeSeatOut


def seats(rig: Rig) -> list[EyeSeatOut]:
    return [_seat(s) for s in seats_of(rig.document, rig.store)]


def cut(rig: Rig, side: str, gaze: int) -> CutOut:
    """The cut through the contact of one gaze, counted row by row from looking down."""
    seat = _find(rig, side)
    if not 0 <= gaze < len(seat.sweep.contacts):
        raise Http404(f"The sweep has gazes 0 to {len(seat.sweep.contacts) - 1}.")
    found = cut_through(found_head(rig.document, rig.store), seat, seat.sweep.contacts[gaze])
    skin, eye = ([line.round(3).tolist() for line in lines] for lines in (found.skin, found.eye))
    return CutOut(skin=skin, eye=eye, contact=found.contact.tolist())


def _find(rig: Rig, side: str) -> EyeSeat:
    found = next((s for s in seats_of(rig.document, rig.store) if s.side == side), None)
    if found is None:
        raise Http404(f"No eye {side} is found on this head.")
    return found


def _seat(seat: EyeSeat) -> EyeSeatOut:
    contacts = seat.sweep.contacts
    return EyeSeatOut(
        part=seat.part,
        side=seat.side,
        vertices=len(seat.ball.miss),
        radius=seat.ball.radius * CM_TO_MM,
        rms=seat.ball.rms,
        roundness=seat.ball.roundness,
        worst_vertex=seat.ball.worst,
        pivot_error=seat.pivot_error if seat.own_pivot else None,
        across=ACROSS.tolist(),
        height=HEIGHT.tolist(),
        contacts=[_contact(c) for c in contacts],
        worst=max(range(len(contacts)), key=lambda k: contacts[k].depth),
    )


def _contact(contact: Contact) -> ContactOut:
    return ContactOut(
        across=contact.across, height=contact.height, depth=contact.depth, point=tuple(contact.point.tolist()), vertex=contact.vertex
    )
