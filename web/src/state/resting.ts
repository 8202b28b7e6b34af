const PATIENCE = 400 // ms

/** Waits until the hand rests, before something is asked for that takes the machine a while; stops where it is no longer wanted. */
export const resting = (signal: AbortSignal) =>
  new Promise<void>((done, stop) => {
    const waiting = setTimeout(done, PATIENCE)
    signal.addEventListener('abort', () => {
      clearTimeout(waiting)
      stop(signal.reason as Error)
    })
  })
