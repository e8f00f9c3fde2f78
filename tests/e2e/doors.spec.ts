import { expect, test } from '@playwright/test'
import { readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { data, port } from '../../playwright.config'
import { expectAccessible, signIn } from './bench'

test('static files carry the headers of the rest, and no version of anything is told', async ({ request }) => {
  const page = await request.get('/')
  const script = /src="(\/build\/assets\/[^"]+\.js)"/.exec(await page.text())?.[1] ?? ''
  for (const path of ['/', script, '/sheet.css', '/mark.svg', '/api/session']) {
    const answer = await request.get(path)
    expect(answer.status(), path).toBe(200)
    const headers = answer.headers()
    expect(headers['x-content-type-options'], path).toBe('nosniff')
    expect(headers['content-security-policy'], path).toContain("default-src 'none'")
    expect(headers['x-powered-by'], path).toBeUndefined()
    expect(headers['server'], path).toBeUndefined()
  }
  expect((await request.get(script)).headers()['cache-control']).toContain('immutable')
  expect((await request.get('/build/.vite/manifest.json')).status()).toBe(404)
  expect((await request.get('/build/../index.php')).status()).toBe(404)
  expect((await request.get('/', { headers: { Host: 'evil.example' } })).status()).toBe(421)
})

test('what lies in the data folder is for its own user alone', () => {
  const open: string[] = []
  const walk = (folder: string) =>
    readdirSync(folder, { withFileTypes: true }).forEach((entry) => {
      const path = join(folder, entry.name)
      // What goes away meanwhile is open to nobody.
      if (((statSync(path, { throwIfNoEntry: false })?.mode ?? 0) & 0o077) !== 0) open.push(path)
      // Locks are empty files that the framework opens to all, in a folder that is not.
      if (entry.isDirectory() && entry.name !== 'locks') walk(path)
    })
  walk(data)
  expect(open).toEqual([])
  expect(statSync(join(data, 'scratch')).isDirectory()).toBe(true)
})

test('whoever sends anything as a session leaves nothing behind, and chooses no id', async ({ playwright }) => {
  const kept = () => readdirSync(join(data, 'sessions')).length
  const stranger = await playwright.request.newContext({ baseURL: `http://127.0.0.1:${port}` })
  const first = await stranger.get('/api/session')
  expect(first.ok()).toBe(true)
  const before = kept()
  for (let n = 0; n < 5; n++)
    await stranger.get('/api/session', { headers: { Cookie: `geschenk=${'a'.repeat(25)}${n}` } })
  expect(kept()).toBe(before)
  const { token } = (await first.json()) as { token: string }
  const signedIn = await stranger.post('/api/session', {
    headers: { Cookie: `geschenk=${'a'.repeat(26)}`, 'X-Geschenk-Token': token },
    data: { username: 'jette', password: 'ribbon-and-tag' },
  })
  expect(signedIn.status()).toBe(200)
  expect(signedIn.headers()['set-cookie']).toContain('geschenk=')
  expect(signedIn.headers()['set-cookie']).not.toContain('aaaa')
  await stranger.dispose()
})

test('the manager adds a user, sees where they are signed in, and ends that', async ({ browser }) => {
  const [shop, elsewhere] = await Promise.all([browser.newContext(), browser.newContext()])
  const page = await shop.newPage()
  await signIn(page, 'orla', 'wrapped-paper')
  await page.getByRole('link', { name: 'Users' }).click()
  await page.getByRole('button', { name: 'Add a user' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Name to sign in with').fill('ada')
  await dialog.getByLabel('Name that others read').fill('Ada <b>Lark</b>')
  await dialog.getByLabel('Their password').fill('the heron waits for low tide')
  await dialog.getByLabel('The same once more').fill('the heron waits for low tide')
  await dialog.getByLabel('Your own password').fill('not it')
  await dialog.getByRole('button', { name: 'Add' }).click()
  await expect(dialog.getByRole('alert')).toContainText('not your password')
  await expectAccessible(page, 'adding a user')
  await dialog.getByLabel('Your own password').fill('wrapped-paper')
  await dialog.getByRole('button', { name: 'Add' }).click()
  await expect(dialog).toBeHidden()
  const row = page.getByRole('row').filter({ hasText: 'Ada <b>Lark</b>' })
  await expect(row).toContainText('nowhere')
  await expectAccessible(page, 'users')

  const other = await elsewhere.newPage()
  await signIn(other, 'ada', 'the heron waits for low tide')
  await expect(other.getByRole('link', { name: 'Users' })).toHaveCount(0)
  await page.reload()
  await row.getByRole('button', { name: /^End the session of Ada/ }).click()
  await expect(row).toContainText('nowhere')
  await expect(other.getByRole('button', { name: 'Sign in' })).toBeVisible()

  await row.getByRole('button', { name: 'Take the sign-in away' }).click()
  await dialog.getByRole('button', { name: 'Take it away' }).click()
  await expect(row).toContainText('may not sign in')
  await other.getByLabel('Name').fill('ada')
  await other.getByLabel('Password').fill('the heron waits for low tide')
  await other.getByRole('button', { name: 'Sign in' }).click()
  await expect(other.getByRole('alert')).toBeVisible()
  await Promise.all([shop.close(), elsewhere.close()])
})
