import { onMounted, onUnmounted } from 'vue'

type Keys = { [key: string]: (() => void) | ((digit: number) => void) } & { digit?: (digit: number) => void }

/** True while somebody types, when single keys must stay letters. */
function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))
  )
}

/** Single keys for as long as the component is there. "digit" gets 1 to 9 where no own key is given. */
export function useKeys(keys: Keys): void {
  const listen = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return
    const act = keys[event.key] as (() => void) | undefined
    if (act && event.key !== 'digit') {
      event.preventDefault()
      act()
    } else if (keys.digit && /^[1-9]$/.test(event.key)) {
      event.preventDefault()
      keys.digit(Number(event.key))
    }
  }
  onMounted(() => window.addEventListener('keydown', listen))
  onUnmounted(() => window.removeEventListener('keydown', listen))
}
