import { reactive } from 'vue'
import type { Schemas } from '../api/client'
import { dateTime, typedDay } from './format'
import { say } from './say'

const FIRST = { words: '', shown: 'kept', sorted_by: 'taken', descending: true, page: 1 } as const

/** What was looked for last in the cupboard: whoever comes back from one backup is where they were. */
export const asked = reactive<{
  words: string
  shown: Schemas['Shown']
  sorted_by: Schemas['SortedBy']
  descending: boolean
  page: number
}>({ ...FIRST })

/** Whoever signs in next is somebody else. */
export function forgetAsked(): void {
  Object.assign(asked, FIRST)
}

/** Words as the server takes them: a day that somebody typed is told as it is told everywhere. */
export function told(words: string): string {
  return words
    .trim()
    .split(/\s+/)
    .map((word) => typedDay(word) ?? word)
    .join(' ')
}

/** Whole days from now until the end of a last day; less than 0 once it is over. */
export function daysLeft(until: string, now: number): number {
  return Math.floor((Date.parse(until) - now) / 86_400_000)
}

/** Whether it is there: locked by its customer or not. */
export function isThere(state: Schemas['InCupboard']['state']): boolean {
  return state === 'kept' || state === 'locked'
}

/** How the copy at the second place stands; nothing where there is no such place. */
export function copyThere(one: Schemas['FromCupboard']): string {
  const { copy } = one
  if (!isThere(one.row.state)) {
    if (copy === null) return ''
    return copy.gone_at === null ? say('place.one_owed') : say('place.one_gone', { at: dateTime(copy.gone_at) })
  }
  if (!one.has_place) return ''
  if (copy === null) return say('place.one_alone')
  return copy.is_whole
    ? say('place.one_there', { at: dateTime(copy.placed_at), read: dateTime(copy.read_at) })
    : say('place.one_broken')
}
