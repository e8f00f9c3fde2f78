import { execFileSync } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import AxeBuilder from '@axe-core/playwright'
import { expect, type Locator, type Page } from '@playwright/test'
import { data } from '../../playwright.config'

/** What lies on the stand-in stick of that id, while it is in. */
export const stick = (id: string): string => `${data}/standin/sticks/${id}/in`

/** Helpers that do what a person, a cable or bad luck does. */
export const GIVING = 'KFM4071190'
export const RECEIVING = 'LSL2260418'

export async function signIn(page: Page, name = 'jette', password = 'ribbon-and-tag'): Promise<void> {
  await page.goto('/')
  await page.getByLabel('Name').fill(name)
  await page.getByLabel('Password').fill(password)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { name: 'Shelf' })).toBeVisible()
}

/** Every view must be usable for everybody; in the other set of colours only they can be at fault. */
export async function expectAccessible(page: Page, view: string): Promise<void> {
  for (const scheme of ['Dark colours', 'Light colours'] as const) {
    const toggle = page.getByRole('button', { name: scheme })
    // An open dialog keeps the bar out of reach.
    if ((await toggle.isVisible()) && (await page.getByRole('dialog').count()) === 0) await toggle.click()
    // Colours change with a transition; what is measured must be the end of it.
    await page.waitForTimeout(350)
    // A button that is at work still is not the page that is looked at.
    await expect(page.locator('.v-btn--loading')).toHaveCount(0)
    // The page has no frames, which would want a second page to gather what was found. What is well is not told about.
    const axe = new AxeBuilder({ page }).setLegacyMode(true).options({ resultTypes: ['violations'] })
    const { violations } = await (
      scheme === 'Dark colours'
        ? axe.withRules('color-contrast')
        : axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    ).analyze()
    expect(
      violations.map(
        (v) =>
          `${view}: ${v.id} ${v.nodes
            .map((n) => n.target.join(' ') + ' ' + (n.failureSummary ?? ''))
            .slice(0, 3)
            .join(' | ')}`,
      ),
    ).toEqual([])
  }
}

/**
 * What lies above the page is drawn like the page: a ground that nothing shows through, its letters, and a ring round
 * what has the cursor. Which colours hold where is the styles' affair, and one selector too narrow takes them all away.
 */
export async function expectDrawn(page: Page, overlay: Locator): Promise<void> {
  await expect(overlay).toBeVisible()
  await page.waitForTimeout(350)
  const drawn = await overlay.evaluate((element) => {
    const within = [element, ...element.querySelectorAll('*')]
    const ground = within.map((e) => getComputedStyle(e).backgroundColor).find((c) => !/^rgba\(.*, 0\)$/.test(c))
    const words =
      within.find((e) => [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent?.trim())) ?? element
    return {
      ground,
      font: getComputedStyle(words).fontFamily,
      ink: getComputedStyle(words).color,
    }
  })
  const fonts = await page.evaluate(() =>
    [...document.querySelectorAll('main, main h1, main h2')].map((e) => getComputedStyle(e).fontFamily),
  )
  expect(drawn.ground).toMatch(/^rgb\(/)
  expect(fonts).toContain(drawn.font)
  expect(drawn.ink).not.toBe(drawn.ground)
}

/** Chooses in a list that opens, and sees it chosen: what is pressed while a list opens or closes may be lost. */
export async function choose(page: Page, list: string, what: string): Promise<void> {
  const field = page.locator('.v-select', { has: page.getByRole('combobox', { name: list }) })
  await expect(async () => {
    if ((await field.locator('.v-select__selection').textContent({ timeout: 2_000 }))?.trim() === what) return
    if (!(await page.getByRole('listbox').isVisible())) {
      await field.getByRole('combobox', { name: list }).press('ArrowDown', { timeout: 2_000 })
    }
    await page.getByRole('option', { name: what, exact: true }).click({ timeout: 2_000 })
    await expect(field.locator('.v-select__selection')).toHaveText(what, { timeout: 2_000 })
  }).toPass()
  await expect(page.getByRole('listbox')).toBeHidden()
}

/** A customer's phones at the desk, which has one customer open at a time. */
export async function atDesk(page: Page, owner: string): Promise<Locator> {
  await page.goto('/stand-in')
  const section = page.locator('section', { has: page.getByRole('heading', { name: owner }) })
  await section.getByRole('heading').getByRole('button').click()
  return section
}

/** The hands at a stand-in phone, through the desk. */
export async function hands(page: Page, phone: string, ...acts: string[]): Promise<void> {
  const section = await atDesk(page, 'Mathilda Oyelaran')
  for (const act of acts) {
    const button = section.getByRole('article', { name: phone }).getByRole('button', { name: act, exact: true })
    await button.click()
    await expect(button).toHaveCount(0)
  }
}

const api = async (page: Page, method: string, path: string, body: unknown): Promise<void> => {
  await page.evaluate(
    async ([verb, url, sent]) => {
      const { token } = (await (await fetch('/api/session')).json()) as { token: string }
      const answer = await fetch(url as string, {
        method: verb as string,
        headers: { 'Content-Type': 'application/json', 'X-Geschenk-Token': token },
        body: JSON.stringify(sent),
      })
      if (!answer.ok) throw new Error(`${url}: ${answer.status}`)
    },
    [method, path, body],
  )
}
/** Why the server refuses a tray with two phones; nothing where it opens one. */
export const refusedWith = (page: Page, giving: string, receiving: string): Promise<string> =>
  page.evaluate(
    async ([gives, receives]) => {
      const { token } = (await (await fetch('/api/session')).json()) as { token: string }
      const answer = await fetch('/api/trays', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', 'X-Geschenk-Token': token },
        body: JSON.stringify({ customer: 'A', contact: 'B', consent: true, giving: gives, receiving: receives }),
      })
      return answer.ok ? '' : ((await answer.json()) as { detail: string }).detail
    },
    [giving, receiving],
  )
export const cable = (page: Page, serial: string, megabytes: number) =>
  api(page, 'PUT', `/api/standin/phones/${serial}/cable`, { megabytes_per_second: megabytes })
/** One act of the hands, without leaving the page. */
export const act = (page: Page, serial: string, name: string, typed?: string) =>
  api(page, 'POST', `/api/standin/phones/${serial}/acts`, { act: name, ...(typed === undefined ? {} : { typed }) })
/** Has the account of a tray backed up once more. */
export const backUpAgain = (page: Page, tray: number): Promise<void> =>
  api(page, 'POST', `/api/trays/${tray}/moves/1/runs`, { kind: 'backup' })
/** What is kept lies at the second place too, as it does after a while. */
export async function place(page: Page): Promise<void> {
  // Where the watch has asked for it already, that one does it.
  await api(page, 'POST', '/api/second-place/runs', {}).catch(() => undefined)
  await expect
    .poll(async () => ((await (await page.request.get('/api/second-place')).json()) as { run: unknown }).run)
    .toBeNull()
}
/** The code that has come to a phone, as its owner reads it out. */
export const codeOn = (page: Page, serial: string): Promise<string> =>
  page.evaluate(async (wanted) => {
    const answer = (await (await fetch('/api/standin/phones')).json()) as {
      phones: { serial: string; codes: string[] }[]
    }
    return answer.phones.find((p) => p.serial === wanted)?.codes[0]?.slice(-6) ?? ''
  }, serial)
export const plug = (page: Page, serial: string, isIn: boolean) => act(page, serial, isIn ? 'plug' : 'unplug')

/** SIGKILL to every worker of this demonstration, as a power cut or an administrator in a hurry would. */
export function killWorkers(): number {
  const pids = readdirSync('/proc').filter((name) => {
    if (!/^\d+$/.test(name)) return false
    try {
      const line = readFileSync(`/proc/${name}/cmdline`, 'utf8')
      return (
        line.startsWith('php\0') &&
        line.includes('messenger:consume') &&
        readFileSync(`/proc/${name}/environ`, 'utf8').includes(`GESCHENK_DATA=${data}\0`)
      )
    } catch {
      return false
    }
  })
  for (const pid of pids) process.kill(Number(pid), 'SIGKILL')
  return pids.length
}

export const dataFolder = (serial: string, app = 'otterpost'): string => `${data}/standin/phones/${serial}/data/${app}`

/** Runs the command line on the demonstration's data and gives its JSON. */
export function chats<T>(...words: string[]): { status: number; report: T } {
  const run = (): { status: number; out: string } => {
    try {
      return {
        status: 0,
        out: execFileSync('php', ['bin/console', ...words, '--json'], {
          env: { ...process.env, APP_ENV: 'demo', APP_DEBUG: '0', GESCHENK_DATA: data },
          encoding: 'utf8',
          maxBuffer: 64e6,
        }),
      }
    } catch (error) {
      const failed = error as { status: number; stdout: string }
      return { status: failed.status, out: failed.stdout }
    }
  }
  const { status, out } = run()
  return { status, report: JSON.parse(out) as T }
}

/** Hands the tray over: what is still open is named first, and looked at. */
export async function handOver(page: Page, press = 'Hand over', allTheSame = 'Hand over all the same'): Promise<void> {
  const button = page.getByRole('button', { name: press, exact: true })
  const dialog = page.getByRole('dialog')
  await button.click()
  await expect(async () => {
    expect((await dialog.isVisible()) || !(await button.isVisible())).toBe(true)
  }).toPass()
  if (await dialog.isVisible()) {
    await expectAccessible(page, 'still open')
    await dialog.getByRole('button', { name: allTheSame }).click()
    // While it is there it has the keys to itself.
    await expect(dialog).toHaveCount(0)
  }
}
