import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { data } from '../../playwright.config'
import {
  act,
  atDesk,
  cable,
  chats,
  choose,
  codeOn,
  dataFolder,
  expectAccessible,
  expectDrawn,
  GIVING,
  handOver,
  hands,
  killWorkers,
  place,
  plug,
  RECEIVING,
  refusedWith,
  signIn,
} from './bench'

test.describe.configure({ mode: 'serial' })

interface Totals {
  messages: number
  arrived: number
  changed: number
  left_out: number
  missing: number
}
const n = (value: number) => value.toLocaleString('en-GB')
const TRAY = 44
/** The phone that receives in tray 42. */
const CONDUCTORS = 'LSL2261544'

let page: Page
const complaints: string[] = []

test.beforeAll(async ({ browser }) => {
  page = await (await browser.newContext()).newPage()
  // Nothing on any page may break the content security policy, and nothing may fail unseen.
  page.on('console', (message) => {
    if (message.type() === 'error' && !/status of (401|422|404)/.test(message.text())) complaints.push(message.text())
  })
  page.on('pageerror', (error) => complaints.push(error.message))
})
test.afterEach(() => {
  expect(complaints.splice(0)).toEqual([])
})

test('signing in: refused and let in', async () => {
  await page.goto('/trays/43')
  await expectAccessible(page, 'sign in')
  await page.getByLabel('Name').fill('jette')
  await page.getByLabel('Password').fill('wrong')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('alert')).toHaveText('Name or password is wrong.')
  await signIn(page)
})

test('the shelf has those that wait for a person first and says on which phone', async () => {
  const rows = page.getByRole('region', { name: 'Waits for a person' }).getByRole('link')
  await expect(rows).toHaveCount(3)
  await expect(rows.filter({ hasText: 'Yusuke Amari' })).toContainText('Holds chats already')
  await expectAccessible(page, 'shelf')
})

test('a new tray: customer, consent, two phones, roles', async () => {
  await page.keyboard.press('n')
  await expect(page.getByRole('heading', { name: 'New tray' })).toBeVisible()
  await expect(page.getByRole('article', { name: 'Kestrelworks Fathom 4' })).toContainText('not readable yet')
  await expectAccessible(page, 'new tray')
  await page.getByLabel('Customer', { exact: true }).fill('Mathilda Oyelaran')
  await page.getByLabel('Contact', { exact: true }).fill('+44 7700 900104')
  await page.getByRole('article', { name: 'Kestrelworks Fathom 4' }).getByRole('button', { name: 'Gives' }).click()
  await page.getByRole('article', { name: 'Lindenau Slate 2' }).getByRole('button', { name: 'Receives' }).click()
  const open = page.getByRole('button', { name: 'Open the tray' })
  await expect(open).toBeDisabled()
  await page.getByRole('checkbox').check()
  await open.click()
  await expect(page).toHaveURL(`/trays/${TRAY}`)
})

test('readiness turns ready by itself as it is done on the phones', async () => {
  const giving = page.getByRole('article', { name: `Phone ${TRAY}-A` })
  await expect(giving.getByText('USB debugging on: to do')).toBeVisible()
  await expect(page.getByRole('button', { name: `Back up ${TRAY}-A` })).toBeDisabled()
  await expectAccessible(page, 'ready')
  const desk = await page.context().newPage()
  await hands(
    desk,
    'Kestrelworks Fathom 4',
    'Unlock the screen',
    'Tap the build number seven times',
    'Switch USB debugging on',
  )
  await expectAccessible(desk, 'stand-in desk')
  // The tray's page is not touched: it sees for itself.
  await expect(giving.getByText('USB debugging on: ready')).toBeVisible()
  await expect(giving.getByText('This computer allowed: to do')).toBeVisible()
  await hands(desk, 'Kestrelworks Fathom 4', 'Answer “Allow”')
  await hands(desk, 'Lindenau Slate 2', 'Answer “Trust”')
  await expect(page.getByRole('article', { name: `Phone ${TRAY}-B` }).getByText('Theft lock off: to do')).toBeVisible()
  await hands(desk, 'Lindenau Slate 2', 'Switch the theft lock off')
  await desk.close()
  await expect(page.getByRole('heading', { name: 'Both phones are ready' })).toBeVisible()
  // Swapped roles would be seen: each phone says what it holds.
  const { report } = chats<{ messages: number; conversations: number }>('chats:inspect', dataFolder(GIVING))
  expect(report.messages).toBeGreaterThan(20_000)
  await expect(page.getByRole('region', { name: `Phone ${TRAY}-A, gives` })).toContainText(
    `${n(report.messages)} messages in ${report.conversations} conversations`,
  )
  await expect(page.getByRole('region', { name: `Phone ${TRAY}-B, receives` })).toContainText('no chats')
})

test('the backup survives a killed worker, a pulled cable and a reload', async () => {
  await cable(page, GIVING, 2)
  await page.getByRole('button', { name: `Back up ${TRAY}-A` }).click()
  await expect(page.getByText('Copying from the phone')).toBeVisible()
  await expect(page.getByText(/a second/)).toBeVisible()
  await expect(page).toHaveTitle(/%/)
  expect(killWorkers()).toBeGreaterThan(0)
  await page.reload()
  await expect(page.getByRole('heading', { name: `Backing up Otterpost of ${TRAY}-A` })).toBeVisible()
  await plug(page, GIVING, false)
  await expect(page.getByRole('heading', { name: /backup interrupted/ })).toBeVisible()
  await expect(page.getByText(`Phone ${TRAY}-A is not connected.`)).toBeVisible()
  await plug(page, GIVING, true)
  await expect(page.getByText(/until you are needed|then you are needed/i)).toBeVisible()
  await act(page, GIVING, 'lock')
  await expect(page.getByText(`Phone ${TRAY}-A has locked itself.`)).toBeVisible()
  await act(page, GIVING, 'unlock')
  await page.getByRole('button', { name: 'Pause' }).click()
  await expect(page.getByRole('heading', { name: /backup paused/ })).toBeVisible()
  await expectAccessible(page, 'paused')
  await page.getByRole('button', { name: 'Cancel…' }).click()
  const sure = page.getByRole('dialog', { name: 'Cancel this backup?' })
  await expectDrawn(page, sure)
  await sure.getByRole('button', { name: 'Back', exact: true }).click()
  await page.getByRole('button', { name: 'Continue' }).click()
  await expect(page.getByRole('heading', { name: `Backing up Otterpost of ${TRAY}-A` })).toBeVisible()
  // Switching trays stops nothing.
  await page.keyboard.press('3')
  await expect(page).toHaveURL('/trays/43')
  await cable(page, GIVING, 0)
  await page.keyboard.press('4')
  await expect(page.getByRole('group', { name: 'Look through' })).toBeVisible()
  const { report } = chats<{ messages: number }>('chats:inspect', dataFolder(GIVING))
  const id = readdirSync(`${data}/backups`).sort().reverse()[0] ?? ''
  expect(chats<{ messages: number; form: string }>('chats:inspect', `${data}/backups/${id}`).report).toMatchObject({
    form: 'backup',
    messages: report.messages,
  })
})

test('looking: covered ledger, uncovering, a day, a reply', async () => {
  await expectAccessible(page, 'choose')
  await page.getByRole('link', { name: 'Committee' }).click()
  await expect(page.getByRole('heading', { name: 'Committee' })).toBeVisible()
  await expect(page.getByText('Texts are covered')).toBeVisible()
  await expect(page.getByLabel(/Covered text of/).first()).toBeVisible()
  await expect(page.getByText('I hand in the phone now')).toHaveCount(0)
  await expectAccessible(page, 'ledger, covered')
  await page.keyboard.press('u')
  // The newest slip sat in the write-ahead log alone.
  await expect(page.getByText('I hand in the phone now')).toBeVisible()
  await expectAccessible(page, 'ledger, uncovered')
  await page.getByTitle('Show the whole text').last().click()
  await expectDrawn(page, page.getByRole('dialog', { name: 'The whole text' }))
  await page.keyboard.press('Escape')
  await page.getByLabel('Go to a day').fill('1.3.2023')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/Mar 2023|Apr 2023/).first()).toBeVisible()
  await page.getByRole('button', { name: 'Cover the texts' }).click()
  await expect(page.getByText('Texts are covered')).toBeVisible()
  await page.getByRole('link', { name: `Tray ${TRAY}, conversations of Otterpost` }).click()
})

test('all conversations are looked through by kind and for words, covered until uncovered', async () => {
  const ways = page.getByRole('group', { name: 'Look through' })
  await ways.getByRole('button', { name: 'Photos' }).click()
  await expect(page.getByRole('link', { name: /^photo / }).first()).toBeVisible()
  await expect(page.locator('.tiles img')).toHaveCount(0)
  await expectAccessible(page, 'photos, covered')
  await page.getByRole('button', { name: 'Uncover all' }).click()
  const picture = page.locator('.tiles img').first()
  await expect(picture).toBeVisible()
  await expect.poll(() => picture.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBeGreaterThan(10)
  await expectAccessible(page, 'photos, uncovered')
  await ways.getByRole('button', { name: 'Find in texts' }).click()
  await page.getByRole('textbox', { name: 'Words in all texts' }).fill('HAND IN the phone')
  await page.keyboard.press('Enter')
  await expect(page.locator('mark').first()).toHaveText('hand in the phone')
  await expectAccessible(page, 'words found')
  // Whoever goes there finds it covered, at the message that was found; and covered again behind.
  await page.locator('.hits a').first().click()
  await expect(page.getByText('Texts are covered')).toBeVisible()
  await page.getByRole('link', { name: `Tray ${TRAY}, conversations of Otterpost` }).click()
  await ways.getByRole('button', { name: 'Links' }).click()
  await expect(page.getByRole('button', { name: 'Uncover all' })).toBeVisible()
  await ways.getByRole('button', { name: 'Conversations' }).click()
})

test('the ledger shows every kind and mark', async () => {
  await page.getByRole('link', { name: 'Swarm alarm' }).click()
  await expect(page.getByRole('heading', { name: 'Swarm alarm' })).toBeVisible()
  await page.mouse.move(600, 500)
  /** Turns the wheel until something comes into sight. */
  const find = async (text: string, step: number) => {
    const place = page.getByText(text).first()
    // And back, should it have been passed before it was drawn.
    for (let n = 0; n < 90 && !(await place.isVisible()); n += 1) {
      await page.mouse.wheel(0, n < 30 ? step : -step)
      await page.waitForTimeout(150)
    }
    await expect(place).toBeVisible()
  }
  // Covered, a poll is its votes and nothing else.
  await find('Poll, 3 votes', -200)
  await expect(page.getByText('Poll, 3 votes', { exact: true })).toBeVisible()
  await page.keyboard.press('u')
  await expect(page.getByText('Texts are uncovered')).toBeVisible()
  for (const part of [
    'Poll, 3 votes: St Olave’s hall (2)',
    'edited',
    'answers in another conversation',
    'Place: St Olave’s hall, Mill Lane 4',
    'Contact card: Hall keeper',
    'Preview: Book the hall',
    'Catalogue item, Lime honey, 250 g, 6.50 GBP',
    'Call, missed',
    'swarm.mp4',
    'The queen piping.wav',
    'view once',
    'Photo, viewed and gone',
    'Deleted',
    'joined by a link',
    ': 7 days',
  ])
    await find(part, 120)
  await expectAccessible(page, 'ledger, every kind')
  await page.keyboard.press('u')
  await page.getByRole('link', { name: `Tray ${TRAY}, conversations of Otterpost` }).click()
})

test('converting lists every loss and tallies', async () => {
  await page.getByRole('button', { name: 'Convert for iOS' }).click()
  await expect(page.getByRole('heading', { name: 'The dry run adds up' })).toBeVisible()
  await expect(page.getByText('no broadcast lists')).toBeVisible()
  await expect(page.getByText('of a kind that Geschenk does not know')).toBeVisible()
  await expect(page.getByText('3 attachments had no file on the giving phone')).toBeVisible()
  await expectAccessible(page, 'restore, before')
})

test('the number is registered, with a wrong code first and the card in the old phone', async () => {
  const NUMBER = '+447700900104'
  await act(page, RECEIVING, 'register otterpost', NUMBER)
  const check = page.getByRole('region', { name: `The number of Otterpost on ${TRAY}-B` })
  await expect(check).toContainText('asks how the code shall come')
  await act(page, RECEIVING, 'ask_text otterpost')
  await expect(check).toContainText('2 of 3 left today')
  await expect(check.getByRole('timer')).toHaveText(/the next in 00:[0-5]\d/)
  await expectAccessible(page, 'number check')
  await expect(act(page, RECEIVING, 'enter_code otterpost', 'wrong')).rejects.toThrow('422')
  expect(await codeOn(page, RECEIVING)).toBe('')
  await act(page, RECEIVING, 'enter_code otterpost', await codeOn(page, GIVING))
  await expect(check).toContainText('two-step PIN')
  await act(page, RECEIVING, 'enter_pin otterpost', '2580')
  await expect(check).toContainText(`${TRAY}-A is signed out`)
  await expect(page.getByText('Otterpost asks whether it shall fetch a backup of its own')).toBeVisible()
  await act(page, RECEIVING, 'decline_cloud otterpost')
  await expect(page.getByLabel('Type the tag')).toBeVisible()
})

test('the restore asks for the tag and survives a killed worker and a pulled cable', async () => {
  const restore = page.getByRole('button', { name: `Restore onto ${TRAY}-B` })
  const before = readdirSync(dataFolder(RECEIVING))
  await page.getByLabel('Type the tag').fill(`${TRAY}-A`)
  await expect(restore).toBeDisabled()
  await page.getByLabel('Type the tag').fill(`${TRAY}-b`)
  await cable(page, RECEIVING, 3)
  await restore.click()
  await expect(page.getByText('Copying to the phone')).toBeVisible()
  await expect(page.getByText(/[1-9] of [\d,]+/).first()).toBeVisible()
  expect(killWorkers()).toBeGreaterThan(0)
  expect(readdirSync(dataFolder(RECEIVING))).toEqual(before)
  await plug(page, RECEIVING, false)
  await expect(page.getByRole('heading', { name: /restore interrupted/ })).toBeVisible()
  expect(readdirSync(dataFolder(RECEIVING))).toEqual(before)
  await cable(page, RECEIVING, 0)
  await plug(page, RECEIVING, true)
  await expect(page.getByRole('heading', { name: 'Ready to hand over' })).toBeVisible()
})

test('the arrival check adds up, and to the same as the command line', async () => {
  const { status, report } = chats<{ totals: Totals }>('chats:compare', dataFolder(GIVING), dataFolder(RECEIVING))
  const t = report.totals
  expect(status).toBe(0)
  expect(t.arrived + t.changed + t.left_out + t.missing).toBe(t.messages)
  await page.getByRole('link', { name: 'Arrival check' }).click()
  await expect(page.getByRole('heading', { name: 'Everything that was meant to arrive is there' })).toBeVisible()
  await expect(page.locator('.sum')).toHaveText(
    new RegExp(
      `${n(t.arrived)} arrived \\+ ${n(t.changed)} changed as listed \\+ ${n(t.left_out)} stay in the backup \\+ 0 missing = ${n(t.messages)} in the backup`,
    ),
  )
  await page
    .getByRole('group', { name: 'Show' })
    .getByRole('button', { name: /stays in the backup/ })
    .click()
  await expect(page.getByRole('region', { name: 'Conversations compared' })).toContainText('Newsletter recipients')
  // The widest view stays out of the dock's way.
  const work = await page.locator('.check').boundingBox()
  const dock = await page.getByRole('complementary', { name: 'The two phones' }).boundingBox()
  expect((work?.x ?? 0) + (work?.width ?? 0)).toBeLessThanOrEqual(dock?.x ?? 0)
  await expectAccessible(page, 'arrival check')
})

test('the phone that loses files is found out exactly', async () => {
  await page.keyboard.press('3')
  await page.getByLabel('Type the tag').fill('43-B')
  await page.getByRole('button', { name: 'Restore onto 43-B' }).click()
  // The machine works; meanwhile the technician is elsewhere and is called by the title.
  await expect(page.getByRole('heading', { name: /Restoring Otterpost onto|Reading Otterpost back/ })).toBeVisible()
  await page.keyboard.press('0')
  await expect(page).toHaveTitle(/● 43: waiting for you/)
  await page
    .getByRole('link', { name: /Ragnvald Tveit/ })
    .last()
    .click()
  const headline = page.getByRole('heading', { name: /files missing, in 2 conversations/ })
  await expect(headline).toBeVisible()
  const { status, report } = chats<{ totals: Totals; reasons: Record<string, number> }>(
    'chats:compare',
    dataFolder('BRG0090233'),
    dataFolder('LSL2260907'),
  )
  expect(status).toBe(1)
  expect(report.reasons).toEqual({ attachment_not_there: report.totals.missing })
  expect(report.totals.missing).toBeGreaterThan(20)
  await expect(headline).toHaveText(
    `${n(report.totals.missing)} files missing, in 2 conversations; the messages are there`,
  )
  await page.getByRole('button', { name: /MF Solvåg crew.*\d+ missing/ }).click()
  const rows = page.locator('.inner tbody tr')
  await expect(rows.first()).toContainText('message there, file missing')
  const crew = Number((await page.locator('.verdict.missing').first().innerText()).replace(/\D/g, ''))
  await expect(rows).toHaveCount(crew)
  await expectAccessible(page, 'arrival check with a hole')
})

test('handing over: the sheet and the end of the tray', async () => {
  await page.keyboard.press('4')
  await expectAccessible(page, 'hand over')
  const still = page.getByRole('region', { name: `Still to happen on ${TRAY}-B` })
  await expect(still).toContainText('Open Otterpost')
  for (const name of ['open', 'allow_contacts', 'allow_photos']) await act(page, RECEIVING, `${name} otterpost`)
  await expect(still).toContainText('the messenger is ready')
  const back = page.getByRole('list', { name: 'To switch back' })
  await expect(back.locator('li:not(.done)')).not.toHaveCount(0)
  await act(page, GIVING, 'debugging_off')
  await expect(back.locator('li:not(.done)')).toHaveText([/theft lock/])
  await act(page, RECEIVING, 'theft_lock_on')
  await expect(back.locator('li:not(.done)')).toHaveCount(0)
  const sheet = await page.context().newPage()
  await sheet.goto(`/trays/${TRAY}/sheet`)
  await expect(sheet.getByText('Everything that was meant to arrive was read back')).toBeVisible()
  await expect(sheet.locator('main')).toHaveCSS('border-top-color', 'rgb(110, 31, 82)')
  await expectAccessible(sheet, 'sheet')
  await sheet.close()
  await handOver(page)
  await expect(page.getByRole('heading', { name: 'Handed over' })).toBeVisible()
  expect(existsSync(`${data}/trays/${TRAY}/moves/1/conversion/data`)).toBe(false)
  await page.keyboard.press('0')
  await expect(page.getByRole('region', { name: 'Handed over' })).toContainText('Mathilda Oyelaran')
})

test('a receiving phone that holds chats says in numbers what would be lost', async () => {
  await page.goto('/trays/42')
  await expect(page.getByRole('heading', { name: 'Phone 42-B holds chats that would be lost' })).toBeVisible()
  await expect(page.locator('.confirm').getByText(/\d+ messages in 5 conversations/)).toBeVisible()
  await expect(page.getByRole('button', { name: /Restore onto/ })).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'Replace them on 42-B' })).toBeDisabled()
})

/** Waits until the rehearsal was made anew with what was chosen. */
const expectRehearsedWith = (tray: number, rule: string, choice: string) =>
  expect
    .poll(async () => {
      const answer = await page.request.get(`/api/trays/${tray}/moves/1/losses`)
      const { losses } = (await answer.json()) as { losses?: { rule: string; choice: string }[] }
      return losses?.find((loss) => loss.rule === rule)?.choice
    })
    .toBe(choice)

test('what the customer chooses is rehearsed anew', async () => {
  await page.goto('/trays/42')
  const choice = page.getByRole('radio', { name: 'It stays in the backup' })
  await expect(page.getByRole('radio', { name: /It arrives among the archived/ })).toBeChecked()
  await choice.check()
  await expectRehearsedWith(42, 'hidden_conversation', 'left_out')
  await expect(choice).toBeChecked()
  await expect(
    page.getByRole('row', { name: /stays in the backup An unofficial version of the messenger kept/ }),
  ).toBeVisible()
  await expectAccessible(page, 'choices')
})

test('the chats on the conductor’s new phone are replaced, and put back', async () => {
  const held = () => chats<{ messages: number; account: string }>('chats:inspect', dataFolder(CONDUCTORS)).report
  const before = held()
  await page.goto('/trays/42')
  await page.getByLabel('Type the tag').fill('42-B')
  await page.getByRole('button', { name: 'Replace them on 42-B' }).click()
  await expect(page.getByRole('heading', { name: 'Ready to hand over' })).toBeVisible()
  expect(held().messages).toBeGreaterThan(before.messages)
  await page.getByRole('button', { name: 'Put 42-B back…' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText(`it held ${n(before.messages)} messages in 5 conversations`)
  await expectAccessible(page, 'put back')
  await dialog.getByLabel('Type the tag').fill('42-B')
  await dialog.getByRole('button', { name: 'Put 42-B back' }).click()
  await expect(page.getByRole('heading', { name: 'Phone 42-B holds chats that would be lost' })).toBeVisible()
  expect(held()).toEqual(before)
})

test('from iOS to Android: worn storage is said, and what could be saved arrives', async () => {
  await page.goto('/trays/new')
  await page.getByLabel('Customer', { exact: true }).fill('Oddný Hallsdóttir')
  await page.getByLabel('Contact', { exact: true }).fill('+44 7700 900581')
  await page.getByRole('article', { name: 'Lindenau Slate 1' }).getByRole('button', { name: 'Gives' }).click()
  await page.getByRole('article', { name: 'Bergmann Quay 2' }).getByRole('button', { name: 'Receives' }).click()
  await page.getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Open the tray' }).click()
  await page.getByRole('button', { name: `Back up ${TRAY + 1}-A` }).click()
  const damage = page.getByRole('alert').filter({ hasText: 'own storage is damaged' })
  await expect(damage).toBeVisible()
  const found = chats<{ messages: number; lost: number }>('chats:inspect', dataFolder('LSL0870115')).report
  expect(found.lost).toBeGreaterThan(0)
  await expect(damage).toContainText(`${found.lost} messages in`)
  await expectAccessible(page, 'look, damaged')
  await page.getByRole('button', { name: 'Convert for Android' }).click()
  await expect(page.getByRole('heading', { name: 'The dry run adds up' })).toBeVisible()
  await expect(page.getByText('sent with an effect')).toBeVisible()
  await page.getByRole('radio', { name: /as two files in one message/ }).check()
  await expectRehearsedWith(TRAY + 1, 'motion_part', 'as_two')
  await expect(page.getByLabel('Type the tag')).toBeVisible()
  await page.getByLabel('Type the tag').fill(`${TRAY + 1}-B`)
  await page.getByRole('button', { name: `Restore onto ${TRAY + 1}-B` }).click()
  await expect(page.getByRole('heading', { name: 'Ready to hand over' })).toBeVisible()
  const { status, report } = chats<{ totals: Totals }>(
    'chats:compare',
    dataFolder('LSL0870115'),
    dataFolder('BRG0220871'),
    '--choose=motion_part:as_two',
  )
  expect([status, report.totals.missing, report.totals.messages]).toEqual([0, 0, found.messages])
})

test('a sealed backup opens with what its owner tells, and with nothing else', async () => {
  const tag = `${TRAY + 2}-A`
  const desk = await atDesk(page, 'Eilidh Strand')
  const told = await desk.getByRole('article', { name: 'Kestrelworks Fathom 5' }).locator('.told').innerText()
  await page.goto('/trays/new')
  await page.getByLabel('Customer', { exact: true }).fill('Eilidh Strand')
  await page.getByLabel('Contact', { exact: true }).fill('the net loft')
  const phone = page.getByRole('article', { name: 'Kestrelworks Fathom 5' })
  await phone.getByRole('button', { name: 'Gives' }).click()
  await page.getByRole('article', { name: 'Lindenau Slate Mini' }).getByRole('button', { name: 'Receives' }).click()
  await page.getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Open the tray' }).click()
  const key = page.getByLabel('Password', { exact: true })
  const backUp = page.getByRole('button', { name: `Back up ${tag}` })
  // Nobody looked before the tray was open.
  await expect(page.getByRole('region', { name: `Phone ${tag}, gives` })).toContainText('in the messenger’s own backup')
  await expect(key).toBeVisible()
  await expect(backUp).toBeDisabled()
  await expectAccessible(page, 'sealed backup')
  await key.fill('three herrings, one oar')
  await backUp.click()
  await expect(page.getByText('was locked with another key or password')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Continue' })).toBeDisabled()
  await expectAccessible(page, 'wrong password')
  await key.fill(told)
  await page.getByRole('button', { name: 'Continue' }).click()
  await expect(page.getByRole('button', { name: 'Convert for iOS' })).toBeVisible()
})

test('a conversation of 200,000 messages is read like any other', async () => {
  await page.getByRole('link', { name: 'Harbour watch' }).click()
  await expect(page.getByText('200,000 messages')).toBeVisible()
  await expect(page.getByText('20 Nov 2026').first()).toBeVisible()
  // Also in summer a day begins with its first message after midnight in the shop's zone.
  for (const [day, seen] of [
    ['1.7.2024', '1 Jul 2024'],
    ['20/3/2023', '20 Mar 2023'],
    ['24.12.25', '24 Dec 2025'],
  ] as const) {
    await page.getByLabel('Go to a day').fill(day)
    await page.keyboard.press('Enter')
    await expect(page.locator('.columns')).toContainText(seen)
    await expect(page.locator('.rows .picked')).toContainText(/00:0\d:/)
  }
  // However many there are, only those in sight are drawn.
  expect(await page.locator('.ledger *').count()).toBeLessThan(3_000)
  await page.getByRole('link', { name: `Tray ${TRAY + 2}, conversations of Otterpost` }).click()
  await page.getByRole('button', { name: 'Convert for iOS' }).click()
  await expect(page.getByRole('heading', { name: 'The dry run adds up' })).toBeVisible()
  await expect(page.getByText('200,659').first()).toBeVisible()
})

test('a customer who only wants a backup gets it, out of what the messenger makes of itself just now', async () => {
  await act(page, GIVING, 'debugging_on')
  await page.goto('/trays/new')
  await page.getByLabel('Customer', { exact: true }).fill('Mathilda Oyelaran')
  await page.getByLabel('Contact', { exact: true }).fill('comes back at four')
  await page.getByRole('radio', { name: 'Only a backup' }).check()
  await page.getByRole('article', { name: 'Kestrelworks Fathom 4' }).getByRole('button', { name: 'This one' }).click()
  await page.getByRole('checkbox', { name: /stay with the shop as a backup/ }).check()
  await expectAccessible(page, 'a tray for a backup')
  await page.getByRole('button', { name: 'Open the tray' }).click()
  const ways = page.getByRole('group', { name: /^Ways in for Otterpost on / })
  await expect(ways.getByRole('radio')).toHaveCount(3)
  await expect(ways).toContainText('ends 9 days before the newest message on the phone')
  await act(page, GIVING, 'lock_backups_digits otterpost')
  await act(page, GIVING, 'back_up_now otterpost')
  await expect(ways.getByRole('radio')).toHaveCount(4)
  await ways.getByRole('radio').nth(1).check()
  const digits = page.getByRole('textbox', { name: '64 digits' })
  await expectAccessible(page, 'ways in')
  const backUp = page.getByRole('button', { name: /^Back up \d+-A$/ })
  await expect(backUp).toBeDisabled()
  const desk = await atDesk(page, 'Mathilda Oyelaran')
  const told = desk.getByRole('article', { name: 'Kestrelworks Fathom 4' }).locator('.told')
  const key = (await told.allInnerTexts()).find((text) => text.replace(/\s/g, '').length === 64)
  await page.goBack()
  await ways.getByRole('radio').nth(1).check()
  await digits.fill(key ?? '')
  await expect(page.getByText('All 64 digits are there.')).toBeVisible()
  await backUp.click()
  await expect(page.getByRole('heading', { name: 'Backed up: ready to hand over' })).toBeVisible()
  await expect(page.getByText(/own backup of .*, opened with its 64 digits/)).toBeVisible()
  await expectAccessible(page, 'only backed up')
  const sheet = await page.context().newPage()
  await sheet.goto(page.url().replace(/(\/trays\/\d+).*/, '$1/sheet'))
  await expect(sheet.getByText('The chats were backed up as the customer wished')).toBeVisible()
  await sheet.close()
  await handOver(page)
  await expect(page.getByRole('heading', { name: 'Handed over' })).toBeVisible()
})

test('roles are changed deliberately, and the consequence is named', async () => {
  await page.goto('/trays/42')
  await page.getByRole('button', { name: 'Change which phone gives' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('42-B gives and 42-A receives?')
  await expect(dialog).toContainText('a new one is needed')
  await expectAccessible(page, 'roles')
  await dialog.getByRole('button', { name: 'Back', exact: true }).click()
  await expect(dialog).toHaveCount(0)
})

test('everything works with the keyboard, and the keys are listed', async () => {
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog')).toContainText('uncover or cover')
  // What is pressed in the very moment in which a dialog opens finds it not on top yet: people press once more.
  await expect(async () => {
    await page.keyboard.press('Escape')
    await expect(page.getByRole('dialog')).toHaveCount(0, { timeout: 1_000 })
  }).toPass()
  await page.keyboard.press('s')
  await expect(page).toHaveURL('/stand-in')
  await page.keyboard.press('1')
  await expect(page).toHaveURL('/trays/41')
})

test('dialogs and menus are drawn like the page, light and dark', async () => {
  for (const scheme of ['Dark colours', 'Light colours']) {
    await page.goto('/trays/42')
    await page.getByRole('button', { name: scheme }).click()
    await page.keyboard.press('?')
    await expectDrawn(page, page.getByRole('dialog'))
    // Behind a dialog no key of the page does anything.
    await page.keyboard.press('0')
    await expect(page).toHaveURL('/trays/42')
    await page.keyboard.press('Tab')
    const ring = await page.evaluate(() => getComputedStyle(document.activeElement ?? document.body).outline)
    expect(ring).toMatch(/solid 3px/)
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: 'Change which phone gives' }).click()
    await expectDrawn(page, page.getByRole('dialog'))
    await page.getByRole('dialog').getByRole('button', { name: 'Back', exact: true }).click()
    await page.getByRole('button', { name: /change the password/ }).click()
    await expectDrawn(page, page.getByRole('dialog'))
    await page.getByRole('dialog').getByRole('button', { name: 'Back', exact: true }).click()
    await page.goto('/trays/new')
    // What is pressed while the page still fetches its phones may find the field as it is drawn anew.
    await expect(async () => {
      await page.getByLabel('The customer’s language, for the sheet').press('ArrowDown')
      await expect(page.getByRole('listbox')).toBeVisible({ timeout: 1_000 })
    }).toPass()
    await expectDrawn(page, page.getByRole('listbox'))
    await page.keyboard.press('Escape')
  }
})

test('the manager reads in the log who uncovered what', async () => {
  await page.getByRole('button', { name: 'Sign out' }).click()
  await signIn(page, 'orla', 'wrapped-paper')
  await page.getByRole('link', { name: 'Log' }).click()
  const show = (kind: string) => choose(page, 'Kind', kind)
  await show('Looking')
  await expect(
    page.getByRole('row', { name: new RegExp(`jette ${TRAY} Uncovered “(Committee|Swarm alarm)`) }),
  ).toHaveCount(2)
  // That it is read is in it too, and narrowing it does not hide that.
  await expect(page.getByRole('row', { name: /orla Read the log/ }).first()).toBeVisible()
  await show('Work')
  await expect(
    page.getByRole('row', { name: /jette 42 Chose for Otterpost: An unofficial version.*It stays in the backup/ }),
  ).toBeVisible()
  await expectAccessible(page, 'log')
  // What the day's jobs came to, and whose they were is nowhere in it.
  await page.getByRole('link', { name: 'Figures' }).click()
  await expect(page.getByRole('row', { name: /^All jobs/ })).toContainText(/[1-9]/)
  await expect(page.getByRole('row', { name: /^Back up/ })).toContainText('min')
  await expect(page.getByRole('row', { name: /^backup/ }).filter({ hasText: 'is not connected' })).toBeVisible()
  await expect(page.locator('main')).not.toContainText('Mathilda')
  await expectAccessible(page, 'figures')
  const loading = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Each job as a line (CSV)' }).click()
  const table = readFileSync(await (await loading).path(), 'utf8')
  expect(table.split('\r\n').length).toBeGreaterThan(2)
  expect(table).not.toContain('Mathilda')
})

test('a narrow screen has the next action without scrolling', async () => {
  await page.setViewportSize({ width: 1024, height: 768 })
  await page.goto('/trays/41')
  const next = page.getByRole('button', { name: 'Back up 2 accounts of 41-A' })
  await expect(next).toBeInViewport()
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(1024)
})

test('the conductor’s chats are chosen, merged, checked by eye, handed over, put back, and erased', async ({
  browser,
}) => {
  // A whole job, twice: on a busy machine it takes longer than one.
  const held = () => chats<{ messages: number; account: string }>('chats:inspect', dataFolder(CONDUCTORS)).report
  const before = held()
  // The safety copy from before too, which what is merged now has no use for.
  await place(page)
  await page.goto('/trays/42/accounts/1/choose')
  await expectAccessible(page, 'choose')
  const sum = page.getByRole('status').filter({ hasText: 'go across' })
  const brought = async () => Number((await sum.locator('b').first().innerText()).replace(/\D/g, ''))
  const all = await brought()
  await page.getByRole('checkbox', { name: 'videos' }).uncheck()
  await page.getByRole('checkbox', { name: /^archived/ }).check()
  await expect(async () => expect(await brought()).toBeLessThan(all)).toPass()
  await expect(sum).toContainText('Left out on purpose')
  await page.getByRole('radio', { name: /^Merge/ }).check()
  // Interrupted, and back again: nothing of it is lost.
  await page.goto('/')
  await page.goto('/trays/42/accounts/1/choose')
  await expect(page.getByRole('radio', { name: /^Merge/ })).toBeChecked()
  await expect(page.getByRole('checkbox', { name: 'videos' })).not.toBeChecked()
  await choose(page, 'A trial first', 'the newest 20 of each conversation')
  await page.getByRole('checkbox', { name: /^Names too/ }).check()
  await expect(sum).toContainText('Only a trial for now')
  await page.getByRole('button', { name: 'Convert for iOS' }).click()
  await expect(page.getByRole('heading', { name: 'Write the merged chats to 42-B?' })).toBeVisible()
  await expect(page.getByRole('region', { name: 'Merging with what 42-B holds' })).toContainText('only on 42-B, stay')
  await expect(page.getByText('Left out on purpose: videos, 1 conversation')).toBeVisible()
  await expectAccessible(page, 'merge')
  expect(held()).toEqual(before)
  await page.getByLabel('Type the tag').fill('42-B')
  await page.getByRole('button', { name: 'Merge into 42-B' }).click()
  await expect(page.getByRole('heading', { name: 'The trial is there' })).toBeVisible()
  const part = held().messages
  expect(part).toBeGreaterThan(before.messages)
  expect(readFileSync(`${dataFolder('LSL2261544', 'contacts')}/contacts.vcf`, 'utf8')).toContain('BEGIN:VCARD')
  await expectAccessible(page, 'trial')
  await page.getByRole('button', { name: 'Bring the rest' }).click()
  await expect(page.getByRole('heading', { name: 'Bring what is missing to 42-B?' })).toBeVisible()
  await page.getByLabel('Type the tag').fill('42-B')
  await page.getByRole('button', { name: 'Merge into 42-B' }).click()
  await expect(page.getByRole('heading', { name: 'Ready to hand over' })).toBeVisible()
  expect(held().messages).toBeGreaterThan(part)

  await page.goto('/trays/42/accounts/1/check')
  await expect(page.getByRole('heading', { name: 'Everything that was meant to arrive is there' })).toBeVisible()
  const eyes = page.getByRole('region', { name: 'With the customer’s own eyes' })
  await expect(eyes.getByRole('img', { name: /^covered/ }).first()).toBeVisible()
  await expectAccessible(page, 'eye check')
  await eyes.getByRole('button', { name: 'Uncover texts and pictures' }).click()
  await expect(eyes.locator('figure img').first()).toBeVisible()
  for (const box of await eyes.getByRole('checkbox').all()) {
    await box.click()
    await expect(box).toBeChecked()
  }
  await expect(eyes).toContainText('all the same')

  await page.goto('/trays/42/hand_over')
  await handOver(page)
  const keeping = page.getByRole('region', { name: 'What the shop keeps' })
  await expect(keeping).toContainText(/1 backup and \d safety cop/)
  await expectAccessible(page, 'handed over')
  await keeping.getByRole('button', { name: 'Put 42-B back…' }).click()
  await page.getByRole('dialog').getByLabel('Type the tag').fill('42-B')
  await cable(page, CONDUCTORS, 0.05)
  await page.getByRole('dialog').getByRole('button', { name: 'Put 42-B back' }).click()
  await expect(page.getByRole('progressbar').first()).toBeVisible()
  // The cable goes in the middle. In a second browser the phone is taken still, though its tray is closed.
  await plug(page, CONDUCTORS, false)
  await expect(page.getByText('42-B is not connected').first()).toBeVisible()
  const second = await (await browser.newContext({ locale: 'en-GB' })).newPage()
  await signIn(second, 'orla', 'wrapped-paper')
  await plug(page, CONDUCTORS, true)
  await second.goto('/trays/new')
  await expect(second.getByText(/In other trays: .*\(42\)/)).toBeVisible()
  expect(await refusedWith(second, GIVING, CONDUCTORS)).toContain('42')
  await second.context().close()
  await cable(page, CONDUCTORS, 0)
  await expect(keeping).toContainText('42-B was put back on')
  expect(held()).toEqual(before)

  await keeping.getByRole('button', { name: 'Erase now…' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByRole('button', { name: 'Erase' })).toBeDisabled()
  await expectAccessible(page, 'erase')
  await dialog.getByLabel('Type the number').fill('42')
  await dialog.getByRole('button', { name: 'Erase' }).click()
  await expect(keeping).toContainText('Erased on')
  await expect(keeping.getByText('is gone').first()).toBeVisible()
})
