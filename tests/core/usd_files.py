"""Small USD files written by hand."""

from __future__ import annotations


def usda(body: str, head: str = 'metersPerUnit = 0.01\n    upAxis = "Y"') -> bytes:
    return f"#usda 1.0\n(\n    {head}\n)\n{body}\n".encode()


BOX = """def Mesh "box" {
    int[] faceVertexCounts = [4, 3]
    int[] faceVertexIndices = [0, 1, 2, 3, 0, 3, 4]
    point3f[] points = [(0,0,0), (1,0,0), (1,1,0), (0,1,0), (0,0,2)]
}"""
