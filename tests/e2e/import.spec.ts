import { execFileSync } from 'node:child_process'
import { cpSync, mkdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { expect, test, type Page } from '@playwright/test'
import { dataFolder, expectAccessible, signIn, stick } from './bench'

/** What a customer has elsewhere, on a stick or as a file, becomes a backup: through the interface, and looked into. */

const GREY = 'grey-stick'
/** Phones whose chats take some seconds, and some pieces. */
const SMALL = 'BRG0114460'
const MIDDLING = 'BRG0090233'

async function whose(page: Page, name: string): Promise<void> {
  await page.getByLabel('Customer', { exact: true }).fill(name)
  await page.getByLabel('Contact', { exact: true }).fill('at the counter')
  await page.getByLabel(/^The customer consents/).check()
}

async function open(page: Page): Promise<void> {
  await page.keyboard.press('c')
  await page.getByRole('link', { name: 'Import…' }).click()
  await expect(page.getByRole('heading', { name: 'Import', exact: true })).toBeVisible()
}

test('an old phone’s folder on a stick is imported, found and looked into', async ({ page }) => {
  mkdirSync(stick(GREY), { recursive: true })
  cpSync(dataFolder(SMALL), `${stick(GREY)}/an old phone/otterpost`, { recursive: true })
  await signIn(page)
  await open(page)
  const one = page.locator('label', { hasText: 'an old phone/otterpost' }).first()
  await expect(one).toContainText('A messenger’s data folder')
  await one.click()
  await expect(page.getByRole('button', { name: 'Import it' })).toBeDisabled()
  await expect(page.getByText('First say whose it is.')).toBeVisible()
  await whose(page, 'Old Phone')
  await expectAccessible(page, 'an import')
  await page.getByRole('button', { name: 'Import it' }).click()
  const list = page.getByRole('region', { name: 'Imported lately' })
  await expect(list.getByText(/^✓ Kept: Otterpost/)).toBeVisible()
  await expectAccessible(page, 'an import that was made')
  const came = await list.getByText(/ messages in /).innerText()
  await list.getByRole('link', { name: /Kept: Otterpost/ }).click()
  await expect(page.getByText(/^Imported, as tray/)).toBeVisible()
  const messages = /([\d,]+) messages/.exec(came)?.[1] ?? 'none'
  await expect(page.getByText(messages, { exact: true })).toBeVisible()

  await page.getByRole('link', { name: 'Look into its chats' }).click()
  await expect(page.getByRole('row').nth(1)).toBeVisible()
  await expectAccessible(page, 'what a backup holds')
  await page.getByRole('button', { name: 'Photos' }).click()
  await expect(page.getByText('Only the manager uncovers, and says why.')).toBeVisible()
  await page.getByRole('button', { name: 'Conversations' }).click()
  await page.getByRole('row').nth(1).getByRole('cell').first().click()
  await expect(page.getByRole('region', { name: 'Messages' })).toBeVisible()
  await expect(page.getByRole('button', { name: /^Uncover the texts/ })).toBeDisabled()
  await page.getByRole('link', { name: /Old Phone, Otterpost/ }).click()
  await page.getByRole('link', { name: 'Backup' }).click()
  await page.getByRole('link', { name: 'Old Phone' }).click()
  await expect(page.getByRole('region', { name: 'Trays' }).getByText('An import', { exact: true })).toBeVisible()
  rmSync(`${stick(GREY)}/an old phone`, { recursive: true })
})

test('a file is sent over a line that comes and goes, and imported', async ({ page, context }) => {
  const zip = `${tmpdir()}/geschenk-e2e-${process.pid}.zip`
  rmSync(zip, { force: true })
  // Put in as it is: then it is large enough for some pieces.
  execFileSync('7z', ['a', '-tzip', '-mx0', '-ppassed along', '-mem=AES256', zip, dataFolder(MIDDLING)], {
    stdio: 'ignore',
  })
  await signIn(page)
  await open(page)
  await page.getByLabel('A file on the computer in front of you').check()
  let pieces = 0
  await page.route('**/api/uploads/*', async (route) => {
    // The second piece comes, and its answer does not; the third does not come.
    if (route.request().method() !== 'PATCH') return route.continue()
    pieces += 1
    if (pieces === 2) await route.fetch()
    await (pieces === 2 || pieces === 3 ? route.abort() : route.continue())
  })
  await page.locator('input[type=file]').setInputFiles(zip)
  await expect(page.getByText(/The line is off/)).toBeVisible()
  await expect(page.getByText(/, all of it is here$/)).toBeVisible({ timeout: 30_000 })
  expect(pieces).toBeGreaterThan(3)
  await whose(page, 'Sent Along')
  await expect(page.getByText('It is locked: first type what opens it.')).toBeVisible()
  await page.getByLabel('What opens it', { exact: true }).fill('another')
  await page.getByRole('button', { name: 'Import it' }).click()
  const list = page.getByRole('region', { name: 'Imported lately' })
  const mine = list.getByRole('listitem').filter({ hasText: 'Sent Along' })
  await expect(mine.getByText(/The password does not open/)).toBeVisible()
  await expectAccessible(page, 'an import that waits')
  await mine.getByLabel('What opens it').fill('passed along')
  await mine.getByRole('button', { name: 'Continue' }).click()
  await expect(mine.getByText(/^✓ Kept: Otterpost/)).toBeVisible()
  rmSync(zip)
  await context.clearCookies()
})

test('of a phone that is gone, what her computer had comes as it was on a day', async ({ page }) => {
  await signIn(page)
  await page.goto('/stand-in')
  const hers = page.getByRole('listitem').filter({ hasText: 'Maren’s stick' })
  await expect(hers.getByText('“It is under: two oars, no boat”')).toBeVisible()
  await hers.getByRole('button', { name: 'Put in' }).click()
  await expect(hers.getByRole('button', { name: 'Pull out', exact: true })).toBeVisible()
  await open(page)
  await page.getByLabel('Maren’s stick').check()
  await expect(page.locator('label', { hasText: 'A computer’s backup of a phone' })).toContainText('under a password')
  await page.locator('label', { hasText: 'Slate 1 of Maren' }).click()
  await whose(page, 'Maren Holthe')
  await page.getByLabel('What opens it', { exact: true }).fill('two oars, no boat')
  await page.getByRole('button', { name: 'Import it' }).click()
  const mine = page
    .getByRole('region', { name: 'Imported lately' })
    .getByRole('listitem')
    .filter({ hasText: 'Maren Holthe' })
  const which = mine.getByRole('group', { name: 'Which of it' })
  await expect(which.getByRole('radio')).toHaveCount(3)
  await expect(mine.getByRole('button', { name: 'Continue' })).toBeDisabled()
  await expectAccessible(page, 'an import that asks which')
  // The shop of hers was on the phone on the second day alone.
  await expect(which.locator('label', { hasText: 'Otterpost Counter' })).toHaveCount(1)
  await which.getByRole('radio').last().check()
  await mine.getByRole('button', { name: 'Continue' }).click()
  await expect(mine.getByRole('link', { name: '✓ Kept: Otterpost', exact: true })).toBeVisible()
  await expect(which).toHaveCount(0)
  await page.goto('/stand-in')
  await hers.getByRole('button', { name: 'Pull out', exact: true }).click()
  await expect(hers.getByRole('button', { name: 'Put in' })).toBeVisible()
})
