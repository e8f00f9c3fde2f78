import type { components } from '../api/schema'
import { duration } from './format'
import { say, word } from './say'
import { kindWord } from './words'

type Message = components['schemas']['Message']

/** What a message holds besides text and files, in one line; covered, it tells kinds and numbers only. */
export function contentLine(message: Message): string | null {
  const content = message.content
  const kind = capital(kindWord(message.kind))
  if (content === null) {
    if (message.kind === 'deleted') return say('content.deleted')
    if (message.view_once === 'opened' && message.attachments.length === 0) return say('content.viewed', { kind })
    return null
  }
  const lines = content.lines.join(' · ')
  const more = lines === '' ? '' : `: ${lines}`
  switch (content.sort) {
    case 'place': {
      const where = [content.title, ...content.lines].filter(Boolean).join(', ')
      return where === '' || content.title === null ? kind : say('content.place', { kind, where })
    }
    case 'contact_cards':
      return say('content.cards', { count: content.count ?? 1 }) + more
    case 'poll':
      return say('content.poll', { count: content.count ?? 0 }) + more
    case 'call': {
      const outcome = word('call', content.outcome ?? 'unknown')
      return content.duration_ms === null
        ? say('content.call', { outcome })
        : say('content.call_for', { outcome, time: duration(content.duration_ms / 1000) })
    }
    case 'link_preview':
      return content.title === null ? say('content.link') : say('content.link_title', { title: content.title })
    case 'catalogue_item':
      return [say('content.item'), content.title, lines].filter(Boolean).join(', ')
    case 'deletion':
      return say('content.deleted')
  }
}

/** Small words at the end of a line: edited, for how long, to be seen once, who is named. */
export function marksOf(message: Message, date: (iso: string) => string): { word: string; about: string }[] {
  const marks: { word: string; about: string }[] = []
  if (message.edited_at !== null)
    marks.push({ word: say('mark.edited'), about: say('mark.edited_on', { at: date(message.edited_at) }) })
  if (message.view_once === 'unopened') marks.push({ word: say('mark.view_once'), about: say('mark.view_once_how') })
  if (message.expires_at !== null) {
    const isOver = new Date(message.expires_at).getTime() <= Date.now()
    const at = date(message.expires_at)
    marks.push(
      isOver
        ? { word: say('mark.ran_out', { at }), about: say('mark.ran_out_how') }
        : { word: say('mark.until', { at }), about: say('mark.until_how') },
    )
  }
  if (message.mentions > 0)
    marks.push({ word: say('mark.names', { count: message.mentions }), about: say('mark.names_how') })
  if (message.effect) marks.push({ word: say('mark.effect'), about: say('mark.effect_how') })
  return marks
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}
