import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { createVuetify } from 'vuetify'
import type { Schemas } from '../api/client'
import CopyList from '../components/backup/CopyList.vue'

const copy: Schemas['ReadingCopy'] = {
  ...{ id: 'c1', forms: ['pages'], packing: 'folder', is_locked: false, is_all: true, stick: 'Blue' },
  ...{ name: 'ada-quay', asked_at: '2026-12-01T10:00:00.000Z', asked_by: 'jette' },
  ...{ made_at: '2026-12-01T10:05:00.000Z', files: 40, bytes: 1_000_000, sha256: 'ab12', spoilt: 0, run: null },
}
const shown = (...list: Schemas['ReadingCopy'][]): string =>
  mount(CopyList, {
    props: { backup: 'b1', list },
    global: { plugins: [createVuetify(), [VueQueryPlugin, { queryClient: new QueryClient() }]] },
  }).text()

describe('what was taken home', () => {
  it('is all of it, or says what is not in it', () => {
    expect(shown(copy)).not.toContain('✕')
    expect(shown({ ...copy, spoilt: 2 })).toMatch(/✓.*40 files.*✕ 2 files are not in it/s)
    expect(shown({ ...copy, spoilt: 1 })).toContain('✕ 1 file is not in it')
  })
  it('says nothing of what is in it before it lies there', () => {
    expect(shown({ ...copy, name: null, made_at: null, files: null, bytes: null, sha256: null })).toContain('Blue')
  })
})
