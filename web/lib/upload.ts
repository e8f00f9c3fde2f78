import type { Schemas } from '../api/client'

export type Upload = Schemas['Upload']

/** What a file travels over. */
export interface Line {
  begin(name: string, bytes: number): Promise<Upload>
  show(upload: string): Promise<Upload>
  /** @returns how much has come, be it that this piece was put there or not */
  add(upload: string, offset: number, piece: Blob): Promise<Upload>
  /** Whether nobody answered, so that it is worth waiting. */
  isOff(error: unknown): boolean
}

/** Milliseconds until a line that is off is tried again. */
const PATIENCE = 2_000
const KEY = 'geschenk.upload'

interface Kept {
  id: string
  name: string
  bytes: number
  changed: number
}

const markOf = (file: File): Omit<Kept, 'id'> => ({ name: file.name, bytes: file.size, changed: file.lastModified })

/** The file that was begun in this window, if it is the same one: it is gone on with when the page was loaded anew. */
export function begunOf(file: File): string | null {
  try {
    const kept = JSON.parse(sessionStorage.getItem(KEY) ?? 'null') as Kept | null
    const mark = markOf(file)
    const isSame = kept?.name === mark.name && kept.bytes === mark.bytes && kept.changed === mark.changed
    return isSame ? kept.id : null
  } catch {
    return null
  }
}

const remember = (file: File, id: string): void =>
  sessionStorage.setItem(KEY, JSON.stringify({ ...markOf(file), id } satisfies Kept))
export const forgetUpload = (): void => sessionStorage.removeItem(KEY)

/**
 * Sends a file piece by piece, and goes on where it was cut; while nobody answers it waits and tries again.
 *
 * @param onTold how much has come, and whether the line is off
 * @returns null where somebody has ended it
 */
export async function send(
  file: File,
  line: Line,
  onTold: (upload: Upload, isOff: boolean) => void,
  signal: AbortSignal,
): Promise<Upload | null> {
  const before = begunOf(file)
  // What is not there any more is sent anew.
  let upload = before === null ? null : await line.show(before).catch((error: unknown) => gone(error, line))
  upload ??= await line.begin(file.name, file.size)
  remember(file, upload.id)
  onTold(upload, false)
  while (!signal.aborted && !upload.is_whole) {
    const from = upload.there
    try {
      upload = await line.add(upload.id, from, file.slice(from, from + upload.piece))
      onTold(upload, false)
    } catch (error) {
      if (!line.isOff(error)) throw error
      onTold(upload, true)
      await new Promise((resolve) => setTimeout(resolve, PATIENCE))
      // It may have come all the same.
      upload = await line.show(upload.id).catch((again: unknown) => {
        if (!line.isOff(again)) throw again
        return upload as Upload
      })
    }
  }
  return signal.aborted ? null : upload
}

function gone(error: unknown, line: Line): null {
  if (line.isOff(error)) throw error
  return null
}
