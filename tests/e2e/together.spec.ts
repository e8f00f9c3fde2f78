import { execFileSync } from 'node:child_process'
import { expect, test, type Page } from '@playwright/test'
import { data } from '../../playwright.config'
import type { Schemas } from '../../web/api/client'
import { chats, dataFolder, killWorkers, signIn } from './bench'

/** Two technicians in two browsers, two workers, five trays: nothing is mixed, nothing is done twice. */

const FIVE = [1, 2, 3, 4, 5]
const gives = (n: number): string => `GIVES000${n}`
const takes = (n: number): string => `TAKES000${n}`

const get = <T>(page: Page, path: string): Promise<T> =>
  page.evaluate(async (url) => (await fetch(url)).json(), path) as Promise<T>
const trayOf = (page: Page, number: number): Promise<Schemas['Tray']> =>
  get<Schemas['Tray']>(page, `/api/trays/${number}`)

async function openTray(page: Page, n: number): Promise<number> {
  return page.evaluate(
    async ([customer, giving, receiving]) => {
      const { token } = (await (await fetch('/api/session')).json()) as { token: string }
      const answer = await fetch('/api/trays', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', 'X-Geschenk-Token': token },
        body: JSON.stringify({ customer, contact: 'at the counter', consent: true, giving, receiving, language: 'en' }),
      })
      return ((await answer.json()) as { number: number }).number
    },
    [`Customer ${n}`, gives(n), takes(n)],
  )
}

const newestRun = async (page: Page, tray: number): Promise<string | undefined> =>
  (await trayOf(page, tray)).moves[0]?.run?.id

/** Presses what is next on a tray, unless the other was quicker: then there is another run than before. */
async function press(page: Page, tray: number, name: RegExp, tag: string | null, before?: string): Promise<void> {
  await page.goto(`/trays/${tray}`)
  await expect(async () => {
    if ((await newestRun(page, tray)) !== before) return
    if (tag !== null) await page.getByLabel('Type the tag').fill(tag, { timeout: 2_000 })
    await page.getByRole('button', { name }).click({ timeout: 2_000 })
  }).toPass()
}

async function settled(page: Page, trays: number[], stage: Schemas['Stage']): Promise<void> {
  for (const tray of trays) {
    await expect.poll(async () => (await trayOf(page, tray)).moves[0]?.stage, { message: `tray ${tray}` }).toBe(stage)
  }
}

test('two browsers and two workers on five trays: nothing is mixed, and nothing is done twice', async ({ browser }) => {
  execFileSync('php', ['-d', 'memory_limit=512M', 'tests/Crash/five.php', `${data}/standin/phones`])
  const [one, other] = await Promise.all(
    [
      ['jette', 'ribbon-and-tag'],
      ['orla', 'wrapped-paper'],
    ].map(async ([name, password]) => {
      const page = await (await browser.newContext()).newPage()
      await signIn(page, name, password)
      return page
    }),
  )
  if (one === undefined || other === undefined) throw new Error('Two browsers are wanted.')
  // A phone is seen some moments after it was laid there.
  await expect
    .poll(async () => (await get<{ phones: { live: { serial: string } }[] }>(one, '/api/phones')).phones.length)
    .toBeGreaterThan(9)
  await expect.poll(async () => JSON.stringify(await get(one, '/api/phones'))).toContain(takes(5))
  const trays: number[] = []
  for (const n of FIVE) trays.push(await openTray(n % 2 === 0 ? other : one, n))
  const steps: [RegExp, Schemas['Stage'], boolean][] = [
    [/^Back up \d+-A$/, 'choose', false],
    [/^Convert for iOS$/, 'restore', false],
    [/^Restore onto \d+-B$/, 'hand_over', true],
  ]
  for (const [name, stage, isTyped] of steps) {
    // Nobody begins before the worker has looked at what the phones hold.
    for (const tray of trays) {
      await expect.poll(async () => (await trayOf(one, tray)).waits.for, { message: `tray ${tray}` }).toBe('person')
      const tag = isTyped ? `${tray}-B` : null
      const before = await newestRun(one, tray)
      await Promise.all([one, other].map((page) => press(page, tray, name, tag, before)))
    }
    killWorkers()
    await settled(one, trays, stage)
  }
  for (const n of FIVE) {
    const tray = await trayOf(other, trays[n - 1] ?? 0)
    const codes = tray.steps.map((step) => step.code)
    for (const once of ['opened', 'ready', 'backed_up', 'looked', 'converted', 'restored', 'checked'])
      expect([once, codes.filter((code) => code === once).length]).toEqual([once, 1])
    const there = chats<{ account: string; messages: number }>('chats:inspect', dataFolder(gives(n))).report
    const here = chats<{ account: string; messages: number }>('chats:inspect', dataFolder(takes(n))).report
    const move = tray.moves[0]
    expect([move?.backup?.account, move?.backup?.messages]).toEqual([there.account, there.messages])
    expect(here.account).toBe(`+44770090071${n}`)
    expect([move?.arrival?.complete, move?.arrival?.messages]).toEqual([true, there.messages])
    const { status } = chats('chats:compare', dataFolder(gives(n)), dataFolder(takes(n)))
    expect(status).toBe(0)
  }
})
