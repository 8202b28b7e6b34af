/** The largest of some differences by part, as the next 1, 2 or 5 times a power of ten: what the full colour stands for. */
export function roundTop(differences: Record<string, Float32Array>): number {
  const largest = Math.max(...Object.values(differences).map((d) => d.reduce((a, b) => Math.max(a, b), 0)))
  const tens = 10 ** Math.floor(Math.log10(Math.max(largest, 0.1)))
  return tens * ([1, 2, 5, 10].find((k) => k * tens >= largest - 1e-9) ?? 10)
}
