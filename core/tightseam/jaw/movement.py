"""How the jaw moves: what the controls of its opening, of its way to the side and forward make of its bone."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from tightseam.document.channels import channels_of
from tightseam.document.errors import BadRequest
from tightseam.document.model import Axis, Bone, Character, Control, Link
from tightseam.document.poses import far_end, rest_values

OPEN, SIDE, THRUST = "jaw_open", "jaw_side", "jaw_thrust"
LABELS = {OPEN: "Jaw open", SIDE: "Jaw to the side", THRUST: "Jaw thrust"}
LOWS = {OPEN: 0.0, SIDE: -1.0, THRUST: -0.5}


@dataclass(frozen=True)
class Movement:
    """Degrees the jaw `opens` at most and cm it slides forward at that, cm it goes to the `side` and degrees the chin turns with it, cm it
    goes `forward`."""

    opens: float
    slides: float
    side: float
    turns: float
    forward: float


def jaw_bone(character: Character) -> Bone:
    """The jaw; BadRequest where there is none."""
    found = next((b for b in character.bones if b.name == "jaw"), None) or next((b for b in character.bones if b.region == "jaw"), None)
    if found is None:
        raise BadRequest("The head has no jaw bone. Build bones at Landmarks, or give a bone the region jaw.")
    return found


def movement_of(character: Character) -> Movement:
    """What the controls make of the jaw now."""
    jaw = jaw_bone(character).name

    def end(name: str, by: str, axis: Axis) -> float:
        control = driver(character, name)
        if control is None:
            return 0.0
        gains = (n.gain for n in control.links if (n.kind, n.target, n.by, n.axis) == ("bone", jaw, by, axis) and not n.curve)
        return sum(gains) * (far_end(control) - control.rest)

    return Movement(
        end(OPEN, "turn", "x"), end(OPEN, "move", "z"), end(SIDE, "move", "x"), end(SIDE, "turn", "y"), end(THRUST, "move", "z")
    )


def with_movement(character: Character, movement: Movement) -> Character:
    """The character with the jaw moved like this; controls that are missing are made, what else they do is kept."""
    jaw = jaw_bone(character).name
    wanted: dict[str, list[tuple[float, str, Axis]]] = {
        OPEN: [(movement.opens, "turn", "x"), (movement.slides, "move", "z")],
        SIDE: [(movement.side, "move", "x"), (movement.turns, "turn", "y")],
        THRUST: [(movement.forward, "move", "z")],
    }
    for name, ways in wanted.items():
        control = driver(character, name)
        if control is None:
            control = Control(name, LABELS[name], LOWS[name], 1, 0, ())
            character = replace(character, controls=(*character.controls, control))
        span = far_end(control) - control.rest
        own = {(by, axis) for _, by, axis in ways}
        kept = [n for n in control.links if not (n.kind == "bone" and n.target == jaw and (n.by, n.axis) in own)]
        links = [Link("bone", jaw, value / span, axis, by) for value, by, axis in ways if value]  # type: ignore[arg-type]
        changed = replace(control, links=(*links, *kept))
        character = replace(character, controls=tuple(changed if c is control else c for c in character.controls))
    return character


def driver(character: Character, name: str) -> Control | None:
    """The control of a jaw movement: by its name, else the one that does to the jaw what it would. One that opens the jaw, and slides it
    as it does, is not its thrust."""
    found = next((c for c in character.controls if c.name == name), None)
    if found is not None:
        return found
    jaw = jaw_bone(character).name
    by, axis = {OPEN: ("turn", "x"), SIDE: ("move", "x"), THRUST: ("move", "z")}[name]
    ways = {c.name: {(n.by, n.axis) for n in c.links if n.kind == "bone" and n.target == jaw} for c in character.controls}
    opening = ("turn", "x")
    return _first(c for c in character.controls if (by, axis) in ways[c.name] and (name == OPEN or opening not in ways[c.name]))


def opened(character: Character, share: float, values: Mapping[str, float] | None = None) -> dict[str, float]:
    """Values of controls with the jaw open by a share of all it opens, by its control or by the bone's own. BadRequest where neither is
    there."""
    values = rest_values(character) if values is None else dict(values)
    control = driver(character, OPEN)
    if control is not None:
        return values | {control.name: control.rest + share * (far_end(control) - control.rest)}
    jaw = jaw_bone(character)
    own = next((c for c in channels_of(jaw) if (c.kind, c.axis) == ("turn", "x")), None)
    if own is None:
        raise BadRequest(f"Nothing opens the jaw: no control turns {jaw.label}, and its limits do not let it turn about x.")
    return values | {own.name: share * own.span[1]}


def _first(controls: Iterable[Control]) -> Control | None:
    return next(iter(controls), None)
