/** How what was typed will be understood: as a key of 64 hexadecimal digits, in groups or not, or as a password. */
export function toldKey(told: string): string {
  const digits = told.replace(/[\s-]+/g, '')
  if (digits === '') return ''
  if (!/^[0-9a-f]+$/i.test(digits)) return 'Taken as a password.'
  if (digits.length === 64) return 'All 64 digits are there.'
  return digits.length < 32
    ? 'Taken as a password.'
    : `${digits.length} of 64 digits; as it is, it is taken as a password.`
}
