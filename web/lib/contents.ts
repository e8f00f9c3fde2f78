import type { components } from '../api/schema'
import { duration } from './format'
import { KINDS } from './words'

type Message = components['schemas']['Message']

const OUTCOMES: Record<string, string> = {
  answered: 'answered',
  missed: 'missed',
  declined: 'declined',
  failed: 'did not get through',
  unknown: 'outcome unknown',
}

/** What a message holds besides text and files, in one line; covered, it tells kinds and numbers only. */
export function contentLine(message: Message): string | null {
  const content = message.content
  const kind = KINDS[message.kind] ?? message.kind
  if (content === null) {
    if (message.kind === 'deleted') return 'Deleted'
    if (message.view_once === 'opened' && message.attachments.length === 0) return `${capital(kind)}, viewed and gone`
    return null
  }
  const lines = content.lines.join(' · ')
  switch (content.sort) {
    case 'place':
      return capital(kind) + (content.title === null ? '' : `: ${[content.title, ...content.lines].join(', ')}`)
    case 'contact_cards':
      return `${content.count === 1 ? 'Contact card' : `${content.count} contact cards`}${lines && `: ${lines}`}`
    case 'poll':
      return `Poll, ${content.count} ${content.count === 1 ? 'vote' : 'votes'}${lines && `: ${lines}`}`
    case 'call':
      return `Call, ${OUTCOMES[content.outcome ?? 'unknown']}${content.duration_ms === null ? '' : `, ${duration(content.duration_ms / 1000)}`}`
    case 'link_preview':
      return content.title === null ? 'With a preview of the page it links to' : `Preview: ${content.title}`
    case 'catalogue_item':
      return ['Catalogue item', content.title, lines].filter(Boolean).join(', ')
    case 'deletion':
      return 'Deleted'
  }
}

/** Small words at the end of a line: edited, for how long, to be seen once, who is named. */
export function marksOf(message: Message, date: (iso: string) => string): { word: string; about: string }[] {
  const marks: { word: string; about: string }[] = []
  if (message.edited_at !== null) marks.push({ word: 'edited', about: `Edited on ${date(message.edited_at)}` })
  if (message.view_once === 'unopened') marks.push({ word: 'view once', about: 'To be viewed once, not opened yet' })
  if (message.expires_at !== null) {
    const isOver = new Date(message.expires_at).getTime() <= Date.now()
    marks.push(
      isOver
        ? { word: `ran out ${date(message.expires_at)}`, about: 'Its lifetime is over; it is not moved' }
        : { word: `until ${date(message.expires_at)}`, about: 'It disappears then' },
    )
  }
  if (message.mentions > 0)
    marks.push({
      word: `@${message.mentions}`,
      about: `Names ${message.mentions === 1 ? 'somebody' : 'people'} in its text`,
    })
  if (message.effect) marks.push({ word: 'with a show', about: 'A show plays when it is opened' })
  return marks
}

function capital(word: string): string {
  return word.charAt(0).toUpperCase() + word.slice(1)
}
