import type { components } from '../api/schema'

type Schemas = components['schemas']
export type Stage = Schemas['Stage']
export type Verdict = Schemas['Verdict']

/** The words of the interface for the codes of the API; docs/interface.md lists them. */
export const STAGES: { stage: Stage; word: string }[] = [
  { stage: 'intake', word: 'Intake' },
  { stage: 'ready', word: 'Ready' },
  { stage: 'back_up', word: 'Back up' },
  { stage: 'look', word: 'Look' },
  { stage: 'convert', word: 'Convert' },
  { stage: 'restore', word: 'Restore' },
  { stage: 'check', word: 'Arrival check' },
  { stage: 'hand_over', word: 'Hand over' },
]

export const stageWord = (stage: Stage): string => STAGES.find((s) => s.stage === stage)?.word ?? stage

export const VERDICTS: Record<Verdict, string> = {
  missing: 'missing',
  extra: 'more than expected',
  left_out: 'left out',
  changed: 'changed as listed',
  arrived: 'arrived',
}

/** The same, short enough for a column. */
export const SHORT_VERDICTS: Record<Verdict, string> = {
  missing: 'missing',
  extra: 'extra',
  left_out: 'left out',
  changed: 'changed',
  arrived: 'arrived',
}

export const PHASES: Record<string, string> = {
  '': 'Waiting for a worker',
  listing: 'Listing files',
  pulling: 'Pulling files',
  reading: 'Reading chats',
  sealing: 'Sealing the backup',
  planning: 'Planning losses',
  writing: 'Writing the other format',
  comparing: 'Comparing message by message',
  staging: 'Staging on the phone',
  verifying: 'Verifying on the phone',
  swapping: 'Swapping in',
}

export const KINDS: Record<string, string> = {
  text: 'text',
  photo: 'photo',
  voice: 'voice',
  document: 'document',
  notice: 'notice',
  unknown: 'unknown kind',
}

export const CONVERSATIONS: Record<string, string> = {
  direct: 'direct',
  group: 'group',
  broadcast: 'broadcast list',
  notes_to_self: 'notes to self',
  unknown: 'unknown kind',
}

export const REASONS: Record<string, string> = {
  not_there: 'not on the phone',
  attachment_not_there: 'message there, file gone',
  attachment_different: 'message there, file different',
  different: 'there, but different',
  not_expected: 'not expected',
}

export const PRESENCE: Record<string, string> = {
  missing: 'file gone on the giving phone',
  empty: 'file is empty',
  refused: 'path refused',
  present: '',
}

export const FINDINGS: Record<string, string> = {
  unknown_kind: 'Messages of an unknown kind',
  unknown_state: 'Unknown state',
  unknown_flag: 'Unknown flag',
  unknown_column: 'Unknown column',
  unknown_table: 'Unknown table',
  unknown_notice: 'Unknown notice',
  unknown_conversation_kind: 'Unknown kind of conversation',
  attachment_outside: 'Attachment path that leads out of its folder',
  room_gone: 'Messages whose conversation is gone',
  person_gone: 'Person that is nowhere listed',
}

type Notice = NonNullable<Schemas['Message']['notice']>

/** A system notice as a sentence; covered, its text is left out. */
export function noticeSentence(notice: Notice): string {
  const actor = notice.actor ?? 'The owner'
  const target = notice.target ?? 'somebody'
  const text = notice.text === null ? '' : ` “${notice.text}”`
  switch (notice.kind) {
    case 'founded':
      return `${actor} founded the group${text}`
    case 'joined':
      return notice.target === null ? `${actor} joined` : `${actor} added ${target}`
    case 'left':
      return `${actor} left`
    case 'removed':
      return `${actor} removed ${target}`
    case 'made_admin':
      return `${actor} made ${target} an admin`
    case 'title_changed':
      return `${actor} changed the title${text}`
    case 'number_changed':
      return `${actor} changed the number${text}`
    default:
      return 'A notice of an unknown sort'
  }
}
