import { deflateSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { numbers, rising, unpacked } from './packed'

/** As the server packs. */
function packed(plain: Uint8Array): Uint8Array {
  const count = plain.length / 4
  const planes = new Uint8Array(plain.length)
  for (let k = 0; k < 4; k++) for (let i = 0; i < count; i++) planes[k * count + i] = plain[i * 4 + k]!
  return plain.length ? deflateSync(planes) : plain
}

/** Bytes within a larger buffer and not aligned, as they come over the link. */
function within(bytes: Uint8Array): Uint8Array {
  const larger = new Uint8Array(bytes.length + 7)
  larger.set(bytes, 3)
  return larger.subarray(3, 3 + bytes.length)
}

const bytes = (numbers: Float32Array | Uint32Array): Uint8Array => new Uint8Array(numbers.buffer)

describe('packed numbers', () => {
  it('come out to the last bit', () => {
    const plain = new Float32Array([0, -0, 1.5, Number.MIN_VALUE, -1e30, Infinity, 12.34567])
    expect(numbers(within(packed(bytes(plain))))).toEqual(bytes(plain))
    expect(numbers(new Uint8Array())).toHaveLength(0)
  })

  it('come out where they rise and fall, to the largest there is', () => {
    const plain = [0, 1, 2, 70_000, 3, 0, 4_294_967_295, 0]
    const steps = new Uint32Array(plain.map((n, i) => n - (i ? plain[i - 1]! : 0)))
    const back = rising(within(packed(bytes(steps))))
    expect([...new Uint32Array(back.buffer, back.byteOffset, back.length / 4)]).toEqual(plain)
  })

  it('leaves what has no answer, and bodies that come without geometry', () => {
    expect(unpacked(null)).toBeNull()
    const none = within(new Uint8Array())
    const same = { positions: none, normals: none, edgePoints: none, triangles: none, same: true, name: 'b' }
    expect(unpacked({ bodies: [same as never], revision: 3 })).toEqual({ bodies: [same], revision: 3 })
    expect(rising(none)).toHaveLength(0)
  })
})
