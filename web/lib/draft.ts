import { reactive, watch } from 'vue'
import type { Schemas } from '../api/client'
import type { Language } from './say'

/** What was typed of a new tray: kept while somebody looks elsewhere, signs in again or reloads the page. */
export interface Draft {
  /** who has been here before, and comes again */
  known: Schemas['KnownCustomer'] | null
  customer: string
  contact: string
  language: Language
  /** an import is asked for elsewhere: it has no phone */
  errand: Exclude<Schemas['Errand'], 'import'>
  consent: boolean
  giving: string
  receiving: string
  /** that are kept, and brought */
  backups: Schemas['KeptBackup'][]
}

const KEY = 'geschenk.new-tray'

function stored(user: string): Partial<Draft> {
  try {
    const kept = JSON.parse(sessionStorage.getItem(KEY) ?? 'null') as (Partial<Draft> & { user?: string }) | null
    return kept !== null && kept.user === user ? kept : {}
  } catch {
    return {}
  }
}

let stopKeeping = (): void => undefined

/** The draft of a user; another user's is not shown. */
export function useDraft(user: string, language: Language): Draft {
  const {
    known = null,
    customer = '',
    contact = '',
    errand = 'move',
    giving = '',
    receiving = '',
    backups = [],
    ...rest
  } = stored(user)
  const { consent = false } = rest
  const draft = reactive<Draft>({
    ...{ known, customer, contact, errand, consent, giving, receiving, backups },
    language: rest.language ?? language,
  })
  stopKeeping = watch(draft, (now) => sessionStorage.setItem(KEY, JSON.stringify({ ...now, user })))
  return draft
}

/** Begins a draft in which a kept backup is brought to the customer whose it is; what was typed before gives way. */
export function beginWithKept(user: string, kept: Schemas['KeptBackup']): void {
  const { customer, contact, language } = kept
  const draft: Partial<Draft> = {
    customer,
    contact,
    language: language as Language,
    errand: 'bring_kept',
    backups: [kept],
  }
  sessionStorage.setItem(KEY, JSON.stringify({ ...draft, user }))
}

/**
 * Once it is forgotten nothing of it is kept again, whatever still changes on the page before it is left: the next tray
 * is another customer's, and so is the consent.
 */
export function forgetDraft(): void {
  stopKeeping()
  sessionStorage.removeItem(KEY)
}
