/** Teeth and tongue: light goes into them, their wet is sharp, and they darken warmly to the back. */
const wet = (reach: string, rough: number, amount: number, lamp: number) => /* glsl */ `
const vec3 REACH = ${reach};
vec3 d = clamp((NL + REACH) / (1.0 + REACH), 0.0, 1.0);
vec3 R = reflect(-V, N);
vec3 warm = mix(vec3(0.70, 0.28, 0.20), vec3(1.0), smoothstep(0.0, 0.40, sky));
col = c * warm * (KEY * d * lit * mix(0.40, 1.0, smoothstep(0.0, 0.3, sky)) + room(N) * (0.30 + 0.70 * smoothstep(0.0, 0.5, sky)) + ${lamp.toFixed(2)} * (0.4 + 0.6 * NV));
col += fresnel(0.04, 0.5, NV) * KEY * soft(R, uKeyFrom, KEY_BOX, ${rough.toFixed(2)}, NV) * lit * ${amount.toFixed(1)} * smoothstep(0.05, 0.4, sky);`

export const TEETH_LIGHT = wet('vec3(0.45, 0.38, 0.30)', 0.3, 1.6, 0.22)
export const TONGUE_LIGHT = wet('vec3(0.40, 0.16, 0.12)', 0.36, 1.5, 0.42)
