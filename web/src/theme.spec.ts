import { describe, expect, it } from 'vitest'

// The style sheet as it is written; what the tests are built with makes another of it.
const { readFileSync } = (await import(/* @vite-ignore */ ['node', 'fs'].join(':'))) as {
  readFileSync(path: string, as: 'utf8'): string
}
const css = readFileSync('src/style.css', 'utf8')

/** The colours of a theme as they are set. */
function palette(selector: string): Map<string, string> {
  const block = css.slice(css.indexOf(`${selector} {`))
  return new Map(
    [...block.slice(0, block.indexOf('}')).matchAll(/--([\w-]+): (#[0-9a-f]{6});/g)].map((m) => [
      m[1]!,
      m[2]!,
    ]),
  )
}

/** Contrast of two colours (WCAG 2.2, 1.4.3). */
function contrast(a: string, b: string): number {
  const light = (hex: string): number => {
    const [r, g, blue] = [1, 3, 5].map((i) => {
      const c = Number.parseInt(hex.slice(i, i + 2), 16) / 255
      return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
    })
    return 0.2126 * r! + 0.7152 * g! + 0.0722 * blue!
  }
  const [x, y] = [light(a), light(b)].sort((p, q) => q - p)
  return (x! + 0.05) / (y! + 0.05)
}

const themes = { light: ':root', dark: ":root[data-theme='dark']", contrast: ":root[data-theme='contrast']" }

describe.each(Object.entries(themes))('the %s theme', (name, selector) => {
  const colours = palette(selector)
  const least = name === 'contrast' ? 7 : 4.5

  it('has every colour', () => {
    expect([...colours.keys()].sort()).toEqual([...palette(':root').keys()].sort())
  })

  it.each(['ink', 'muted', 'accent', 'alert', 'steel', 'copper'])('%s can be read on paper', (ink) => {
    for (const ground of ['paper', 'sheet', 'canvas'])
      expect(contrast(colours.get(ink)!, colours.get(ground)!)).toBeGreaterThanOrEqual(least)
  })

  it.each(['picked', 'hover', 'amber', 'clash', 'dimension'])('%s can be told from the paper', (mark) => {
    expect(contrast(colours.get(mark)!, colours.get('canvas')!)).toBeGreaterThanOrEqual(
      name === 'contrast' ? 4.5 : 2,
    )
  })

  it('words on the accent can be read', () => {
    expect(contrast(colours.get('on-accent')!, colours.get('accent')!)).toBeGreaterThanOrEqual(least)
  })
})
