import { ref } from 'vue'
import { IntlMessageFormat } from 'intl-messageformat'
import type { components } from '../api/schema'
import de from '../../translations/messages+intl-icu.de.json'
import en from '../../translations/messages+intl-icu.en.json'

export type Language = components['schemas']['Language']
export type Params = Record<string, string | number | boolean>

interface Catalogue {
  [part: string]: string | Catalogue
}

/** Every language with its name in itself. */
export const LANGUAGES: Record<Language, string> = { en: 'English', de: 'Deutsch' }

const all = Object.keys(LANGUAGES) as Language[]
/** The one behind another, round and round: so each is reached by a button. */
export const nextLanguage = (of: Language): Language => all[(all.indexOf(of) + 1) % all.length] ?? of
/** To choose from, in the present language. */
export const languageItems = (): { value: Language; title: string }[] =>
  all.map((value) => ({ value, title: say(`language.${value}`) }))

/** The language that everything is said in; follows the user who is signed in. */
export const language = ref<Language>('en')

const catalogues: Record<Language, Catalogue> = { en, de }
/** Dates and numbers are written as in these places. */
export const LOCALES: Record<Language, string> = { en: 'en-GB', de: 'de-DE' }
const formats = new Map<string, IntlMessageFormat>()

function find(key: string, of: Language): string | undefined {
  let part: string | Catalogue | undefined = catalogues[of]
  for (const name of key.split('.')) {
    if (typeof part !== 'object') return undefined
    part = part[name]
  }
  return typeof part === 'string' ? part : undefined
}

export const has = (key: string): boolean => find(key, 'en') !== undefined

/** The words for a key, in the present language; the catalogues are in translations/ (ICU MessageFormat). */
export function say(key: string, params: Params = {}): string {
  const message = find(key, language.value) ?? find(key, 'en')
  if (message === undefined) return key
  if (!message.includes('{')) return message
  const name = `${language.value} ${key}`
  let format = formats.get(name)
  if (format === undefined) {
    format = new IntlMessageFormat(message, LOCALES[language.value], undefined, { ignoreTag: true })
    formats.set(name, format)
  }
  return String(format.format(params))
}

/** The words for a code of a group; a code that nobody knows is shown as it is, in plain letters. */
export function word(group: string, code: string, params: Params = {}): string {
  const key = `${group}.${code}`
  return has(key) ? say(key, params) : code.replaceAll('_', ' ')
}
