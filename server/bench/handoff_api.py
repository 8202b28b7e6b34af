"""Files out."""

from characters import history
from ninja import Router

from bench.requests import character_of, download

router = Router()


@router.get("/characters/{int:id}/export.obj")
def export_obj(request, id: int, part: str | None = None):
    """The meshes as they stand, in the delivered order and unit."""
    from tightseam.document.lookup import part as find_part
    from tightseam.exchange.obj_write import write_obj

    document, store = history.load(character_of(id).head)
    chosen = None if part is None else [find_part(document, part)]
    return download(write_obj(document, store, chosen), f"{document.about.name}{f' {part}' if part else ''}", "obj", "model/obj")


@router.get("/characters/{int:id}/export.usd")
def export_usd(request, id: int):
    from tightseam.exchange.usd_write import write_usd

    document, store = history.load(character_of(id).head)
    return download(write_usd(document, store), document.about.name, "usdc", "model/vnd.usd")


@router.get("/characters/{int:id}/export.glb")
def export_glb(request, id: int):
    from tightseam.exchange.glb_write import write_glb

    document, store = history.load(character_of(id).head)
    return download(write_glb(document, store), document.about.name, "glb", "model/gltf-binary")


@router.get("/characters/{int:id}/export.seam")
def export_seam(request, id: int):
    from tightseam.exchange.character_file import write_character

    document, store = history.load(character_of(id).head)
    return download(write_character(document, store), document.about.name, "seam", "application/zip")
