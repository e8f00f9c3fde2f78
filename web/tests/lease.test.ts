import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'
import { api } from '../api/client'
import { useLease } from '../lib/lease'

// What a page sends goes nowhere here; its modules are shared with other tests, and theirs again afterwards.
const server = { PUT: vi.fn(), DELETE: vi.fn() }

describe('what a page has uncovered', () => {
  let lease: ReturnType<typeof useLease>
  const page = () =>
    mount(
      defineComponent({
        setup() {
          lease = useLease()
          return () => h('p')
        },
      }),
    )
  beforeEach(() => {
    vi.useFakeTimers()
    vi.spyOn(api, 'PUT').mockImplementation(server.PUT)
    vi.spyOn(api, 'DELETE').mockImplementation(server.DELETE)
    server.PUT.mockReset().mockResolvedValue({ data: { covered: false } })
    server.DELETE.mockReset().mockResolvedValue({ data: { covered: true } })
  })
  afterEach(() => {
    vi.useRealTimers()
    vi.restoreAllMocks()
  })

  it('stays as long as the page says that it is there', async () => {
    const shown = page()
    lease.hold('one')
    await vi.advanceTimersByTimeAsync(65_000)
    expect(server.PUT).toHaveBeenCalledTimes(3)
    expect(lease.isUncovered.value).toBe(true)
    shown.unmount()
    expect(lease.isUncovered.value).toBe(false)
    expect(server.DELETE).toHaveBeenCalledTimes(1)
    await vi.advanceTimersByTimeAsync(60_000)
    expect(server.PUT).toHaveBeenCalledTimes(3)
  })
  it('is covered at once, whether the server hears of it or not', () => {
    page()
    server.DELETE.mockRejectedValue(new Error('gone'))
    lease.hold('one')
    lease.end()
    expect(lease.isUncovered.value).toBe(false)
  })
  it('is covered when the server has ended it', async () => {
    page()
    lease.hold('one')
    server.PUT.mockResolvedValue({ data: { covered: true } })
    await vi.advanceTimersByTimeAsync(21_000)
    expect(lease.isUncovered.value).toBe(false)
  })
  it('is covered when nothing was heard for a minute', async () => {
    page()
    lease.hold('one')
    server.PUT.mockRejectedValue(new Error('gone'))
    await vi.advanceTimersByTimeAsync(41_000)
    expect(lease.isUncovered.value).toBe(true)
    await vi.advanceTimersByTimeAsync(60_000)
    expect(lease.isUncovered.value).toBe(false)
  })
  it('is covered when the page is hidden for good', () => {
    page()
    lease.hold('one')
    window.dispatchEvent(new Event('pagehide'))
    expect(lease.isUncovered.value).toBe(false)
    expect(server.DELETE).toHaveBeenCalledTimes(1)
  })
})
