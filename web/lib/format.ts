/** The shop's zone; times on phones of another zone would be shown beside it. */
export const ZONE = 'Europe/London'

const number = new Intl.NumberFormat('en-GB')
const day = new Intl.DateTimeFormat('en-GB', { timeZone: ZONE, day: 'numeric', month: 'short', year: 'numeric' })
const clock = new Intl.DateTimeFormat('en-GB', { timeZone: ZONE, hour: '2-digit', minute: '2-digit' })
const second = new Intl.DateTimeFormat('en-GB', {
  timeZone: ZONE,
  hour: '2-digit',
  minute: '2-digit',
  second: '2-digit',
})

export const count = (value: number): string => number.format(value)

/** "1 message", "2,300 messages" */
export const many = (value: number, one: string, more = one + 's'): string =>
  `${count(value)} ${value === 1 ? one : more}`

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
  return `${size < 10 ? size.toFixed(1) : size.toFixed(0)} ${units[unit]}`
}

export const date = (iso: string | null): string => (iso === null ? '–' : day.format(new Date(iso)))
export const time = (iso: string): string => clock.format(new Date(iso))
export const exactTime = (iso: string): string => second.format(new Date(iso))
export const dateTime = (iso: string | null): string => (iso === null ? '–' : `${date(iso)}, ${time(iso)}`)

/** "about 2 min", never more exact than it can be. */
export function duration(seconds: number): string {
  if (seconds < 1) return 'a moment'
  if (seconds < 60) return `${Math.ceil(seconds)} s`
  if (seconds < 3600) return `${Math.ceil(seconds / 60)} min`
  return `${Math.floor(seconds / 3600)} h ${Math.ceil((seconds % 3600) / 60)} min`
}

/** +447700900104 → +44 7700 900 104: groups that can be read aloud. */
export function phoneNumber(e164: string | null): string {
  if (e164 === null || e164 === '') return 'no number'
  const found = /^\+(44|1)(\d{3,4})(\d{3})(\d+)$/.exec(e164)
  return found ? `+${found[1]} ${found[2]} ${found[3]} ${found[4]}` : e164
}
