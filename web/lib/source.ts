import type { Schemas } from '../api/client'
import { say } from './say'

/** What chats come from, as it is called beside the phone that receives: the other phone's tag, or a kept backup's tray. */
export function sourceName(tray: Schemas['Tray'], move: Schemas['Move'] | null): string {
  const giving = tray.phones.find((p) => p.role === 'gives')
  if (giving) return giving.tag
  return move?.backup ? say('source.kept', { tray: move.backup.tray }) : ''
}
