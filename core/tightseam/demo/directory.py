"""What is planted in whom, in words."""

from __future__ import annotations

from tightseam.demo.faults import RIG_FAULTS

PIM_PLANTED = (
    "eyes flattened, pivots 3 mm off", "mouth open by 0.8 mm", "left lower lid one span short", "a pole on the right upper lid",
    "brows coarser than the skin", "a jumbled patch inside the mouth", "a hidden scale on the hair", "three duplicate vertices",
)  # fmt: skip


def planted_in(name: str) -> list[str]:
    if name == "pim":
        return list(PIM_PLANTED)
    return [f"{f.part} carried by {' and '.join(f'{bone} {share:.0%}' for bone, share in f.carriers)}" for f in RIG_FAULTS.get(name, ())]
