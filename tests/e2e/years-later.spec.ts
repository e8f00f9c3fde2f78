import { expect, test } from '@playwright/test'
import { choose, dataFolder, chats, expectAccessible, handOver, signIn } from './bench'

const PHONE = 'LSL2260907'

test('a backup that is kept is found again and brought onto a phone', async ({ page }) => {
  await signIn(page)
  // The job ended without a hand-over, and the customer let the shop keep what was backed up.
  await page.goto('/trays/43/intake')
  await page.getByRole('button', { name: 'End without a hand-over…' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('radio', { name: /^Keep what was backed up/ }).check()
  await dialog.getByRole('textbox').fill('43')
  await dialog.getByRole('button', { name: 'End the tray' }).click()
  await expect(dialog).toHaveCount(0)

  await page.goto('/trays/new')
  await page.getByRole('radio', { name: 'A backup that is kept' }).check()
  const kept = page.getByRole('region', { name: 'Backups that are kept' })
  const words = kept.getByLabel('Customer, number or tray')
  await words.fill('nobody of that name')
  await kept.getByRole('button', { name: 'Find' }).click()
  await expect(kept.getByText('No kept backup matches')).toBeVisible()
  await words.fill('tveit 43')
  await words.press('Enter')
  await expect(kept.getByRole('checkbox')).toHaveCount(1)
  await kept.getByRole('checkbox').check()
  await expect(page.getByLabel('Customer', { exact: true })).toHaveValue('Ragnvald Tveit')
  const phone = page.getByRole('article').filter({ hasText: PHONE })
  await phone.getByRole('button', { name: 'This one' }).click()
  await page.getByRole('checkbox', { name: /the kept backup is read/ }).check()
  await expectAccessible(page, 'a tray for a kept backup')
  await page.getByRole('button', { name: 'Open the tray' }).click()

  await expect(page.getByRole('button', { name: 'Convert for iOS' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Change which phone gives…' })).toHaveCount(0)
  const tray = /\/trays\/(\d+)/.exec(page.url())?.[1] ?? ''
  await choose(page, 'A trial first', 'the newest 20 of each conversation')
  await page.getByRole('button', { name: 'Convert for iOS' }).click()
  await page.getByLabel('Type the tag').fill(`${tray}-A`)
  await page.getByRole('button', { name: `Restore onto ${tray}-A` }).click()
  // This phone loses files behind a restore: the trial shows it, and they come with the rest.
  await expect(page.getByRole('heading', { name: /^4 files missing/ })).toBeVisible()
  await expect(page.getByText(`Only a trial is on ${tray}-A.`)).toBeVisible()
  await page.getByRole('button', { name: 'Bring the rest' }).click()
  await page.getByLabel('Type the tag').fill(`${tray}-A`)
  await page.getByRole('button', { name: `Merge into ${tray}-A` }).click()
  await expect(page.getByRole('heading', { name: 'Ready to hand over' })).toBeVisible()
  expect(chats<{ messages: number }>('chats:inspect', dataFolder(PHONE)).report.messages).toBeGreaterThan(3_000)

  await page.goto(`/trays/${tray}/accounts/1/check`)
  await expect(page.getByRole('heading', { name: /^Backup of / })).toBeVisible()
  // Each check tells what it was of.
  await page.getByRole('combobox', { name: 'Earlier checks' }).press('ArrowDown')
  await expect(page.getByRole('option', { name: /A part to begin with/ })).toBeVisible()
  await expect(page.getByRole('option', { name: /The rest, on top of that part/ })).toBeVisible()
  await page.keyboard.press('Escape')
  await expectAccessible(page, 'what a kept backup came to')
  await page.goto(`/trays/${tray}/sheet`)
  await expect(page.getByText('taken in tray 43')).toBeVisible()
  await expect(page.getByText('Brought in several goes')).toBeVisible()
  await page.goto(`/trays/${tray}/hand_over`)
  await handOver(page)

  // What another tray has brought is its first tray's still, and is erased there.
  await page.goto('/trays/43')
  await expect(page.getByRole('region', { name: 'What the shop keeps' })).toBeVisible()
})
