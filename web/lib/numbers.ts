const formats = new Map<string, Intl.NumberFormat>()

/** A number in the way of a place; making the formatter is what takes time, so each is kept. */
export function format(value: number, locale: string, digits?: number): string {
  const name = `${locale} ${digits ?? ''}`
  let found = formats.get(name)
  if (found === undefined) {
    const options = digits === undefined ? {} : { minimumFractionDigits: digits, maximumFractionDigits: digits }
    found = new Intl.NumberFormat(locale, options)
    formats.set(name, found)
  }
  return found.format(value)
}
