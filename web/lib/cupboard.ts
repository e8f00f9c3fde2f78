import { reactive } from 'vue'
import type { Schemas } from '../api/client'
import { typedDay } from './format'

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
