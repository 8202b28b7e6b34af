import { createElement, lazy, useState, type ComponentType } from 'react'

/**
 * A component that is loaded when it is first shown. `load` fetches it before that: then it is drawn at once, where React, having
 * shown that something is on its way, would wait 300 ms before it shows the next thing.
 */
export function later<P extends object>(fetched: () => Promise<ComponentType<P>>) {
  let found: ComponentType<P> | null = null
  const load = () => fetched().then((component) => (found = component))
  const Lazy = lazy(() => load().then((component) => ({ default: component }))) as unknown as ComponentType<P>
  function Later(props: P) {
    const [shown] = useState<{ as: ComponentType<P> }>(() => ({ as: found ?? Lazy })) // another one would begin anew
    return createElement(shown.as, props)
  }
  return Object.assign(Later, { load })
}
