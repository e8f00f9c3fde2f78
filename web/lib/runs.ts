import type { Schemas } from '../api/client'

/** Whether nothing of a run stands in the way of the next: it is done, was cancelled, or never was. */
export function isOver(run: Schemas['Run'] | null): boolean {
  return run === null || run.state === 'done' || run.state === 'cancelled'
}

type Act =
  | 'backup'
  | 'conversion'
  | 'restore'
  | 'check'
  | 'put_back'
  | 'keep'
  | 'lock'
  | 'unlock'
  | 'leave_out'
  | 'take_in'
  | 'bring_rest'
  | 'bring_missing'
  | 'compare_by_eye'
  | 'hand_over'
  | 'turn'
  | 'correct'
  | 'withdraw'
  | 'print_labels'
  | 'keep_until'
  | 'erase'
  | 'verify'
  | 'reopen'

/** Whether it is its turn: the server says so, with each tray and each of its moves. */
export function mayBegin(of: { may: Schemas['May'][] }, act: Act): boolean {
  return of.may.some((one) => one.act === act)
}

/** Why it would be refused now though it is its turn; nothing where it would not. */
export function whyNotNow(of: { may: Schemas['May'][] }, act: Act): string {
  return of.may.find((one) => one.act === act)?.why ?? ''
}
