import type { Schemas } from '../api/client'

/** Whether nothing of a run stands in the way of the next: it is done, was cancelled, or never was. */
export function isOver(run: Schemas['Run'] | null): boolean {
  return run === null || run.state === 'done' || run.state === 'cancelled'
}
