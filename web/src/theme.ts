export type Theme = 'light' | 'dark'

/** The theme chosen here before; light at first. */
export function restoreTheme(): void {
  setTheme(localStorage.getItem('theme') === 'dark' ? 'dark' : 'light')
}

export function setTheme(theme: Theme): void {
  document.documentElement.dataset.theme = theme
  localStorage.setItem('theme', theme)
  window.dispatchEvent(new Event('themechange'))
}

export function currentTheme(): Theme {
  return document.documentElement.dataset.theme === 'dark' ? 'dark' : 'light'
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
