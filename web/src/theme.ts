export const THEMES = { light: 'Light', dark: 'Dark', contrast: 'High contrast' } as const
export type Theme = keyof typeof THEMES

const isTheme = (name: string | null | undefined): name is Theme =>
  name !== null && name !== undefined && name in THEMES

/** The theme chosen here before; at first high contrast where the system asks for that, else light. */
export function restoreTheme(): void {
  const chosen = localStorage.getItem('theme')
  const wanted = window.matchMedia('(prefers-contrast: more)').matches ? 'contrast' : 'light'
  setTheme(isTheme(chosen) ? chosen : wanted, isTheme(chosen))
}

export function setTheme(theme: Theme, keep = true): void {
  document.documentElement.dataset.theme = theme
  if (keep) localStorage.setItem('theme', theme)
  window.dispatchEvent(new Event('themechange'))
}

export function currentTheme(): Theme {
  const shown = document.documentElement.dataset.theme
  return isTheme(shown) ? shown : 'light'
}

const known = new Map<string, string>()
window.addEventListener('themechange', () => known.clear())

/** The value of a colour of the palette, for the viewport; asked of the page once, as each question makes it work out its styles. */
export function colour(name: string): string {
  let value = known.get(name)
  if (value === undefined) {
    value = getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim()
    known.set(name, value)
  }
  return value
}
