import type { Quality } from '../quality'

/** Points along the margins of the lids that shade an eye: half of them above. */
export const LID_POINTS = 28

export const EYE_PARS = /* glsl */ `
uniform vec3 uCentre;
uniform mat3 uTurn; /* from posed directions to those of the eye: x right, y up, z where it looks */
uniform vec4 uEye; /* radius, where pupil and iris end (radians), how deep the iris lies: 0 for as painted */
uniform sampler2D uRings; /* colours over the angle from the gaze */
uniform vec3 uLids[${LID_POINTS}];
uniform float uHasLids;
float toLine(vec3 p, vec3 a, vec3 b) { vec3 d = b - a; return length(p - a - d * clamp(dot(p - a, d) / max(dot(d, d), 1e-8), 0.0, 1.0)); }`

/** A ball with an iris that lies behind a cornea, shaded and wetted by its lids where they are in the pose at hand. */
export const eyeLight = (quality: Quality) => {
  const every = quality === 'fine' ? 1 : 2 // all of them are a quarter of a close-up
  const half = LID_POINTS / 2
  return /* glsl */ `
vec3 e = uTurn * (vPlace - uCentre), v = uTurn * V, n = uTurn * N, l = uTurn * uKeyFrom;
float R0 = uEye.x;
vec3 d = normalize(e);
float angle = acos(clamp(d.z, -1.0, 1.0));
float inIris = 1.0 - smoothstep(uEye.z * 0.99, uEye.z * 1.06, angle);
float ring = angle / uEye.z, fibres = 0.0, pool = 0.0;
if (angle < uEye.z * 1.08 && uEye.w > 0.0) {
  /* the ray bends at the cornea and meets the plane of the iris */
  vec3 t = refract(-v, n, 0.75);
  float z = R0 * cos(uEye.z) * uEye.w;
  vec3 h = e + t * min((z - e.z) / min(t.z, -0.2), R0 * 0.5);
  float rho = length(h.xy) / (R0 * sin(uEye.z)), a = atan(h.y, h.x);
  ring = mix(ring, rho, inIris);
  fibres = (sin(a * 41.0 + 4.0 * sin(a * 7.0)) * 0.5 + sin(a * 23.0 - 3.0 * sin(a * 5.0) + rho * 4.0) * 0.5) * smoothstep(0.30, 0.55, rho) * (1.0 - smoothstep(0.85, 1.0, rho));
  pool = dot(h.xy / (R0 * sin(uEye.z)), -normalize(l.xy + 1e-4)) * smoothstep(0.25, 0.7, rho); /* a bowl gathers light across from the key */
}
c = texture2D(uRings, vec2(clamp(ring * uEye.z / PI, 0.0, 1.0), 0.5)).rgb;
float iris = inIris * smoothstep(uEye.y / uEye.z * 0.98, uEye.y / uEye.z * 1.1, ring);
c *= 1.0 + iris * (0.26 * fibres + 0.75 * max(pool, 0.0) - 0.25 * max(-pool, 0.0));
c *= mix(1.0, 1.0 - 0.55 * smoothstep(0.72, 1.0, ring), iris);
c = mix(c, c * vec3(0.93, 0.70, 0.62), (1.0 - inIris) * smoothstep(0.52, 0.86, abs(d.x)) * 0.55); /* pink towards the corners */
float above = 1e3, below = 1e3;
if (uHasLids > 0.5) {
  for (int k = 0; k < ${half - 1}; k += ${every}) above = min(above, toLine(vPlace, uLids[k], uLids[min(k + ${every}, ${half - 1})]));
  for (int k = ${half}; k < ${LID_POINTS - 1}; k += ${every}) below = min(below, toLine(vPlace, uLids[k], uLids[min(k + ${every}, ${LID_POINTS - 1})]));
}
float u = above / R0, o = below / R0;
float shade = (1.0 - 0.66 * exp(-u * u * 30.0) - 0.12 * exp(-u * 3.0)) * (1.0 - 0.45 * exp(-o * o * 120.0));
vec3 tint = mix(vec3(0.80, 0.52, 0.46), vec3(1.0), smoothstep(0.1, 0.95, shade));
col = c * tint * shade * (KEY * clamp(NL * 0.62 + 0.38, 0.0, 1.0) * mix(0.45, 1.0, lit) * 0.86 + room(N) * 0.95);
/* the cornea is a smaller ball than the eye: it gathers the window into a point of light */
vec3 bulge = normalize(mix(n, normalize(e - vec3(0.0, 0.0, R0 * 0.42)), inIris));
vec3 R = reflect(-v, bulge) * uTurn;
float seen = smoothstep(0.10, 0.30, shade);
col += pane(R, uKeyFrom, vec2(0.19, 0.25), 0.035) * mix(0.35, 1.05, inIris) * KEY * seen;
col += pane(R, normalize(vec3(0.62, -0.30, 0.72)), vec2(0.30, 0.16), 0.20) * 0.05 * vec3(1.0, 0.92, 0.80) * seen;
col += fresnel(0.04, 0.5, NV) * room(R) * 0.8 * shade;
col += KEY * 0.34 * exp(-pow((o - 0.028) / 0.016, 2.0)) * clamp(NL * 0.6 + 0.5, 0.0, 1.0) * smoothstep(0.2, 0.5, u); /* the wet line */`
}
