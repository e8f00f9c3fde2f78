import qrcode from 'qrcode-generator'
import type { Schemas } from '../api/client'

const MISREAD: Record<string, string> = { O: '0', I: '1', L: '1' }

/** As src/LetterCode.php reads what was typed. */
const read = (typed: string): string =>
  typed
    .toUpperCase()
    .replace(/[^A-Z0-9]/g, '')
    .replace(/[OIL]/g, (letter) => MISREAD[letter] ?? letter)

/** Whether somebody has typed the tag that is on a phone, or what its printed label says. */
export function isTagOf(tray: Schemas['Tray'], tag: string, typed: string): boolean {
  const label = tray.labels.find((one) => one.tag === tag)
  const told = read(typed)
  return told !== '' && (told === read(tag) || (label !== undefined && told === read(tag + label.code)))
}

/** The squares of a code that a hand scanner reads (ISO/IEC 18004), as a path of an SVG, one unit a square. */
export function squares(told: string): { size: number; path: string } {
  const code = qrcode(0, 'M')
  code.addData(told, 'Alphanumeric')
  code.make()
  const size = code.getModuleCount()
  let path = ''
  for (let row = 0; row < size; row += 1)
    for (let column = 0; column < size; column += 1) if (code.isDark(row, column)) path += `M${column} ${row}h1v1h-1z`
  return { size, path }
}
