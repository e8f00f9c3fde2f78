import { beforeEach, describe, expect, it, vi } from 'vitest'
import { importAsked, importLacks, newImport, type ImportDraft } from '../lib/import'
import { begunOf, forgetUpload, send, type Line, type Upload } from '../lib/upload'

const file = (text: string, name = 'chats.zip'): File => new File([text], name, { lastModified: 7 })
const OFF = new Error('off')

/** A server that has what came, and does with the next piece what it is told. */
function server(all: string, piece = 4) {
  const bytes = all.length
  let there = ''
  const state = (): Upload => ({
    id: 'u1',
    name: 'chats.zip',
    bytes,
    there: there.length,
    piece,
    is_whole: there.length === bytes,
    sort: there.length === bytes ? 'zip' : null,
    is_locked: false,
  })
  const faults: ((put: () => void) => void)[] = []
  const line: Line = {
    begin: vi.fn(() => Promise.resolve(state())),
    show: vi.fn(() => Promise.resolve(state())),
    add: vi.fn(async (_id: string, offset: number, part: Blob) => {
      await Promise.resolve()
      const text = all.slice(offset, offset + part.size)
      const put = (): void => {
        if (offset === there.length) there += text
      }
      const fault = faults.shift()
      if (fault) fault(put)
      else put()
      return state()
    }),
    isOff: (error) => error === OFF,
  }
  return { line, faults, come: () => there }
}

describe('A file that is sent', () => {
  beforeEach(() => {
    forgetUpload()
    vi.useRealTimers()
  })

  it('goes in pieces, and each is told where it belongs', async () => {
    const { line, come } = server('0123456789')
    const told: number[] = []
    const done = await send(file('0123456789'), line, (upload) => told.push(upload.there), new AbortController().signal)
    expect(come()).toBe('0123456789')
    expect(told).toEqual([0, 4, 8, 10])
    expect(done?.sort).toBe('zip')
  })

  it('waits while nobody answers, and sends nothing twice that had come all the same', async () => {
    vi.useFakeTimers()
    const { line, faults, come } = server('0123456789')
    faults.push((put) => {
      put()
      throw OFF
    })
    faults.push(() => {
      throw OFF
    })
    const off: boolean[] = []
    const done = send(file('0123456789'), line, (_, isOff) => off.push(isOff), new AbortController().signal)
    await vi.runAllTimersAsync()
    expect((await done)?.is_whole).toBe(true)
    expect(come()).toBe('0123456789')
    expect(off.filter((one) => one)).toHaveLength(2)
    expect(line.show).toHaveBeenCalledTimes(2)
  })

  it('goes on from what the server knows, where that is another many', async () => {
    const { line, faults, come } = server('0123456789')
    // Somebody has put the first piece there already.
    faults.push(
      (put) => put(),
      () => undefined,
    )
    await send(file('0123456789'), line, () => undefined, new AbortController().signal)
    expect(come()).toBe('0123456789')
  })

  it('is gone on with when the page was loaded anew, if it is the same file', async () => {
    const { line, faults, come } = server('0123456789')
    faults.push(
      (put) => put(),
      () => {
        throw new Error('refused')
      },
    )
    await expect(send(file('0123456789'), line, () => undefined, new AbortController().signal)).rejects.toThrow(
      'refused',
    )
    expect(begunOf(file('0123456789'))).toBe('u1')
    expect(begunOf(file('0123456789', 'other.zip'))).toBeNull()
    expect(begunOf(file('012345678'))).toBeNull()
    await send(file('0123456789'), line, () => undefined, new AbortController().signal)
    expect(line.begin).toHaveBeenCalledTimes(1)
    expect(come()).toBe('0123456789')
  })

  it('is begun anew where what came is gone', async () => {
    const { line } = server('0123')
    await send(file('0123'), line, () => undefined, new AbortController().signal)
    vi.mocked(line.show).mockRejectedValueOnce(new Error('gone'))
    await send(file('0123'), line, () => undefined, new AbortController().signal)
    expect(line.begin).toHaveBeenCalledTimes(2)
  })

  it('ends where somebody discards it', async () => {
    const { line, come } = server('0123456789')
    const ends = new AbortController()
    const done = await send(file('0123456789'), line, (upload) => upload.there === 4 && ends.abort(), ends.signal)
    expect(done).toBeNull()
    expect(come()).toBe('0123')
  })
})

describe('What is imported', () => {
  const found = [
    { path: 'a', is_locked: false },
    { path: 'b', is_locked: true },
  ]
  const draft = (other: Partial<ImportDraft> = {}): ImportDraft => ({
    ...newImport('en'),
    ...{ customer: 'Bo', contact: 'the café', consent: true, stick: 'blue', path: 'a' },
    ...other,
  })
  const upload = (other: Partial<Upload> = {}): Upload => ({
    ...{ id: 'u1', name: 'x', bytes: 9, there: 9, piece: 4, is_whole: true, sort: 'zip', is_locked: false },
    ...other,
  })

  it.each([
    [draft(), null, ''],
    [draft({ path: 'gone' }), null, 'need_one'],
    [draft({ path: 'b' }), null, 'need_key'],
    [draft({ path: 'b', key: 'k' }), null, ''],
    [draft({ customer: ' ' }), null, 'need_customer'],
    [draft({ contact: '' }), null, 'need_contact'],
    [draft({ consent: false }), null, 'need_consent'],
    [draft({ isSent: true }), null, 'need_file'],
    [draft({ isSent: true }), upload({ is_whole: false }), 'sending'],
    [draft({ isSent: true }), upload({ sort: null }), 'nothing'],
    [draft({ isSent: true }), upload({ is_locked: true }), 'need_key'],
    [draft({ isSent: true }), upload(), ''],
  ])('says what it lacks (%#)', (of, sent, lacks) => {
    expect(importLacks(of, found, sent)).toBe(lacks === '' ? '' : `import_lacks.${lacks}`)
  })

  it('is asked for by where it is, and says who comes again', () => {
    const known = {
      ...{ id: 4, name: 'Bo', contact: 'the café', trays: 1, last_tray: 41, last_at: null },
      language: 'en' as const,
    }
    expect(importAsked(draft({ path: '', known, key: ' ' }), null)).toEqual({
      ...{ customer: 'Bo', contact: 'the café', language: 'en', consent: true, known: 4, stick: 'blue', path: '' },
    })
    expect(importAsked(draft({ isSent: true, key: 'a b ' }), upload())).toEqual({
      ...{ customer: 'Bo', contact: 'the café', language: 'en', consent: true, key: 'a b ', upload: 'u1' },
    })
  })
})
