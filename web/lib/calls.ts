import { computed, ref, watch, type Ref } from 'vue'
import { useRoute } from 'vue-router'
import { calling, share, type TrayTag } from './shelf'

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

/** Keeps the page title true and calls, by title and if wanted by sound, when a tray begins to wait for a person. */
export function useCalls(trays: Ref<TrayTag[]>) {
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
    const open = trays.value.find((t) => t.number === Number(route.params['number']))
    const calls = called.value.filter((n) => n !== open?.number)
    const done = share(open?.waits.progress ?? null)
    const place = open
      ? `${open.number} ${open.customer}${open.waits.for === 'machine' && done !== null ? ` ${Math.floor(done * 100)} %` : ''}`
      : 'Shelf'
    return `${calls.length > 0 ? `● ${calls.join(', ')} waits for you · ` : ''}${place} · Geschenk`
  })
  watch(title, (text) => (document.title = text), { immediate: true })
  return { soundOn, called }
}
