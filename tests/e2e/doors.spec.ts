import { expect, test } from '@playwright/test'
import { readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { data } from '../../playwright.config'

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
