"""First guess for the grid: crude, relaxed later."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.shape import lerp
from tightseam.demo.topology import CAPA, EAR, EYE, MOUTH, NOSTRIL, NU, NV, Half


def guess_grid(H: Half, P: Head) -> None:
    ty, tz = P["nose_tip"]
    sy, sz = P["subnasale"]
    ry, rz = P["nose_root"]
    my = P["mouth_y"]
    cy = P["chin_c"][1] - P["chin_r"][1]
    cz = P["chin_c"][2]
    ny = P["neck_bot"][1] + 0.5
    top = P["cran_c"][1] + P["cran_r"][1]
    ecy = P["ear_c"][1]
    es = P["ear_s"]
    #      j:   front (y,z)                         side y             back y
    fs = cy / -10.1
    ms = P["mouth_w"] / 2.35  # face length and mouth size relative to the adult
    rows = {
        0: ((ny, 1.5), ny, ny),
        4: ((cy - 1.1, cz - 5), -9.0 * fs, -9.5 * fs),
        5: ((cy - 0.5, cz - 2.4), -8.0 * fs, -8.0 * fs),
        6: ((cy, cz + 0.6), -7.0 * fs, -6.6 * fs),
        7: ((cy + 1.2, cz + 1.6), -6.2 * fs, -5.3 * fs),
        8: ((my - 1.75 * ms, 8), -5.6 * fs, -4.3 * fs),
        12: ((lerp(my, sy, 0.78), 8.3), -4.2 * fs, -2.6 * fs),
        13: ((sy, sz), ecy - 3.0 * es, -2.0),
        15: ((ty - 0.62, tz + 0.2), ecy - 2.0 * es, -1.0),
        16: ((ty - 0.35, tz + 0.8), ecy - 1.3 * es, -0.4),
        17: ((ty, tz + 0.86), ecy - 0.7 * es, 0.2),
        18: ((ty + 0.4, tz + 0.7), ecy - 0.0 * es, 0.8),
        19: ((ty + 0.85, tz + 0.2), ecy + 0.7 * es, 1.4),
        21: ((ty + 2.0, tz - 0.8), ecy + 2.0 * es, 2.6),
        23: ((0.6, 7.4), ecy + 2.9 * es, 3.8),
        25: ((2.5, 7.8), 3.2, 5.0),
        31: ((top - 2.6, 5.2), top - 3.0, top - 3.0),
    }
    js = sorted(rows)
    J = np.arange(NV + 1)
    ip = lambda v: np.interp(J, js, v)
    yF = ip([rows[j][0][0] for j in js])
    zF = ip([rows[j][0][1] for j in js])
    yS = ip([rows[j][1] for j in js])
    yB = ip([rows[j][2] for j in js])
    th = np.radians(np.interp(np.arange(NU + 1), [0, 5, 7, 11, 14, 17, 23], [0, 11, 25, 58, 86, 108, 180]))
    xS = np.interp(J, [0, 4, 8, 15, 25, 31], [5, 4.6, 5.8, 6.8, 7.2, 5.0])
    zS = np.interp(J, [0, 6, 15, 31], [-3, -1.5, -1, -1])
    zB = np.interp(J, [0, 4, 8, 17, 25, 31], [-7, -6.5, -7, -9.5, -10, -6.5])

    def inblock(i, j, b, half=False):
        return ((b[0] < i < b[1]) or (half and i == 0)) and b[2] < j < b[3]

    G = H.grid = -np.ones((NU + 1, NV + 1), int)
    for i in range(NU + 1):
        c, s = np.cos(th[i]), np.sin(th[i])
        for j in range(NV + 1):
            if any(inblock(i, j, b) for b in (EYE, EAR, NOSTRIL)) or (i < MOUTH[1] and MOUTH[2] < j < MOUTH[3]):
                continue
            if c >= 0:
                p = (xS[j] * s, lerp(yS[j], yF[j], c**1.2), lerp(zS[j], zF[j], c))
            else:
                p = (xS[j] * s, lerp(yS[j], yB[j], -c), lerp(zS[j], zB[j], -c))
            G[i, j] = H.add(p, i in (0, NU))
    for i in range(NU):
        for j in range(NV):
            if any(b[0] <= i < b[1] and b[2] <= j < b[3] for b in (EYE, EAR, NOSTRIL, MOUTH)):
                continue
            H.quads.append((G[i, j], G[i + 1, j], G[i + 1, j + 1], G[i, j + 1]))
    # crown cap: no pole at the crown
    A, Bn = CAPA, NU - 2 * CAPA
    C = H.crown = -np.ones((A + 1, Bn + 1), int)  # C[a,b]: a lateral 0..A, b front->back
    for a in range(A + 1):
        C[a, 0] = G[a, NV]
        C[a, Bn] = G[NU - a, NV]
    for b in range(Bn + 1):
        C[A, b] = G[A + b, NV]
    for a in range(A):
        for b in range(1, Bn):
            u, v = a / A, b / Bn
            pf, pb, ps = H.pos[C[a, 0]], H.pos[C[a, Bn]], H.pos[C[A, b]]
            p = lerp(pf, pb, v)
            p = np.array([lerp(0, ps[0], u), top - 0.5 - 1.5 * u * u - 2 * (2 * v - 1) ** 2, p[2]])
            C[a, b] = H.add(p, a == 0)
    for a in range(A):
        for b in range(Bn):
            H.quads.append((C[a, b], C[a, b + 1], C[a + 1, b + 1], C[a + 1, b]))
