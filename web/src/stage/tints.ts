const RULES = 0.99 // of the vertices that differ set the scale: a stray one does not take the colour from all others
const DIFFERS = 1e-3 // mm or %

/** How large some differences by part are, as the next 1, 2 or 5 times a power of ten: what the full colour stands for. */
export function roundTop(differences: Record<string, Float32Array>): number {
  const differing = Object.values(differences)
    .flatMap((d) => [...d.filter((x) => x > DIFFERS)])
    .sort((a, b) => a - b)
  const ruling = differing[Math.ceil(RULES * differing.length) - 1] ?? 0
  const tens = 10 ** Math.floor(Math.log10(Math.max(ruling, 0.1)))
  return tens * ([1, 2, 5, 10].find((k) => k * tens >= ruling - 1e-6) ?? 10)
}
