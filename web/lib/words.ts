import type { components } from '../api/schema'
import { has, say, word } from './say'

type Schemas = components['schemas']
export type Stage = Schemas['Stage']
export type Verdict = Schemas['Verdict']
/** What all conversations are looked through for: a kind, or words in their texts. */
export type Across = Schemas['ByKind'] | 'texts'
export const ACROSS: Across[] = ['photos', 'videos', 'voice', 'documents', 'links', 'places', 'texts']

/** The eight stages in their order; the first two and the last are the tray's, the five between each account's. */
export const STAGES: Stage[] = ['intake', 'ready', 'back_up', 'choose', 'convert', 'restore', 'check', 'hand_over']
export const MOVE_STAGES: Stage[] = ['back_up', 'choose', 'convert', 'restore', 'check']

/** Where chats are only backed up, nothing is converted or restored; what is kept was backed up once. */
const STAGES_OF: Record<Schemas['Errand'], Stage[]> = {
  move: MOVE_STAGES,
  only_back_up: ['back_up', 'choose'],
  bring_kept: ['choose', 'convert', 'restore', 'check'],
  import: [],
}
export const moveStages = (errand: Schemas['Errand']): Stage[] => STAGES_OF[errand]
export const stagesOf = (errand: Schemas['Errand']): Stage[] =>
  STAGES.filter((stage) => !isMoveStage(stage) || moveStages(errand).includes(stage)).filter(
    // No phone is in it that could be made ready.
    (stage) => stage !== 'ready' || errand !== 'import',
  )

export const isMoveStage = (stage: Stage): boolean => MOVE_STAGES.includes(stage)
/** Where nothing is brought anywhere there is nothing to choose: the chats are only looked at. */
export const stageWord = (stage: Stage, errand: Schemas['Errand'] = 'move'): string =>
  stage === 'choose' && errand === 'only_back_up' ? say('stage.look') : say(`stage.${stage}`)
export const kindWord = (kind: string): string => word('kind', kind)
export const platformWord = (platform: Schemas['Platform']): string => (platform === 'ios' ? 'iOS' : 'Android')

/** What a damaged database is listed with: these are losses, not things carried along. */
export const isDamage = (code: string): boolean => has(`damage.${code}`)

type Notice = NonNullable<Schemas['Message']['notice']>

function lifetime(seconds: string): string {
  const hours = Math.round(Number(seconds) / 3600)
  if (hours === 0) return say('notice.for_good')
  return hours >= 24 ? say('notice.days', { n: Math.round(hours / 24) }) : say('notice.hours', { n: hours })
}

/** A system notice as a sentence; covered, its text is left out. */
export function noticeSentence(notice: Notice): string {
  const kind = notice.kind === 'joined' && notice.target !== null ? 'added' : notice.kind
  const key = `notice.${kind}`
  if (!has(key)) return say('notice.unknown')
  const text =
    notice.text === null
      ? ''
      : kind === 'timer_changed'
        ? lifetime(notice.text)
        : ` ${say('notice.quoted', { text: notice.text })}`
  return say(key, {
    actor: notice.actor ?? say('notice.owner'),
    target: notice.target ?? say('notice.somebody'),
    text,
  })
}
