/** Surfaces that need little: wool, an eye not painted in rings, and what nothing is known of. */

/** Wool swallows light that meets it straight and takes it up at its edge. */
export const CLOTH_LIGHT = /* glsl */ `
float wrapped = clamp(NL * 0.75 + 0.25, 0.0, 1.0);
col = c * (KEY * wrapped * wrapped * mix(0.12, 1.0, lit) * mix(0.5, 1.0, sky) + room(N) * bounced(sky, c) * sky + KICK * clamp(dot(N, KICK_FROM) * 0.8 + 0.2, 0.0, 1.0) * sky * 0.8);
col += (c * 0.8 + 0.02) * (room(N) + KEY * lit * clamp(NL + 0.4, 0.0, 1.0)) * pow(1.0 - NV, 2.0) * sky * 0.55;`

/** What nothing is known of: matt, with a trace of gloss. */
export const MATT_LIGHT = /* glsl */ `
col = c * (KEY * clamp(NL * 0.85 + 0.15, 0.0, 1.0) * lit * mix(1.0, sky, 0.4) + room(N) * bounced(sky, c) + KICK * clamp(dot(N, KICK_FROM), 0.0, 1.0) * sky * 0.8);
col += 0.03 * KEY * soft(reflect(-V, N), uKeyFrom, KEY_BOX, 0.55, NV) * lit;`

/** An eye that is not painted in rings is shown as it came, with a window on it. */
export const BALL_LIGHT = /* glsl */ `
${MATT_LIGHT}
col += pane(reflect(-V, N), uKeyFrom, vec2(0.19, 0.25), 0.035) * 0.5 * KEY * lit;`
