import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { contrast, dark, light, type Palette } from '../styles/palette'

/** What is written on what; WCAG 2.2 asks 4.5 for text. */
const pairs: [keyof Palette & string, keyof Palette & string][] = [
  ['ink', 'background'],
  ['ink', 'surface'],
  ['ink', 'sunk'],
  ['soft', 'background'],
  ['soft', 'surface'],
  ['soft', 'sunk'],
  ['on-primary', 'primary'],
  ['gives', 'surface'],
  ['receives', 'surface'],
  ['arrived', 'surface'],
  ['changed', 'surface'],
  ['leftout', 'surface'],
  ['missing', 'surface'],
  ['missing', 'background'],
  ['missing', 'sunk'],
]
const page = readFileSync('docs/interface.md', 'utf8')

describe.each([
  ['light', light],
  ['dark', dark],
] as const)('the %s palette', (name, palette) => {
  it.each(pairs)('%s on %s can be read, and docs/interface.md gives the figure', (text, ground) => {
    const ratio = contrast(palette[text] ?? '', palette[ground] ?? '')
    expect(ratio).toBeGreaterThanOrEqual(4.5)
    expect(page).toContain(`| ${text} on ${ground} |`)
    const row = page.split('\n').find((line) => line.startsWith(`| ${text} on ${ground} |`)) ?? ''
    expect(row.split('|')[name === 'light' ? 2 : 3]?.trim()).toBe(ratio.toFixed(1))
  })
  it.each(Object.keys(palette))('%s stands in docs/interface.md as it is', (colour) => {
    expect(page).toContain(palette[colour])
  })
})

it('knows black on white', () => {
  expect(contrast('#000000', '#FFFFFF')).toBeCloseTo(21)
})
