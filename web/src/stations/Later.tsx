import type { Station } from './stations'

/** A station that is not built yet says so and pretends nothing. */
export function Later({ station }: { station: Station }) {
  return (
    <section>
      <h2>{station.label}</h2>
      <p>{station.promise}</p>
      <p className="quiet">This station is not built yet. Stage, seams and poses work here as everywhere.</p>
    </section>
  )
}
