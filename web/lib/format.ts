import { parsePhoneNumberFromString } from 'libphonenumber-js/min'
import { language, LOCALES, say } from './say'
import { format as formatNumber } from './numbers'

/** The shop's zone; times on phones of another zone would be shown beside it. */
export const ZONE = 'Europe/London'

const parts = new Intl.DateTimeFormat('en-GB', {
  timeZone: ZONE,
  day: 'numeric',
  month: 'numeric',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
  second: '2-digit',
  hourCycle: 'h23',
})

function read(iso: string): Record<string, string> {
  return Object.fromEntries(parts.formatToParts(new Date(iso)).map((p) => [p.type, p.value]))
}

/** "Sep" one way everywhere: the catalogues have the names, for page and sheet alike. */
export const monthName = (month: number): string => say(`month.m${month}`)

export const count = (value: number): string => formatNumber(value, LOCALES[language.value])

/** Decimal units, as phones show them. */
export function bytes(value: number): string {
  if (value < 1000) return `${value} B`
  const units = ['kB', 'MB', 'GB', 'TB']
  let size = value
  let unit = -1
  do {
    size /= 1000
    unit += 1
  } while (size >= 999.5 && unit < units.length - 1)
  return `${formatNumber(size, LOCALES[language.value], size < 10 ? 1 : 0)} ${units[unit]}`
}

export function date(iso: string | null): string {
  if (iso === null) return '–'
  const { day, month, year } = read(iso)
  return say('date.day', { day: Number(day), month: monthName(Number(month)), year: year ?? '' })
}

export function time(iso: string): string {
  const { hour, minute } = read(iso)
  return `${hour}:${minute}`
}

export const exactTime = (iso: string): string => `${time(iso)}:${read(iso)['second']}`
export const dateTime = (iso: string | null): string =>
  iso === null ? '–' : say('date.moment', { date: date(iso), time: time(iso) })

/** Never more exact than it can be. */
export function duration(seconds: number): string {
  if (seconds < 1) return say('duration.moment')
  if (seconds <= 59) return say('duration.seconds', { n: Math.ceil(seconds) })
  // Rounded first and split then, or 59 and a half minutes become 60.
  const minutes = Math.ceil(seconds / 60)
  if (minutes < 60) return say('duration.minutes', { n: minutes })
  return say('duration.hours', { hours: Math.floor(minutes / 60), minutes: minutes % 60 })
}

export const percent = (part: number): string => say('app.percent', { part: Math.floor(part * 100) / 100 })

/**
 * A day as somebody types it, in the order of the language: day, month, year. Two-digit years are of this century.
 *
 * @returns ISO date, or null when it is no day
 */
export function typedDay(typed: string): string | null {
  const found = /^\s*(\d{1,2})[.\-/\s]+(\d{1,2})[.\-/\s]+(\d{2}|\d{4})\s*$/.exec(typed)
  if (!found) return null
  const [day, month, short] = [Number(found[1]), Number(found[2]), Number(found[3])]
  const year = short < 100 ? 2000 + short : short
  const at = new Date(Date.UTC(year, month - 1, day))
  const isDay = at.getUTCFullYear() === year && at.getUTCMonth() === month - 1 && at.getUTCDate() === day
  return isDay ? at.toISOString().slice(0, 10) : null
}

/** +447700900104 → +44 7700 900104; what is no number stays as it is. */
export function phoneNumber(told: string | null): string {
  if (told === null) return '–'
  if (!/^\+\d{7,15}$/.test(told)) return told
  return parsePhoneNumberFromString(told)?.formatInternational() ?? told
}

/** The country that a number belongs to, by its name; nothing where the number alone does not tell. */
export function country(told: string | null): string {
  const region = told === null ? undefined : parsePhoneNumberFromString(told)?.country
  if (region === undefined) return ''
  return new Intl.DisplayNames([LOCALES[language.value]], { type: 'region' }).of(region) ?? region
}
