import { onUnmounted, watch, type Ref } from 'vue'

/** As long as a session lasts that nobody uses: src/Security/SignIns.php. */
export const IDLE_MS = 30 * 60_000
const LOOKED_EVERY_MS = 10_000
const TOUCHES = ['pointerdown', 'keydown', 'wheel', 'touchstart'] as const

/**
 * Calls when nobody has touched the page for half an hour. The page asks the server all the time, so that only it can
 * tell whether somebody is there.
 */
export function useIdle(isOn: Ref<boolean>, whenIdle: () => void): void {
  let touchedAt = Date.now()
  const touch = () => (touchedAt = Date.now())
  TOUCHES.forEach((name) => window.addEventListener(name, touch, { capture: true, passive: true }))
  watch(isOn, touch)
  const look = setInterval(() => {
    if (isOn.value && Date.now() - touchedAt > IDLE_MS) {
      touch()
      whenIdle()
    }
  }, LOOKED_EVERY_MS)
  onUnmounted(() => {
    clearInterval(look)
    TOUCHES.forEach((name) => window.removeEventListener(name, touch, { capture: true }))
  })
}
