import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, ref } from 'vue'
import { IDLE_MS, useIdle } from '../lib/idle'

describe('a page that nobody touches', () => {
  beforeEach(() => vi.useFakeTimers())
  afterEach(() => vi.useRealTimers())

  function page(isOn = ref(true)) {
    const idle = vi.fn()
    const wrapper = mount({ setup: () => useIdle(isOn, idle), template: '<i/>' })
    return { idle, wrapper }
  }

  it('says so after half an hour, once', () => {
    const { idle, wrapper } = page()
    vi.advanceTimersByTime(IDLE_MS - 1)
    expect(idle).not.toHaveBeenCalled()
    vi.advanceTimersByTime(20_001)
    expect(idle).toHaveBeenCalledTimes(1)
    wrapper.unmount()
  })

  it('waits anew from each touch', () => {
    const { idle, wrapper } = page()
    for (const touch of ['pointerdown', 'keydown', 'wheel']) {
      vi.advanceTimersByTime(IDLE_MS - 10_000)
      window.dispatchEvent(new Event(touch))
    }
    expect(idle).not.toHaveBeenCalled()
    wrapper.unmount()
  })

  it('says nothing while nobody is signed in, and waits from the sign-in', async () => {
    const isOn = ref(false)
    const { idle, wrapper } = page(isOn)
    vi.advanceTimersByTime(3 * IDLE_MS)
    isOn.value = true
    await nextTick()
    vi.advanceTimersByTime(IDLE_MS - 10_000)
    expect(idle).not.toHaveBeenCalled()
    wrapper.unmount()
    vi.advanceTimersByTime(3 * IDLE_MS)
    expect(idle).not.toHaveBeenCalled()
  })
})
