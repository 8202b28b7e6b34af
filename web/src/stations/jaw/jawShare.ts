import type { CurveKey, Relief } from '../../api/client'

type Curve = Relief['profile']

const NEAR = 1e-6
const flipped = (k: CurveKey): CurveKey => ({ ...k, at: -k.at, slope: k.slope == null ? null : -k.slope })

/** Does a share from the right ear (-1) to the left (1) say the same on both sides? */
export const isEven = (keys: CurveKey[]) =>
  keys.every((k) => keys.some((o) => Math.abs(o.at + k.at) < NEAR && Math.abs(o.value - k.value) < NEAR && Math.abs((o.slope ?? 0) + (k.slope ?? 0)) < NEAR))

/** The left half, from the chin (0) to the ear (1), with a key at the chin. */
export function fromTheChin({ keys, path }: Curve): Curve {
  const half = keys.filter((k) => k.at > -NEAR)
  const chin = path.find(([at]) => Math.abs(at) < NEAR)
  const first: CurveKey[] = half[0] && half[0].at < NEAR ? [] : [{ at: 0, value: chin?.[1] ?? 0, slope: null }]
  return { keys: [...first, ...half], path: path.filter(([at]) => at > -NEAR) }
}

/** The whole share of which this is the left half. */
export const onBothSides = (half: CurveKey[]): CurveKey[] => [
  ...half.filter((k) => k.at > NEAR).map(flipped).reverse(),
  ...half.map((k) => (k.at > NEAR ? k : { ...k, at: 0, slope: k.slope == null ? null : 0 })),
]
