/** Strands run along `vStrand`; `uTurn` turns them with the part that carries them. */
export const HAIR_PARS = 'uniform mat3 uTurn;'

/** Two highlights across the strands: a pale one nearer the root, a coloured one nearer the tip (Scheuermann 2004, after Marschner et al. 2003). */
export const HAIR_LIGHT = /* glsl */ `
vec3 strand = vStrand * uTurn;
vec3 T = normalize(strand - N * dot(strand, N) + 1e-4);
float tone = dot(c, vec3(0.35, 0.5, 0.15));
vec3 kick = KICK * clamp(dot(N, KICK_FROM) * 0.8 + 0.2, 0.0, 1.0) * sky;
col = c * (KEY * clamp(NL * 0.8 + 0.2, 0.0, 1.0) * lit * mix(1.0, sky, 0.5) + room(N) * bounced(sky, c) * mix(0.55, 1.0, sky) + kick * 0.9);
vec3 H = normalize(uKeyFrom + V), H2 = normalize(KICK_FROM + V);
float root = dot(normalize(T + N * 0.10), H), tip = dot(normalize(T - N * 0.16), H), rear = dot(T, H2);
float s1 = pow(max(1.0 - root * root, 0.0), 42.0), s2 = pow(max(1.0 - tip * tip, 0.0), 14.0), s3 = pow(max(1.0 - rear * rear, 0.0), 16.0);
float face = clamp(NL * 1.5 + 0.35, 0.0, 1.0) * lit * mix(0.4, 1.0, sky);
col += KEY * face * (s1 * 0.15 * vec3(1.0, 0.95, 0.88) + s2 * (c * 0.55 + 0.012)) * (0.6 + 2.0 * min(tone * 3.0, 0.6));
col += KICK * s3 * clamp(dot(N, KICK_FROM) + 0.35, 0.0, 1.0) * (c * 0.6 + 0.03) * sky;
col += room(N) * pow(1.0 - NV, 3.0) * 0.20 * sky * (c + 0.08);`
