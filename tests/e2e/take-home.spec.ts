import { execFileSync } from 'node:child_process'
import { existsSync, readdirSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { act, backUpAgain, expectAccessible, signIn, stick } from './bench'

/** What customers take home to read: through the interface, onto a stick, and opened there as at home. */

const GREY = 'grey-stick'

async function openCopies(page: Page): Promise<string> {
  await page.keyboard.press('c')
  await page.getByLabel('Look for').fill('42')
  await page.getByLabel('Look for').press('Enter')
  await expect(page.getByRole('row')).toHaveCount(2)
  await page.getByRole('row').nth(1).getByRole('link').first().click()
  await page.getByRole('link', { name: 'Take for reading' }).click()
  await expect(page.getByRole('heading', { name: 'Take for reading' })).toBeVisible()
  return page.url()
}

async function hand(page: Page, what: string): Promise<void> {
  await page.goto('/stand-in')
  await page
    .getByRole('region', { name: 'Sticks' })
    .getByRole('listitem')
    .filter({ hasText: 'Grey stick' })
    .getByRole('button', { name: what, exact: true })
    .click()
}

test('a conversation goes home as pages that open with no network', async ({ page, browser }) => {
  await signIn(page)
  const copies = await openCopies(page)
  await expect(page.getByText('No copy of this backup has left the shop.')).toBeVisible()
  await page.getByLabel('Chosen conversations').check()
  await expect(page.getByText('Nothing of it is chosen.')).toBeVisible()
  const list = page.getByRole('group', { name: 'Chosen conversations' })
  const title = (await list.locator('bdi').first().innerText()).trim()
  await page.getByLabel('Look for a conversation').fill(title)
  await list.getByRole('checkbox').first().check()
  await expect(page.getByText(/ messages? in 1 conversation$/)).toBeVisible()
  await page.getByRole('checkbox', { name: /^On paper/ }).check()
  await expectAccessible(page, 'a copy')
  await page.getByRole('button', { name: 'Take for reading' }).click()
  await expect(page.getByText(/read back from the stick/)).toBeVisible()
  await expectAccessible(page, 'a copy that was taken')

  const copy = `${stick(GREY)}/${readdirSync(stick(GREY)).filter((name) => !name.includes('alert'))[0]}`
  execFileSync('sha256sum', ['--check', '--strict', '--quiet', 'SHA256SUMS'], { cwd: copy })
  const home = await browser.newContext({ offline: true })
  const reader = await home.newPage()
  const asked: string[] = []
  reader.on('request', (request) => asked.push(request.url()))
  await reader.goto(`file://${copy}/index.html`)
  await expect(reader.getByRole('row')).toHaveCount(2)
  await reader.getByRole('link', { name: title }).click()
  await expect(reader.getByRole('heading', { level: 1, name: title })).toBeVisible()
  const words = (await reader.locator('.text').first().innerText()).split(/\s+/).find((word) => word.length > 4) ?? ''
  await reader.goBack()
  await reader.getByRole('searchbox').fill(words.toUpperCase())
  await reader.getByRole('button', { name: 'Look' }).click()
  await reader.locator('#found a').first().click()
  await expect(reader.locator('article:target')).toBeVisible()
  // Each picture that it leads to is there, and shown.
  for (const picture of await reader.locator('img').all()) {
    await picture.scrollIntoViewIfNeeded()
    await expect.poll(() => picture.evaluate((one: HTMLImageElement) => one.naturalWidth)).toBeGreaterThan(0)
  }
  expect(asked.filter((url) => !url.startsWith('file:'))).toEqual([])
  await expectAccessible(reader, 'the pages at home')
  await home.close()

  // For the court: what stands on each page of paper is known again at the shop.
  const paper = readdirSync(`${copy}/pdf`).map((name) => `${copy}/pdf/${name}`)
  const read = execFileSync('pdftotext', ['-layout', paper[0] ?? '', '-'], { encoding: 'utf8' })
  expect(read).toContain(title)
  const code = /Check code ([0-9A-Z-]{14}):/.exec(read)?.[1] ?? ''
  const hash = /SHA-256 ([0-9a-f]{64})\s.*\n?.*Check code/.exec(read)?.[1] ?? ''
  await page.goto(copies.replace(/\/copies$/, ''))
  await page.getByText('A page on paper: is it ours?').click()
  const field = page.getByLabel('Check code on the page')
  await field.fill(code.replaceAll('-', ' ').toLowerCase())
  await field.press('Enter')
  await expect(page.getByText(/^The code is ours: /)).toBeVisible()
  await expect(page.getByText(`SHA-256 ${hash}`)).toBeVisible()
  await expectAccessible(page, 'a page that is known again')
  await field.fill(`${code.slice(0, -1)}${code.endsWith('0') ? '1' : '0'}`)
  await field.press('Enter')
  await expect(page.getByText(/^No copy that was taken of this backup has that code/)).toBeVisible()
})

test('photos alone go onto a stick that is pulled out in the middle', async ({ page }) => {
  await signIn(page)
  const copies = await openCopies(page)
  await hand(page, 'Pull out in the middle of the next copy')
  await page.goto(copies)
  await page.getByRole('checkbox', { name: /^Pages to read/ }).uncheck()
  await expect(page.getByText('Choose at least one form.')).toBeVisible()
  await page.getByRole('checkbox', { name: /^The files alone/ }).check()
  for (const kind of ['text', 'videos', 'voice and audio', 'documents', 'stickers'])
    await page.getByRole('checkbox', { name: kind, exact: true }).uncheck()
  const before = readdirSync(stick(GREY))
  await page.getByRole('button', { name: 'Take for reading' }).click()
  await expect(page.getByText('The stick “Grey stick” is not in.')).toBeVisible()
  await expect(page.getByText('No stick is in.')).toBeVisible()
  expect(existsSync(stick(GREY))).toBe(false)
  await expectAccessible(page, 'a stick that was pulled out')
  await hand(page, 'Put in')
  await page.goto(copies)
  await expect(page.getByText(/read back from the stick/).first()).toBeVisible()
  const made = readdirSync(stick(GREY)).filter((name) => !before.includes(name))
  expect(made).toHaveLength(1)
  expect(readdirSync(`${stick(GREY)}/${made[0]}/files`)).toEqual(['photos'])
})

test('a later backup is held against the first', async ({ page }) => {
  await signIn(page)
  await act(page, 'BRG0114460', 'message_comes otterpost')
  await backUpAgain(page, 42)
  await page.keyboard.press('c')
  await page.getByLabel('Look for').fill('42')
  await expect(async () => {
    await page.getByLabel('Look for').press('Enter')
    await expect(page.getByRole('row')).toHaveCount(3, { timeout: 2_000 })
  }).toPass()
  await page.getByRole('row').nth(1).getByRole('link').first().click()
  await page.getByRole('link', { name: 'Hold against an earlier one' }).click()
  await page.getByRole('button', { name: 'Hold against this one' }).click()
  await expect(page.getByRole('heading', { name: /^Between / })).toBeVisible()
  await expect(page.getByText('1 came', { exact: true })).toBeVisible()
  await expect(page.getByRole('img', { name: /by month: 0 went, 1 came/ }).first()).toBeVisible()
  await expectAccessible(page, 'two backups against each other')
})
