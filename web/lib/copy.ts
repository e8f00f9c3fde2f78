import type { Schemas } from '../api/client'
import type { CopyAsked } from '../api/copies'
import { typedDay } from './format'
import { isNoDay, type FileGroup } from './scope'

/** What is taken home, as it stands on the page; days as they were typed. */
export interface CopyDraft {
  forms: string[]
  packing: string
  stick: string
  language: string
  /** ids; null for all */
  conversations: number[] | null
  groups: FileGroup[]
  text: boolean
  from: string
  to: string
  password: string
  reason: string
}

export const GROUPS: FileGroup[] = ['photos', 'videos', 'voice', 'documents', 'stickers']
/** Letters: shorter ones are tried through in no time. */
export const LEAST_PASSWORD = 8

export const newCopy = (language: string): CopyDraft => ({
  forms: ['pages'],
  packing: 'folder',
  stick: '',
  language,
  conversations: null,
  groups: [...GROUPS],
  text: true,
  from: '',
  to: '',
  password: '',
  reason: '',
})

/** What is asked of the server; null while a day is not one. */
export function copyAsked(draft: CopyDraft): CopyAsked | null {
  if (isNoDay(draft.from) || isNoDay(draft.to)) return null
  return {
    forms: [...draft.forms].sort(),
    conversations: draft.conversations,
    groups: draft.groups.length === GROUPS.length ? null : [...draft.groups].sort(),
    text: draft.text,
    from: typedDay(draft.from),
    to: typedDay(draft.to),
  }
}

/** One at a time: whoever wants another waits for it, or ends it. One that stands still is followed by the next. */
const isUnderWay = (run: Schemas['Run'] | null): boolean =>
  run !== null && ['queued', 'working', 'waiting', 'cancelling'].includes(run.state)

/** What keeps it from being taken: a key of the words; none where nothing does. */
export function copyLacks(
  draft: CopyDraft,
  copies: Schemas['Copies'],
  sum: { messages: number; bytes: number } | undefined,
): string {
  const stick = copies.sticks.find((one) => one.id === draft.stick)
  if (copies.needs_manager) return 'copy_lacks.closed'
  if (copies.copies.some((copy) => isUnderWay(copy.run))) return 'copy_lacks.busy'
  if (draft.forms.length === 0) return 'copy_lacks.need_form'
  if (sum?.messages === 0 || draft.conversations?.length === 0) return 'copy_lacks.need_some'
  if (stick === undefined) return 'copy_lacks.need_stick'
  if (sum !== undefined && sum.bytes > stick.free_bytes) return 'copy_lacks.too_large'
  if (draft.password !== '' && draft.password.length < LEAST_PASSWORD) return 'copy_lacks.password_short'
  if (copies.needs_reason && draft.reason.trim() === '') return 'copy_lacks.need_why'
  return ''
}
