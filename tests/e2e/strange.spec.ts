import { execFileSync } from 'node:child_process'
import { readdirSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { data } from '../../playwright.config'
import { chats, dataFolder, expectAccessible, signIn, stick } from './bench'

/** Phones that were prepared to do harm, through the whole story, while another tray goes on. */

test.describe.configure({ mode: 'serial' })

const GIVES = 'PREPARED1'
const RECEIVES = 'PREPARED2'
const OUR_WORDS = /SQLSTATE|Undefined|must be of type|Stack trace|\.php\b|Unexpected error/

let page: Page
const complaints: string[] = []

test.beforeAll(async ({ browser }) => {
  execFileSync('php', ['-d', 'memory_limit=512M', 'tests/Hostile/bench.php', `${data}/standin/phones`])
  page = await (await browser.newContext()).newPage()
  page.on('console', (message) => {
    if (message.type() === 'error' && !/status of (401|422|404)/.test(message.text())) complaints.push(message.text())
  })
  page.on('pageerror', (error) => complaints.push(error.message))
  page.on('dialog', (dialog) => {
    complaints.push(`a script of the phone ran: ${dialog.message()}`)
    void dialog.dismiss()
  })
  page.on('response', (answer) => {
    if (answer.status() >= 500) complaints.push(`${answer.url()}: ${answer.status()}`)
  })
  await signIn(page)
})
test.afterEach(async () => {
  expect(complaints.splice(0)).toEqual([])
  expect(await page.locator('body').innerText()).not.toMatch(OUR_WORDS)
})

async function openTray(customer: string, gives: string, receives: string): Promise<number> {
  await page.goto('/trays/new')
  await page.getByLabel('Customer', { exact: true }).fill(customer)
  await page.getByLabel('Contact', { exact: true }).fill('at the counter')
  const phone = (serial: string) => page.getByRole('article').filter({ hasText: serial })
  await phone(gives).getByRole('button', { name: 'Gives' }).click()
  await phone(receives).getByRole('button', { name: 'Receives' }).click()
  await page.getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Open the tray' }).click()
  await expect(page).toHaveURL(/\/trays\/\d+$/)
  return Number(page.url().split('/').pop())
}

test('a sealed backup that is a bomb is refused in words, and meanwhile another tray is served', async () => {
  const honest = await openTray('An honest customer', 'PREPARED5', 'PREPARED6')
  const tray = await openTray('<b>Bomb</b>', 'PREPARED3', 'PREPARED4')
  await page.getByLabel('Password', { exact: true }).fill('nine pale herons')
  await page.getByRole('button', { name: `Back up ${tray}-A` }).click()
  await page.goto(`/trays/${honest}`)
  await page.getByRole('button', { name: `Back up ${honest}-A` }).click()
  await expect(page.getByRole('button', { name: 'Convert for iOS' })).toBeVisible()
  await page.goto(`/trays/${tray}`)
  await expect(page.getByRole('heading', { name: `${tray}-A Otterpost: backup stopped` })).toBeVisible()
  await expect(page.getByText(/unpacks to more than \d+ MB/)).toBeVisible()
  await expectAccessible(page, 'a bomb')
})

test('a phone whose every text and number is hostile goes through the whole story', async () => {
  const tray = await openTray('"><script>alert(1)</script>', GIVES, RECEIVES)
  await expectAccessible(page, 'hostile: ready')
  await page.getByRole('button', { name: `Back up ${tray}-A` }).click()
  await expect(page.getByRole('button', { name: 'Convert for iOS' })).toBeVisible()
  await expectAccessible(page, 'hostile: look')
  // Each conversation can be read; the whole text of a huge message is not the page's.
  const titles = page.getByRole('region', { name: 'Conversations' }).getByRole('link')
  for (const index of [0, 3]) {
    await titles.nth(index).click()
    await expect(page.getByText('Texts are covered')).toBeVisible()
    await page.keyboard.press('u')
    await expect(page.getByText('onerror').first()).toBeVisible()
    await expectAccessible(page, 'hostile: ledger')
    await page.keyboard.press('u')
    await page.getByRole('link', { name: `Tray ${tray}, conversations` }).click()
  }
  await page.getByRole('button', { name: 'Convert for iOS' }).click()
  await expect(page.getByRole('heading', { name: 'The dry run adds up' })).toBeVisible()
  await expectAccessible(page, 'hostile: restore')
  await page.getByLabel('Type the tag').fill(`${tray}-B`)
  await page.getByRole('button', { name: `Restore onto ${tray}-B` }).click()
  await expect(page.getByRole('heading', { name: 'Ready to hand over' })).toBeVisible()
  const { status, report } = chats<{ totals: { messages: number; missing: number } }>(
    'chats:compare',
    dataFolder(GIVES),
    dataFolder(RECEIVES),
  )
  expect([status, report.totals.missing]).toEqual([0, 0])
  await page.getByRole('link', { name: 'Arrival check' }).click()
  await expect(page.getByRole('heading', { name: 'Everything that was meant to arrive is there' })).toBeVisible()
  await expectAccessible(page, 'hostile: arrival check')
  const sheet = await page.context().newPage()
  await sheet.goto(`/trays/${tray}/sheet`)
  await expect(sheet.getByText('Everything that was meant to arrive was read back')).toBeVisible()
  await expectAccessible(sheet, 'hostile: sheet')
  await sheet.close()
  // Taken home, its texts are texts: no script of the phone runs in the copy's pages either.
  await page.goto('/cupboard')
  await page.getByLabel('Look for').fill('alert(1)')
  await page.getByLabel('Look for').press('Enter')
  const found = page.getByRole('row').filter({ hasText: 'alert(1)' })
  await found.getByRole('link', { name: /alert\(1\)/ }).click()
  await page.getByRole('link', { name: 'Take for reading' }).click()
  for (const form of ['A table', 'People’s cards', 'For programs']) await page.getByLabel(form).check()
  await page.getByRole('button', { name: 'Take for reading' }).click()
  await expect(page.getByText(/read back from the stick/)).toBeVisible()
  await expectAccessible(page, 'hostile: copies')
  const copy = readdirSync(stick('grey-stick')).find((name) => name.includes('alert-1')) ?? ''
  const reader = await page.context().newPage()
  reader.on('dialog', (dialog) => {
    complaints.push(`a script of the phone ran from the copy: ${dialog.message()}`)
    void dialog.dismiss()
  })
  await reader.goto(`file://${stick('grey-stick')}/${copy}/index.html`)
  await reader.getByRole('searchbox').fill('onerror')
  await reader.getByRole('searchbox').press('Enter')
  await expect(reader.locator('#found li').first()).toContainText('<img src=x onerror=')
  for (const name of readdirSync(`${stick('grey-stick')}/${copy}/pages`).filter((file) => file.endsWith('.html'))) {
    await reader.goto(`file://${stick('grey-stick')}/${copy}/pages/${name}`)
    expect(await reader.locator('script, img[src="x"], [onerror]').count()).toBe(0)
  }
  await reader.close()
  await page.goto(`/trays/${tray}`)
  await page.keyboard.press('0')
  await expect(page.getByRole('link', { name: new RegExp(`Tray ${tray}.*alert\\(1\\)`) })).toBeVisible()
  await page.goto('/stand-in')
  const phone = page.getByRole('article').filter({ hasText: 'Empty One' })
  await expect(page.getByRole('article').first()).toBeVisible()
  // Whoever's it is: one customer after the other is opened.
  for (const owner of await page.getByRole('heading', { level: 2 }).getByRole('button').all()) {
    if (await phone.isVisible()) break
    await owner.click()
  }
  await expect(phone).toBeVisible()
})
