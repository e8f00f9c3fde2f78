import type { Schemas } from '../api/client'
import { say } from './say'

/** Digits of a backup's key. */
const DIGITS = 64

/** Why what was typed opens nothing, before anything is copied; empty where it may. */
export function keyLacks(told: string, lock: Schemas['Lock']): string {
  const digits = told.replace(/[\s-]+/g, '')
  if (told.trim() === '') return say('why.key', { lock: lock ?? 'other' })
  if (lock !== 'digits') return ''
  if (!/^[0-9a-f]+$/i.test(digits)) return say('key.not_digits')
  return digits.length === DIGITS ? '' : say('key.digits', { count: digits.length })
}

/**
 * How what was typed will be understood: as a key of 64 hexadecimal digits, in groups or not, or as a password; and
 * what is missing, where it is known what the backup is locked with.
 */
export function toldKey(told: string, lock: Schemas['Lock'] = null): string {
  const digits = told.replace(/[\s-]+/g, '')
  if (digits === '') return ''
  if (lock === 'password') return say('key.password')
  if (lock === 'digits') return keyLacks(told, lock) || say('key.whole')
  if (!/^[0-9a-f]+$/i.test(digits)) return say('key.password')
  if (digits.length === DIGITS) return say('key.whole')
  return digits.length < 32 ? say('key.password') : say('key.part', { count: digits.length })
}
