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
  packing: 'Packing the backup',
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
  video: 'video',
  round_note: 'round note',
  voice: 'voice note',
  audio: 'sound',
  document: 'document',
  sticker: 'sticker',
  animation: 'animation',
  place: 'place',
  live_place: 'live place',
  contact_card: 'contact card',
  poll: 'poll',
  call: 'call',
  catalogue_item: 'catalogue item',
  notice: 'notice',
  deleted: 'deleted message',
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
  out_of_order: 'there, but in another place of the conversation',
  not_expected: 'not expected',
  copy_not_there: 'a copy of it is not on the phone',
}

export const PRESENCE: Record<string, string> = {
  missing: 'file gone on the giving phone',
  empty: 'file is empty',
  unreadable: 'file can’t be read',
  wrong_type: 'not the type it says',
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
  conversation_twice: 'Conversation that is there twice',
  person_gone: 'Person that is nowhere listed',
  person_twice: 'Person that is listed twice',
  label_gone: 'Label that is nowhere listed',
  unknown_edition: 'Unknown edition',
  value_absent: 'Value that is not there',
  bytes_behind_database: 'Bytes behind the end of the database',
  unknown_rank: 'Unknown rank in a group',
  unknown_detail: 'Unknown detail',
  mention_misplaced: 'Mention that does not fit its text',
  vote_without_answer: 'Vote for an answer that is gone',
  time_zero: 'Sent at the beginning of time',
  time_before_1970: 'Sent before 1970',
  time_in_future: 'Sent in the future',
}

/** What a damaged database is listed with; these are losses, not things carried along. */
export const DAMAGES: Record<string, string> = {
  rows_lost: 'rows that can’t be read any more',
  parts_lost: 'attachments, reactions or receipts lost in a conversation',
  row_unreadable: 'rows that hold something impossible',
  value_unreadable: 'single values that can’t be read',
  preview_unreadable: 'small pictures that can’t be read',
  file_unreadable: 'files the phone could not hand over',
  log_cut: 'end of its newest changes missing',
  pages_unreadable: 'damaged pages',
  log_pages_unreadable: 'damaged pages of its newest changes',
  loss_uncounted: 'damage that could not be counted to the end',
  damage_mended: 'damage that cost nothing',
}

/** What becomes of what the receiving side can't hold. */
export const OUTCOMES: Record<Schemas['Loss']['outcome'], string> = {
  changed: 'changed',
  left_out: 'left out',
  noticed: 'left out, with a notice',
  spread: 'as copies',
}

type Notice = NonNullable<Schemas['Message']['notice']>

function lifetime(seconds: string): string {
  const days = Number(seconds) / 86_400
  return days === 0 ? ': for good' : days >= 1 ? `: ${Math.round(days)} days` : `: ${Math.round(days * 24)} hours`
}

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
    case 'joined_by_link':
      return `${actor} joined by a link`
    case 'unmade_admin':
      return `${actor} took the rights of an admin from ${target}`
    case 'about_changed':
      return `${actor} changed the description${text}`
    case 'picture_changed':
      return `${actor} changed the picture`
    case 'timer_changed':
      return `${actor} set how long messages live${notice.text === null ? '' : lifetime(notice.text)}`
    case 'keys_changed':
      return `The security keys of ${actor} changed`
    case 'barred':
      return `${actor} barred ${target}`
    case 'unbarred':
      return `${actor} no longer bars ${target}`
    case 'closed':
      return `${actor} closed the group`
    case 'list_stayed':
      return `A broadcast list stayed in the backup${text}`
    default:
      return 'A notice of an unknown sort'
  }
}
