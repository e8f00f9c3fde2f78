import { reactive, watch } from 'vue'
import type { Schemas } from '../api/client'
import { typedDay } from './format'

type Row = Schemas['Conversation']
export type FileGroup = Schemas['FileGroup']
/** Months in which nothing was said. */
export const QUIET = [3, 6, 12, 24, 60]

/** What is left out, as it stands on the page; days as they were typed. */
export interface ScopeDraft {
  groups: FileGroup[]
  conversations: number[]
  from: string
  to: string
  merges: boolean
  /** what a trial brings first: nothing, so many of each conversation, or one of them by its id */
  trial: Trial
  /** whether people's names go into the receiving phone's address book */
  names: boolean
}
export type Trial = null | { newest: number } | { conversation: number }
/** Messages of each conversation that a trial may bring. */
export const TRIALS = [20, 100]

/** A day as one types it, of one that the server told. */
const shown = (day: string | null): string => (day === null ? '' : day.split('-').reverse().map(Number).join('.'))

export const draftOf = (scope: Schemas['Scope']): ScopeDraft => ({
  groups: [...scope.groups],
  conversations: [...scope.conversations],
  from: shown(scope.from),
  to: shown(scope.to),
  merges: scope.merges,
  trial: trialOf(scope.trial_conversation, scope.trial_newest),
  names: scope.names,
})

const trialOf = (conversation: number | null, newest: number | null): Trial => {
  if (conversation !== null) return { conversation }
  return newest === null ? null : { newest }
}

/** Whether something stands in a field for a day that is none. */
export const isNoDay = (typed: string): boolean => typed.trim() !== '' && typedDay(typed) === null

/** What is asked of the server; null while a day is not one. */
export function askedOf(draft: ScopeDraft): Schemas['NewScope'] | null {
  if (isNoDay(draft.from) || isNoDay(draft.to)) return null
  return {
    groups: [...draft.groups].sort(),
    conversations: [...draft.conversations].sort((a, b) => a - b),
    from: typedDay(draft.from),
    to: typedDay(draft.to),
    merges: draft.merges,
    names: draft.names,
    trial_conversation: draft.trial !== null && 'conversation' in draft.trial ? draft.trial.conversation : null,
    trial_newest: draft.trial !== null && 'newest' in draft.trial ? draft.trial.newest : null,
  }
}

export const isSame = (a: ScopeDraft, b: ScopeDraft): boolean =>
  JSON.stringify(askedOf(a) ?? a) === JSON.stringify(askedOf(b) ?? b)

export type Rule = { is: 'archived' } | { is: 'empty' } | { is: 'quiet'; months: number }

/** Conversations that a rule picks. */
export function byRule(rows: Row[], rule: Rule, now: Date): number[] {
  const since = new Date(now)
  if (rule.is === 'quiet') since.setMonth(since.getMonth() - rule.months)
  const picks = (row: Row): boolean => {
    if (rule.is === 'archived') return row.archived
    if (rule.is === 'empty') return row.messages === 0
    return row.last_at !== null && Date.parse(row.last_at) < since.getTime()
  }
  return rows.filter(picks).map((row) => row.id)
}

/** Leaves out what the shop usually leaves out, beside what is left out already. */
export function withHabit(draft: ScopeDraft, habit: Schemas['Habit'], rows: Row[], now: Date): ScopeDraft {
  const rules: Rule[] = []
  if (habit.archived) rules.push({ is: 'archived' })
  if (habit.empty) rules.push({ is: 'empty' })
  if (habit.quiet_months !== null) rules.push({ is: 'quiet', months: habit.quiet_months })
  return {
    ...draft,
    groups: [...new Set([...draft.groups, ...habit.groups])],
    conversations: [...new Set([...draft.conversations, ...rules.flatMap((rule) => byRule(rows, rule, now))])],
  }
}

export type Order = 'newest' | 'size' | 'messages' | 'name'

export function ordered(rows: Row[], order: Order): Row[] {
  const compare: Record<Order, (a: Row, b: Row) => number> = {
    newest: () => 0,
    size: (a, b) => b.attachment_bytes - a.attachment_bytes,
    messages: (a, b) => b.messages - a.messages,
    name: (a, b) => (a.title ?? '').localeCompare(b.title ?? ''),
  }
  return [...rows].sort(compare[order])
}

const keyOf = (at: { number: number; place: number }): string => `geschenk.scope.${at.number}.${at.place}`

/** The draft of an account: kept while somebody looks elsewhere, until it is chosen. */
export function keptDraft(at: { number: number; place: number }, scope: Schemas['Scope']): ScopeDraft {
  let kept: Partial<ScopeDraft> = {}
  try {
    kept = (JSON.parse(sessionStorage.getItem(keyOf(at)) ?? 'null') as Partial<ScopeDraft> | null) ?? {}
  } catch {
    kept = {}
  }
  const draft = reactive<ScopeDraft>({ ...draftOf(scope), ...kept })
  watch(draft, (now) => sessionStorage.setItem(keyOf(at), JSON.stringify(now)))
  return draft
}

export const forgetScope = (at: { number: number; place: number }): void => sessionStorage.removeItem(keyOf(at))
