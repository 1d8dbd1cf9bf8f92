import { reach, reason } from './client'

/** Fetches a file and hands it to the browser to be kept; answers why it could not be had, or nothing. */
export async function saveAs(url: string, otherwise: string): Promise<string | null> {
  const response = await reach(url)
  if (!response.ok) return reason(await response.json().catch(() => null))
  const name = /filename="?([^";]+)/.exec(response.headers.get('content-disposition') ?? '')?.[1] ?? otherwise
  give(name, await response.blob())
  return null
}

/** Hands a file to the browser to be kept. */
export function give(name: string, content: Blob): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(content)
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}
