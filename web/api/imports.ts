import { computed, type Ref } from 'vue'
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, ApiProblem, body, type Schemas } from './client'
import type { Line } from '../lib/upload'

/** Asked again while one is under way, and often enough that a stick shows by itself. */
export function useImports() {
  return useQuery({
    queryKey: ['imports'],
    queryFn: () => body(api.GET('/api/imports')),
    refetchInterval: (query) => (query.state.data?.imports.some((one) => one.run !== null) ? 1_000 : 3_000),
    gcTime: 0,
  })
}

/** What of a stick could be imported: looked for once it is in, and again when somebody asks. */
export function useOnStick(stick: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['imports', 'stick', stick.value]),
    queryFn: () => body(api.GET('/api/imports/sticks/{stick}', { params: { path: { stick: stick.value } } })),
    enabled: computed(() => stick.value !== ''),
    gcTime: 0,
  })
}

export interface ImportAsked {
  consent: boolean
  customer: string
  contact: string
  language: Schemas['Language']
  known?: number
  stick?: string
  path?: string
  upload?: string
  key?: string
}

export function useAskForImport() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (asked: ImportAsked) => body(api.POST('/api/imports', { body: asked })),
    onSuccess: (all) => client.setQueryData(['imports'], all),
  })
}

/** What it goes on with, where it has to be told: what opens it, and which of several things is meant. */
export interface ToldOn {
  key?: string
  part?: string
}

export const actOnImport = (id: string, act: 'go-on' | 'pause' | 'cancel', told: ToldOn = {}) =>
  body(
    api.POST('/api/imports/{import}/{act}', {
      params: { path: { import: id, act } },
      ...(Object.keys(told).length === 0 ? {} : { body: told }),
    }),
  )

export function useGoOnWithImport() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ id, told }: { id: string; told: ToldOn }) => actOnImport(id, 'go-on', told),
    onSuccess: (all) => client.setQueryData(['imports'], all),
  })
}

const at = (upload: string) => ({ params: { path: { upload } } })

/** How a file travels: piece by piece, each told where it belongs. */
export const line: Line = {
  begin: (name, bytes) => body(api.POST('/api/uploads', { body: { name, bytes } })),
  show: (upload) => body(api.GET('/api/uploads/{upload}', at(upload))),
  async add(upload, offset, piece) {
    try {
      return await body(
        api.PATCH('/api/uploads/{upload}', {
          params: { path: { upload }, header: { 'Upload-Offset': offset } },
          headers: { 'Content-Type': 'application/octet-stream' },
          body: piece as unknown as string,
          bodySerializer: (sent: unknown) => sent as Blob,
        }),
      )
    } catch (error) {
      // It knew of other many: it is asked how many.
      if (error instanceof ApiProblem && error.status === 409) return this.show(upload)
      throw error
    }
  },
  isOff: (error) => error instanceof ApiProblem && (error.status === 0 || error.status >= 500) && error.status !== 507,
}

export const discardUpload = (upload: string) => api.DELETE('/api/uploads/{upload}', at(upload)).catch(() => undefined)
