import type { Schemas } from '../api/client'

/** Whether nothing of a run stands in the way of the next: it is done, was cancelled, or never was. */
export function isOver(run: Schemas['Run'] | null): boolean {
  return run === null || run.state === 'done' || run.state === 'cancelled'
}

type Kind = 'backup' | 'conversion' | 'restore' | 'check' | 'put_back'

/** Whether it is the turn of such a run: the server says so, by what may be begun of a move. */
export function mayBegin(move: Schemas['Move'], kind: Kind): boolean {
  return move.may.some((one) => one.act === kind)
}

/** Why it would be refused now though it is its turn; nothing where it would not. */
export function whyNotNow(move: Schemas['Move'], kind: Kind): string {
  return move.may.find((one) => one.act === kind)?.why ?? ''
}
