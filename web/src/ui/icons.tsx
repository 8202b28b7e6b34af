import type { ReactNode } from 'react'

/** Signs of the stage's tools: strokes of one width on a square of twenty. */
const DRAWN = {
  wires: <path d="M7 2.5v15M13 2.5v15M2.5 7h15M2.5 13h15" />,
  weights: (
    <>
      <circle cx="10" cy="10" r="7.2" />
      <circle cx="10" cy="10" r="4" />
      <circle cx="10" cy="10" r="1" fill="currentColor" />
    </>
  ),
  bones: (
    <>
      <path d="M4.2 15.8 16 4" />
      <circle cx="4.2" cy="15.8" r="1.9" />
      <path d="M13.2 3.6 16.4 3.6 16.4 6.8" />
    </>
  ),
  glass: (
    <>
      <circle cx="7.6" cy="10" r="5.2" />
      <circle cx="12.4" cy="10" r="5.2" />
    </>
  ),
  smooth: <path d="M2.6 14.5c2.6-9.4 12.2-9.4 14.8 0" />,
  dark: <path d="M15.8 12.2A6.6 6.6 0 0 1 8 3.8a6.6 6.6 0 1 0 7.8 8.4Z" />,
  parts: <path d="m10 2.8 7 3.6-7 3.6-7-3.6 7-3.6ZM3 10l7 3.6 7-3.6M3 13.6l7 3.6 7-3.6" />,
  still: (
    <>
      <rect x="2.6" y="5.4" width="14.8" height="10.4" rx="1.6" />
      <circle cx="10" cy="10.6" r="2.8" />
      <path d="M7 5.2 8 3.4h4l1 1.8" />
    </>
  ),
} satisfies Record<string, ReactNode>

export type IconName = keyof typeof DRAWN

export function Icon({ name }: { name: IconName }) {
  return (
    <svg width="18" height="18" viewBox="0 0 20 20" fill="none" stroke="currentColor" strokeWidth="1.5" strokeLinecap="round" strokeLinejoin="round" aria-hidden>
      {DRAWN[name]}
    </svg>
  )
}
