import type { Schemas } from '../api/client'
import type { ImportAsked } from '../api/imports'
import type { Language } from './say'
import type { Upload } from './upload'

/** What is imported and whose it is, as it stands on the page. */
export interface ImportDraft {
  known: Schemas['KnownCustomer'] | null
  customer: string
  contact: string
  language: Language
  consent: boolean
  /** id of the stick, and what on it; null for nothing chosen */
  stick: string
  path: string | null
  /** a file of this computer is meant, and not a stick */
  isSent: boolean
  key: string
}

export const newImport = (language: Language): ImportDraft => ({
  known: null,
  customer: '',
  contact: '',
  language,
  consent: false,
  stick: '',
  path: null,
  isSent: false,
  key: '',
})

type Found = { path: string; is_locked: boolean }

export const chosen = (draft: ImportDraft, found: readonly Found[]): Found | undefined =>
  draft.isSent ? undefined : found.find((one) => one.path === draft.path)

export const isLocked = (draft: ImportDraft, found: readonly Found[], upload: Upload | null): boolean =>
  draft.isSent ? upload?.is_locked === true : chosen(draft, found)?.is_locked === true

/** What keeps it from being imported: a key of the words; none where nothing does. */
export function importLacks(draft: ImportDraft, found: readonly Found[], upload: Upload | null): string {
  if (draft.isSent && upload === null) return 'import_lacks.need_file'
  if (draft.isSent && upload?.is_whole !== true) return 'import_lacks.sending'
  if (draft.isSent && upload?.sort === null) return 'import_lacks.nothing'
  if (!draft.isSent && chosen(draft, found) === undefined) return 'import_lacks.need_one'
  if (isLocked(draft, found, upload) && draft.key.trim() === '') return 'import_lacks.need_key'
  if (draft.customer.trim() === '') return 'import_lacks.need_customer'
  if (draft.contact.trim() === '') return 'import_lacks.need_contact'
  if (!draft.consent) return 'import_lacks.need_consent'
  return ''
}

export function importAsked(draft: ImportDraft, upload: Upload | null): ImportAsked {
  const { customer, contact, language, consent, known, key } = draft
  return {
    ...{ customer, contact, language, consent },
    ...(known === null ? {} : { known: known.id }),
    ...(key.trim() === '' ? {} : { key }),
    ...(draft.isSent ? { upload: upload?.id ?? '' } : { stick: draft.stick, path: draft.path ?? '' }),
  }
}
