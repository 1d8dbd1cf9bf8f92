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

/** The value of a colour of the palette, for the viewport. */
export function colour(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim()
}
