import { scaleLinear, type ScaleLinear } from 'd3-scale'
import { line } from 'd3-shape'

/** The size of a chart and its margins, in its own units. */
export const WIDTH = 560
export const HEIGHT = 210
export const LEFT = 58
export const BELOW = 26
export const ABOVE = 10
export const RIGHT = 12

export interface Axis {
  scale: ScaleLinear<number, number>
  ticks: { at: number; label: string }[]
}

/** An axis over some values, with a little room, and ticks at round numbers. */
export function axis(values: number[], from: number, to: number, room = 0.05, ticks = 6): Axis {
  const seen = values.filter(Number.isFinite)
  const [low, high] = seen.length > 0 ? [Math.min(...seen), Math.max(...seen)] : [0, 1]
  const spare = (high - low) * room || Math.abs(high) * 0.1 || 1
  const scale = scaleLinear([low - spare, high + spare], [from, to])
  return {
    scale,
    ticks: scale.ticks(ticks).map((t) => ({ at: scale(t), label: scale.tickFormat(ticks)(t) })),
  }
}

/** A line through points; it breaks where one is missing. */
export function path(points: { x: number; y: number | null }[]): string {
  return (
    line<{ x: number; y: number | null }>()
      .defined((p) => p.y !== null)
      .x((p) => p.x)
      .y((p) => p.y!)(points) ?? ''
  )
}

/** A table as CSV (RFC 4180). */
export const csv = (rows: (string | number | null)[][]): string =>
  rows
    .map((row) =>
      row
        .map((cell) => {
          const text = cell === null ? '' : String(cell)
          return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
        })
        .join(','),
    )
    .join('\r\n')

/** The cells of a table that was copied from somewhere: tabs or commas, quoted or not. */
export function cells(text: string): string[][] {
  const separator = text.includes('\t') ? '\t' : text.includes(';') && !text.includes(',') ? ';' : ','
  const rows: string[][] = [[]]
  let [cell, quoted] = ['', false]
  for (let i = 0; i <= text.length; i++) {
    const c = text[i]
    if (quoted) {
      if (c === '"' && text[i + 1] === '"') {
        cell += '"'
        i++
      } else if (c === '"' || c === undefined) quoted = false
      else cell += c
    } else if (c === '"' && cell === '') quoted = true
    else if (c === separator || c === '\n' || c === undefined) {
      rows.at(-1)!.push(cell.trim())
      cell = ''
      if (c === '\n') rows.push([])
    } else if (c !== '\r') cell += c
  }
  return rows.filter((r) => r.some((c) => c !== ''))
}
