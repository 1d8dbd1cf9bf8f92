let under = 0

function tell(change: number): void {
  under += change
  const page = globalThis.document?.documentElement
  if (page) page.dataset.busy = String(under)
}

/** Something that the page waits for. How many there are stands on the document: whoever drives the page knows when it is at rest. */
export async function busy<T>(work: Promise<T>): Promise<T> {
  tell(1)
  try {
    return await work
  } finally {
    tell(-1)
  }
}
