import { isMoveStage, type Stage } from './words'

/** The address of a stage; the five between are those of one account. */
export function address(tray: number, stage: Stage, move?: number): string {
  return isMoveStage(stage) ? `/trays/${tray}/accounts/${move ?? 1}/${stage}` : `/trays/${tray}/${stage}`
}
