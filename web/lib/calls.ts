import { computed, ref, watch, type Ref } from 'vue'
import { useRoute } from 'vue-router'
import { percent } from './format'
import { say } from './say'
import { calling, share, type TrayTag } from './shelf'

/** What the pages without a tray are called. */
const PLACES: Record<string, string> = {
  shelf: 'shelf.title',
  'new-tray': 'new.title',
  'stand-in': 'desk.title',
  cupboard: 'cupboard.title',
  'from-cupboard': 'cupboard.title',
  copies: 'cupboard.title',
  against: 'against.title',
  'second-place': 'place.title',
  log: 'log.title',
  users: 'users.title',
  wall: 'wall.title',
  bench: 'bench.title',
}

/** Two soft notes, made here so that nothing has to be fetched. */
function ring(): void {
  const audio = new AudioContext()
  ;[660, 880].forEach((pitch, n) => {
    const tone = audio.createOscillator()
    const volume = audio.createGain()
    tone.frequency.value = pitch
    volume.gain.setValueAtTime(0.12, audio.currentTime + n * 0.22)
    volume.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + n * 0.22 + 0.2)
    tone.connect(volume).connect(audio.destination)
    tone.start(audio.currentTime + n * 0.22)
    tone.stop(audio.currentTime + n * 0.22 + 0.2)
  })
}

/** A tray that is not told yet may be there all the same. */
function placeOf(route: { name?: unknown; params: Record<string, unknown> }): string {
  const place = PLACES[String(route.name)]
  if (place !== undefined) return say(place)
  const number = Number(route.params['number'])
  return number > 0 ? say('tray.title', { number }) : say('nowhere.title')
}

/** Keeps the page title true and calls, by title and if wanted by sound, when a tray begins to wait for a person. */
export function useCalls(trays: Ref<TrayTag[]>, isSignedIn: Ref<boolean>) {
  const route = useRoute()
  const soundOn = ref(localStorage.getItem('geschenk.sound') === 'on')
  const called = ref<number[]>([])
  watch(soundOn, (on) => localStorage.setItem('geschenk.sound', on ? 'on' : 'off'))
  watch(trays, (now, before) => {
    // Who looks at the tray sees it already.
    const fresh = calling(before, now).filter((n) => n !== Number(route.params['number']))
    if (fresh.length === 0) return
    called.value = [...new Set([...called.value, ...fresh])]
    if (soundOn.value) ring()
  })
  watch(
    () => route.params['number'],
    (number) => {
      called.value = called.value.filter((n) => n !== Number(number))
    },
  )
  const title = computed(() => {
    if (!isSignedIn.value) return say('app.name')
    const open = trays.value.find((t) => t.number === Number(route.params['number']))
    const calls = called.value.filter((n) => n !== open?.number)
    const done = share(open?.waits.progress ?? null)
    const place = open
      ? `${open.number} ${open.customer}${open.waits.for === 'machine' && done !== null ? ` ${percent(done)}` : ''}`
      : placeOf(route)
    return calls.length > 0 ? say('app.calls', { trays: calls.join(', '), place }) : say('app.title', { place })
  })
  watch(title, (text) => (document.title = text), { immediate: true })
  return { soundOn, called }
}
