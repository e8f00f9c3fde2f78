import type { Schemas } from '../api/client'
import { keyLacks } from './keyTold'
import { say } from './say'

/** What is taken of an account: an offer of a way in; null while the phone shows none. */
export type Way = Schemas['Offer'] | null

/** What an account holds on the phone of a role, as last seen. */
export function heldOn(tray: Schemas['Tray'], move: Schemas['Move'], role: Schemas['Role']): Schemas['Holds'] | null {
  const phone = tray.phones.find((p) => p.role === role)
  return phone?.live.accounts?.find((a) => a.app === move.app)?.holds ?? null
}

/** What the ways in have of an account, what is proposed first; at least one, for nobody may have looked yet. */
export function waysIn(tray: Schemas['Tray'], move: Schemas['Move']): Way[] {
  const offers = heldOn(tray, move, 'gives')?.offers ?? []
  return offers.length > 0 ? offers : [null]
}

/**
 * The one that was chosen, as long as it is there: a backup that the messenger is just finishing is another offer when
 * it is looked at next, and the same for whoever chose it.
 */
export function chosenWay(ways: Way[], chosen: Way | undefined): Way {
  const isSame = (way: Way): boolean =>
    way !== null && way.made_at !== null && way.way === chosen?.way && way.made_at === chosen.made_at
  return ways.find((way) => way?.id === chosen?.id) ?? ways.find(isSame) ?? ways[0] ?? null
}

/** Whether somebody has to tell what opens it. */
export const isLocked = (way: Way): way is Schemas['Offer'] => way !== null && way.lock !== 'open'

/** What is to be done on the giving phone before it is taken. */
export const lackingFor = (move: Schemas['Move'], way: Way): Schemas['Point'][] =>
  move.lacking_for.find((one) => one.offer === way?.id)?.points ?? []

/** Why it can't be taken yet; '' where it can. */
export function whyNotBy(move: Schemas['Move'], way: Way, key: string | undefined, tag: string): string {
  const count = lackingFor(move, way).filter((point) => point.severity === 'blocks').length
  if (count > 0) return say('why.points', { tag, count })
  return isLocked(way) ? keyLacks(key ?? '', way.lock) : ''
}

/** What is asked for beside the place of the account. */
export function wayAsked(way: Way, key: string | undefined): { offer?: string; key?: string } {
  return {
    ...(way === null ? {} : { offer: way.id }),
    ...(isLocked(way) && key !== undefined ? { key } : {}),
  }
}

/** How what was made of the chats stands to what the phone holds now. */
export interface Age {
  /** "behind" by messages that were counted, "made_before" by the clock alone, "unknown" where nothing is known of the phone */
  is: 'newest' | 'behind' | 'made_before' | 'unknown'
  seconds: number
}

export function ageOf(offer: Schemas['Offer'], phoneNewestAt: string | null): Age {
  const end = offer.counts?.newest_at ?? offer.made_at
  if (phoneNewestAt === null || end === null) return { is: 'unknown', seconds: 0 }
  const seconds = Math.round((Date.parse(phoneNewestAt) - Date.parse(end)) / 1000)
  if (seconds > 0) return { is: offer.counts === null ? 'made_before' : 'behind', seconds }
  // Made later than the newest message, it has it; what was locked shows nothing more.
  return { is: 'newest', seconds: 0 }
}
