import { onBeforeUnmount, ref, type Ref } from 'vue'
import { api } from '../api/client'

/** Milliseconds: how often a page says that it is there still, and after how long unheard what it shows has ended. */
const STAYS_EVERY = 20_000
const ENDS_AFTER = 60_000

/**
 * What a page has uncovered: a lease that it keeps as long as it is there. What it shows is covered as soon as somebody
 * wishes it, the server has ended it, or the server was not heard of for a minute: it has ended it by then.
 */
export function useLease(): {
  isUncovered: Ref<boolean>
  /** @param lease what the server calls it; null where it was covered again */
  hold: (lease: string | null) => void
  /** Covers at once, and tells the server after. */
  end: () => void
} {
  const isUncovered = ref(false)
  let held: string | null = null
  let heardAt = 0
  let clock: ReturnType<typeof setInterval> | undefined
  const path = (id: string) => ({ params: { path: { id } } })

  async function stay(): Promise<void> {
    const id = held
    if (id === null) return
    try {
      const { data } = await api.PUT('/api/uncoverings/{id}', path(id))
      if (held !== id) return
      if (data?.covered !== false) forget()
      else heardAt = Date.now()
    } catch {
      if (held === id && Date.now() - heardAt > ENDS_AFTER) forget()
    }
  }
  function forget(): void {
    held = null
    isUncovered.value = false
    clearInterval(clock)
  }
  function hold(lease: string | null): void {
    forget()
    if (lease === null) return
    held = lease
    heardAt = Date.now()
    isUncovered.value = true
    clock = setInterval(() => void stay(), STAYS_EVERY)
  }
  function end(): void {
    const id = held
    forget()
    // Also while the page goes away; what can't be told ends by itself.
    if (id !== null) api.DELETE('/api/uncoverings/{id}', { ...path(id), keepalive: true }).catch(() => undefined)
  }
  window.addEventListener('pagehide', end)
  onBeforeUnmount(() => {
    window.removeEventListener('pagehide', end)
    end()
  })

  return { isUncovered, hold, end }
}
