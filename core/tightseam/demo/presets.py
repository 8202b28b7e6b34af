"""Every number of the cast. Lengths in cm, angles in degrees; y = 0 is the eye line while a head is built."""

from __future__ import annotations

from typing import Any

Head = dict[str, Any]


MAREN: Head = dict(
    lift=16.5,
    # big forms (centre, radii)
    cran_c=(0, 3.0, -1.2), cran_r=(7.35, 7.5, 8.5),
    face_c=(0, -2.2, 1.4), face_r=(6.25, 8.0, 6.5), face_k=2.2,
    jaw_c=(0, -5.9, 2.6), jaw_r=(4.25, 3.7, 5.1), jaw_k=2.4,
    chin_c=(0, -8.9, 6.5), chin_r=(1.35, 1.2, 1.35), chin_k=1.5,
    temple=0.30, jowl=0.0, jowl_c=(4.2, -7.8, 4.2), jowl_r=(1.5, 1.8, 2.0),
    cheek_c=(3.9, -3.6, 5.0), cheek_r=2.05, cheek_k=1.6,
    bone_c=(4.9, -2.0, 4.1), bone_r=1.75,
    muzzle_c=(0, -6.2, 5.5), muzzle_r=(2.9, 2.4, 2.6), muzzle_k=1.5,
    brow_y=2.35, brow_z=6.45, brow_r=0.9, brow_k=1.4,
    # nose
    nose_root=(0.2, 6.85), nose_mid=(-1.6, 7.95), nose_tip=(-3.20, 9.00), tip_r=0.80, bridge_r=0.60,
    ala_c=(1.02, -3.62, 8.15), ala_r=0.64, subnasale=(-4.05, 8.30), nose_k=0.48, ala_k=0.55, nostril=0.8,
    # eyes
    eye_c=(3.15, 0.0, 5.15), eye_r=1.95, cornea=0.12, iris_deg=29.0, pupil_deg=12.5,
    open_in=(-47.0, -6.0), open_out=(52.0, 3.0), open_up=21.5, open_lo=21.0, open_yaw=4.0,
    lid_k=0.9, lid=0.22, gap=0.034, crease=20.0, lowbag=14.0, crease_in=0.10,
    iris_col=(0.25, 0.44, 0.38),
    # mouth
    mouth_y=-6.30, mouth_w=2.42, lip_u=0.66, lip_l=0.74, full_u=0.42, full_l=0.50, corner_lift=0.32, bow=0.22,
    # neck
    neck_r=3.25, neck_top=(0, -6, -1.9), neck_bot=(0, -17, -2.9), neck_flare=1.6, neck_k=1.5,
    # ears
    ear_c=(6.75, -1.2, -1.0), ear_s=0.95, ear_flare=1.0,
    # colours
    skin_col=(0.86, 0.62, 0.50), lip_col=(0.70, 0.31, 0.29), blush_col=(0.88, 0.47, 0.40), blush=0.55,
    hair_col=(0.24, 0.12, 0.07), brow_col=(0.20, 0.10, 0.06), brow_thick=1.0,
    hair_style='bun', moustache=False, lashes=1.0, lash_col=(0.05, 0.035, 0.03),
)
