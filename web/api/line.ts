import { computed, reactive } from 'vue'

/**
 * The one place that knows whether the server answers. What is asked again and again tells it here, so that a page can
 * say since when what it shows is old, and that steadily.
 */
type Trouble = 'gone' | 'troubled'

/** Milliseconds after which a failure that was not repeated counts no more: nobody asks for that any longer. */
const FORGET = 15_000

const failing = reactive(new Map<string, { trouble: Trouble; at: number }>())
const state = reactive({ lastGood: 0 })
/** What was ever answered: of anything else nothing is shown that could be old. */
const answered = new Set<string>()

export function heard(path: string): void {
  answered.add(path)
  failing.delete(path)
  if (failing.size === 0) state.lastGood = Date.now()
}

export function failed(path: string, trouble: Trouble): void {
  failing.set(path, { trouble, at: Date.now() })
}

export function forgetOldFailures(now = Date.now()): void {
  for (const [path, failure] of [...failing]) if (now - failure.at > FORGET) failing.delete(path)
}

/** What is wrong with the line, and when all was well last; null while it is well. */
export const line = computed<{ trouble: Trouble; since: number | null } | null>(() => {
  if (failing.size === 0) return null
  const isGone = [...failing.values()].some((f) => f.trouble === 'gone')
  const isShown = [...failing.keys()].every((path) => answered.has(path))
  return { trouble: isGone ? 'gone' : 'troubled', since: state.lastGood === 0 || !isShown ? null : state.lastGood }
})
