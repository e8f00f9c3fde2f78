import { onMounted, onUnmounted, type Ref } from 'vue'

type Keys = { [key: string]: (() => void) | ((digit: number) => void) } & { digit?: (digit: number) => void }

/** True while somebody types, when single keys must stay letters. */
function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))
  )
}

/** A dialog or menu that is open has the keys to itself. */
const isBehind = (): boolean => document.querySelector('.v-overlay--active .v-overlay__content') !== null

/** Single keys for as long as the component is there. "digit" gets 1 to 9 where no own key is given. */
export function useKeys(keys: Keys, enabled?: Ref<boolean>): void {
  const listen = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return
    if (enabled?.value === false || isBehind()) return
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
