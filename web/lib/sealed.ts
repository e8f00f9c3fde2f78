import type { Schemas } from '../api/client'

/** The locked backup that an account's chats lie in on the giving phone; null where they lie open. */
export function sealedOn(
  tray: Schemas['Tray'],
  move: Schemas['Move'],
): { bytes: number; made_at: string | null } | null {
  const giving = tray.phones.find((p) => p.role === 'gives')
  return giving?.live.accounts?.find((a) => a.app === move.app)?.holds?.sealed ?? null
}

/** What an account holds on the phone of a role, as last seen. */
export function heldOn(tray: Schemas['Tray'], move: Schemas['Move'], role: Schemas['Role']): Schemas['Holds'] | null {
  const phone = tray.phones.find((p) => p.role === role)
  return phone?.live.accounts?.find((a) => a.app === move.app)?.holds ?? null
}
