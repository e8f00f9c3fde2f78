import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { data } from '../../playwright.config'
import { expectAccessible, expectDrawn, signIn } from './bench'

/** A byte of the largest file of a backup is another one, as on a disk that grows old. */
function spoil(id: string): void {
  const folder = `${data}/backups/${id}.sealed`
  const files = readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .map((name) => `${folder}/${name}`)
    .filter((path) => statSync(path).isFile())
  const path = files.sort((a, b) => statSync(b).size - statSync(a).size)[0] ?? ''
  const bytes = readFileSync(path)
  const middle = bytes.length >> 1
  bytes.writeUInt8(bytes.readUInt8(middle) ^ 1, middle)
  writeFileSync(path, bytes)
}

test('what is kept lies at a second place too, and is mended from there', async ({ page }) => {
  await signIn(page, 'orla', 'wrapped-paper')
  await page.goto('/stand-in')
  const disk = page.getByRole('region', { name: 'Second disk' })
  await disk.getByRole('button', { name: 'Switch off' }).click()
  await disk.getByRole('link', { name: 'Second place' }).click()
  await page.getByRole('button', { name: 'Copy there now' }).click()
  await expect(page.getByText('The second place second-disk can’t be reached.')).toBeVisible()
  await expectAccessible(page, 'a second place that is not there')
  await page.getByRole('button', { name: 'Begin at another place' }).click()
  const dialog = page.getByRole('dialog')
  await expectDrawn(page, dialog)
  await expectAccessible(page, 'leaving a second place')
  await dialog.getByRole('button', { name: 'Back' }).click()

  await page.goto('/stand-in')
  await disk.getByRole('button', { name: 'Switch on' }).click()
  await disk.getByRole('link', { name: 'Second place' }).click()
  await page.getByRole('button', { name: 'Continue' }).click()
  await expect(page.getByRole('heading', { name: /^✓ All \d+ backups that are kept lie there too/ })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Copy there now' })).toBeVisible()

  await page.goto('/cupboard')
  await page.getByRole('link', { name: 'Ragnvald Tveit', exact: true }).click()
  await expect(page.getByText(/^A copy lies at the second place since/)).toBeVisible()
  spoil(page.url().split('/').at(-1) ?? '')
  await page.getByRole('button', { name: /^Read back/ }).click()
  const history = page.getByRole('list', { name: 'What became of it' })
  await expect(history.getByText('Mended with what lay at the second place')).toBeVisible()
  await expect(history.getByText('Read back: whole, to the last byte')).toBeVisible()
})
