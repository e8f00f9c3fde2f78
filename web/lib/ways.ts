import type { Schemas } from '../api/client'

/** A way in: over the cable, or out of a backup that the messenger made of itself. */
export interface Way {
  /** Names it when a backup is asked for; null over the cable. */
  path: string | null
  own: Schemas['LocalBackup'] | null
}

/** What an account holds on the phone of a role, as last seen. */
export function heldOn(tray: Schemas['Tray'], move: Schemas['Move'], role: Schemas['Role']): Schemas['Holds'] | null {
  const phone = tray.phones.find((p) => p.role === role)
  return phone?.live.accounts?.find((a) => a.app === move.app)?.holds ?? null
}

/** The ways in for an account, the proposed one first; at least one, for nobody may have looked yet. */
export function waysIn(tray: Schemas['Tray'], move: Schemas['Move']): Way[] {
  const held = heldOn(tray, move, 'gives')
  const own = (held?.local_backups ?? []).map((one): Way => ({ path: one.path, own: one }))
  return held?.over_cable === false && own.length > 0 ? own : [{ path: null, own: null }, ...own]
}

/** The way that was chosen, as long as it is there. */
export function chosenWay(ways: Way[], path: string | null | undefined): Way {
  return ways.find((way) => way.path === path) ?? ways[0] ?? { path: null, own: null }
}

/** Whether somebody has to tell what opens it. */
export const isLocked = (way: Way): boolean => way.own !== null && way.own.lock !== 'open'

/** What is asked for beside the place of the account. */
export function wayAsked(way: Way, key: string | undefined): { local_backup?: string; key?: string } {
  return {
    ...(way.path === null ? {} : { local_backup: way.path }),
    ...(isLocked(way) && key !== undefined ? { key } : {}),
  }
}

/** How a messenger's own backup stands to what the phone holds now. */
export interface Age {
  /** "behind" by messages that were counted, "made_before" by the clock alone, "unknown" where nothing is known of the phone */
  is: 'newest' | 'behind' | 'made_before' | 'unknown'
  seconds: number
}

export function ageOf(own: Schemas['LocalBackup'], phoneNewestAt: string | null): Age {
  const end = own.counts?.newest_at ?? own.made_at
  if (phoneNewestAt === null || end === null) return { is: 'unknown', seconds: 0 }
  const seconds = Math.round((Date.parse(phoneNewestAt) - Date.parse(end)) / 1000)
  if (seconds > 0) return { is: own.counts === null ? 'made_before' : 'behind', seconds }
  // Made later than the newest message, it has it; what was locked shows nothing more.
  return { is: 'newest', seconds: 0 }
}
