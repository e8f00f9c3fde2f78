import { execFileSync } from 'node:child_process'
import { expect, test, type Page } from '@playwright/test'
import { data } from '../../playwright.config'
import { chats, expectAccessible, handOver, signIn } from './bench'

test.describe.configure({ mode: 'serial' })

/** The words of one language, as somebody reads them on the screens. */
const WORDS = {
  en: {
    newTray: 'New tray',
    customer: 'Customer',
    contact: 'Contact',
    gives: 'Gives',
    receives: 'Receives',
    open: 'Open the tray',
    ready: 'Both phones are ready',
    backUp: (tag: string) => `Back up 2 accounts of ${tag}`,
    convert: 'Convert for iOS',
    addsUp: 'The dry run adds up',
    tag: 'Type the tag',
    restore: (tag: string) => `Restore onto ${tag}`,
    arrived: 'Everything that was meant to arrive is there',
    check: 'Arrival check',
    handOver: 'Hand over',
    handOverAllTheSame: 'Hand over all the same',
    readyToHandOver: 'Ready to hand over',
    sheet: 'Everything that was meant to arrive was read back from the receiving phone and is there.',
    month: /\d{1,2} [A-Z][a-z]{2} 2026/,
    closed: 'Handed over',
    light: 'Light colours',
  },
  de: {
    newTray: 'Neuer Korb',
    customer: 'Kunde',
    contact: 'Kontakt',
    gives: 'Gibt',
    receives: 'Empfängt',
    open: 'Korb öffnen',
    ready: 'Beide Telefone sind bereit',
    backUp: (tag: string) => `2 Konten von ${tag} sichern`,
    convert: 'Für iOS umwandeln',
    addsUp: 'Die Probe geht auf',
    tag: 'Eintippen, was auf dem Etikett am Telefon steht',
    restore: (tag: string) => `Auf ${tag} zurückspielen`,
    arrived: 'Alles ist da, was ankommen sollte',
    check: 'Ankunft prüfen',
    handOver: 'Übergeben',
    handOverAllTheSame: 'Trotzdem übergeben',
    readyToHandOver: 'Bereit zur Übergabe',
    sheet: 'Alles, was ankommen sollte, wurde vom empfangenden Telefon zurückgelesen und ist da.',
    month: /\d{1,2}\. [A-Z][a-zä]+\.? 2026/,
    closed: 'Übergeben',
    light: 'Helle Farben',
  },
} as const
const LANGUAGES = { en: 'English', de: 'Deutsch' } as const
const ACCOUNTS = [
  { place: 1, app: 'otterpost', edition: 'Otterpost' },
  { place: 2, app: 'otterpost.counter', edition: 'Otterpost Counter' },
] as const

let page: Page
test.beforeAll(async ({ browser }) => {
  page = await (await browser.newContext({ locale: 'en-GB' })).newPage()
  for (const name of ['EN', 'DE'])
    execFileSync('php', ['tests/e2e/two-accounts.php', `${data}/standin/phones`, `TWIN${name}1`, `TWIN${name}2`])
  await signIn(page)
})
test.afterAll(async () => {
  await speak(page, 'en')
  await page.context().close()
})

/** Has the page speak a language: its bar offers the other one, and it is looked at once it is drawn. */
async function speak(page: Page, language: 'en' | 'de'): Promise<void> {
  await page.goto('/')
  const wanted = page.getByRole('button', { name: LANGUAGES[language], exact: true })
  const other = page.getByRole('button', { name: LANGUAGES[language === 'en' ? 'de' : 'en'], exact: true })
  await expect(wanted.or(other)).toBeVisible()
  if (await wanted.isVisible()) await wanted.click()
  await expect(other).toBeVisible()
}

for (const language of ['de', 'en'] as const) {
  const w = WORDS[language]
  const [gives, receives] = [`TWIN${language.toUpperCase()}1`, `TWIN${language.toUpperCase()}2`]

  test(`two accounts on one phone go across, one after the other: ${LANGUAGES[language]}`, async () => {
    await speak(page, language)
    await page.getByRole('link', { name: w.newTray }).click()
    await page.getByLabel(w.customer, { exact: true }).fill('Ines Carvalhal')
    await page.getByLabel(w.contact, { exact: true }).fill('+44 7700 900361')
    const giving = page.getByRole('article', { name: `Kestrelworks ${gives}` })
    await expect(giving).toContainText('Otterpost Counter')
    await giving.getByRole('button', { name: w.gives, exact: true }).click()
    await page
      .getByRole('article', { name: `Kestrelworks ${receives}` })
      .getByRole('button', { name: w.receives, exact: true })
      .click()
    await page.getByRole('checkbox').check()
    await page.getByRole('button', { name: w.open }).click()
    await expect(page).toHaveURL(/\/trays\/\d+$/)
    const number = Number(/\d+$/.exec(page.url())?.[0])
    const tray = `/trays/${number}`
    await expect(page.getByRole('heading', { name: w.ready })).toBeVisible()
    // In English the story does it.
    if (language === 'de') await expectAccessible(page, 'German, ready')
    // Both are asked for with one press.
    const asked = page.waitForResponse((answer) => answer.url().endsWith('/backups'))
    await page.getByRole('button', { name: w.backUp(`${number}-A`) }).click()
    await asked
    for (const { place, edition } of ACCOUNTS) {
      await page.goto(`${tray}/accounts/${place}`)
      const convert = page.getByRole('button', { name: w.convert })
      await expect(convert).toBeVisible()
      await convert.click()
      await expect(page.getByRole('heading', { name: w.addsUp })).toBeVisible()
      await expect(page.locator('.confirm h2')).toContainText(edition)
      await page.getByLabel(w.tag).fill(`${number}-B`)
      await page.getByRole('button', { name: w.restore(`${number}-B`) }).click()
    }
    await expect(page.getByRole('heading', { name: w.readyToHandOver })).toBeVisible()
    // Each account has its own progress, losses, check and line; the rest stands once.
    for (const { place, app, edition } of ACCOUNTS) {
      const { status, report } = chats<{ totals: { messages: number; missing: number } }>(
        'chats:compare',
        `${data}/standin/phones/${gives}/data/${app}`,
        `${data}/standin/phones/${receives}/data/${app}`,
      )
      expect([status, report.totals.missing]).toEqual([0, 0])
      await page.goto(`${tray}/accounts/${place}/check`)
      await expect(page.getByRole('heading', { name: w.arrived })).toBeVisible()
      await expect(page.locator('.sum').first()).toContainText(
        report.totals.messages.toLocaleString(language === 'de' ? 'de-DE' : 'en-GB'),
      )
      await expect(page.getByRole('link', { name: edition }).first()).toBeVisible()
      if (language === 'de') await expectAccessible(page, `German, ${edition}`)
    }
    const sheet = await page.context().newPage()
    await sheet.goto(`${tray}/sheet`)
    await expect(sheet.locator('html')).toHaveAttribute('lang', language)
    await expect(sheet.getByText(w.sheet)).toBeVisible()
    await expect(sheet.locator('h2.account')).toHaveText([/^Otterpost, \+44/, /^Otterpost Counter, \+44/])
    await expect(sheet.locator('.when').first()).toHaveText(w.month)
    if (language === 'de') await expectAccessible(sheet, 'German, sheet')
    await sheet.close()
    await page.goto(`${tray}/hand_over`)
    await handOver(page, w.handOver, w.handOverAllTheSame)
    await expect(page.getByRole('heading', { name: w.closed, exact: true })).toBeVisible()
  })
}

test('nothing but the other language is left on a screen', async () => {
  await speak(page, 'de')
  const english = /\b(the|and|phone|tray|backup|messages?|conversations?|waits|nothing)\b/i
  for (const address of ['/', '/trays/new', '/stand-in', '/trays/43', '/trays/43/accounts/1/choose', '/nowhere']) {
    await page.goto(address)
    await page.waitForLoadState('networkidle').catch(() => undefined)
    await page.waitForTimeout(1_500)
    const said = await page.evaluate(() =>
      [...document.querySelectorAll('h1, h2, h3, button, label, th, dt, .soft, .what, .how, .facts li')]
        .filter((element) => element.closest('bdi, .clip, .title') === null)
        .map((element) => (element.textContent ?? '').trim()),
    )
    expect(said.length).toBeGreaterThan(0)
    expect(said.filter((text) => english.test(text) && !/[äöüß]/.test(text))).toEqual([])
  }
})
