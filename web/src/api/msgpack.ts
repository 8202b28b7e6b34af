import { decode } from '@msgpack/msgpack'
import { refusal } from './http'

/** msgpack gives views at any offset; typed arrays need their own aligned copy. */
export const floats = (bytes: Uint8Array) => new Float32Array(bytes.slice().buffer)
export const whole = (bytes: Uint8Array) => new Uint32Array(bytes.slice().buffer)

/** The decoded answer to a request; a refusal is thrown in the server's words. */
export async function fetchDecoded<T>(address: string, body?: unknown): Promise<T> {
  const response = await fetch(address, body === undefined ? undefined : { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) })
  if (!response.ok) throw await refusal(response)
  return decode(await response.arrayBuffer()) as T
}
