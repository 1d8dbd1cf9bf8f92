import { inflateSync } from 'fflate'
import type { components } from './schema'

type BodyMessage = components['schemas']['BodyMessage']

const wide = 4

/** Four-byte numbers as they were before the server packed them: see the server's Packed. */
export function numbers(packed: Uint8Array): Uint8Array {
  if (packed.length === 0) return new Uint8Array()
  const planes = inflateSync(packed)
  const count = planes.length / wide
  const plain = new Uint8Array(planes.length)
  for (let k = 0; k < wide; k++) for (let i = 0; i < count; i++) plain[i * wide + k] = planes[k * count + i]!
  return plain
}

/** The same for numbers that came as differences, modulo 2³². */
export function rising(packed: Uint8Array): Uint8Array {
  const plain = numbers(packed)
  const all = new Uint32Array(plain.buffer, plain.byteOffset, plain.length / wide)
  for (let i = 1; i < all.length; i++) all[i] = (all[i]! + all[i - 1]!) >>> 0
  return plain
}

/** Whatever has bodies, with their geometry as plain numbers. */
export function unpacked<T extends { bodies: BodyMessage[] } | null>(message: T): T {
  return message && { ...message, bodies: message.bodies.map(body) }
}

const body = (b: BodyMessage): BodyMessage => ({
  ...b,
  positions: numbers(b.positions),
  normals: numbers(b.normals),
  edgePoints: numbers(b.edgePoints),
  triangles: rising(b.triangles),
})
