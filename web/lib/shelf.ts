import type { components } from '../api/schema'

export type TrayTag = components['schemas']['TrayTag']
export type WallTray = components['schemas']['WallTray']
export type WaitsFor = TrayTag['waits']['for']

/** Who waits longest is first; what has begun to wait this moment is last. */
export function byWaiting(a: WallTray, b: WallTray): number {
  const since = (tray: WallTray): number => (tray.waits.since === null ? Infinity : Date.parse(tray.waits.since))
  return since(a) === since(b) ? a.number - b.number : since(a) - since(b)
}

/** The earlier ones that are not among those already. */
export function withEarlier(trays: TrayTag[], earlier: TrayTag[]): TrayTag[] {
  const shown = new Set(trays.map((t) => t.number))
  return [...trays, ...earlier.filter((t) => !shown.has(t.number))]
}

const SORTED: Record<WaitsFor, (a: TrayTag, b: TrayTag) => number> = {
  person: byWaiting,
  machine: (a, b) => a.number - b.number,
  nobody: (a, b) => b.number - a.number,
}

/** Those that wait for a person first, the longest first; then the machine's by number; what was handed over last. */
export function shelfOrder(trays: TrayTag[]): { key: WaitsFor; trays: TrayTag[] }[] {
  return (['person', 'machine', 'nobody'] as const)
    .map((key) => ({
      key,
      trays: trays.filter((t) => t.waits.for === key).sort(SORTED[key]),
    }))
    .filter((section) => section.trays.length > 0)
}

/** Numbers of the trays that the machine had before and a person has now: these call. */
export function calling(before: TrayTag[], now: TrayTag[]): number[] {
  const was = new Map(before.map((t) => [t.number, t.waits.for]))
  return now.filter((t) => t.waits.for === 'person' && was.get(t.number) === 'machine').map((t) => t.number)
}

/** From 0 to 1, or null while nobody knows. */
export function share(progress: components['schemas']['Progress'] | null): number | null {
  if (progress === null) return null
  if (progress.bytes_total > 0) return Math.min(1, progress.bytes_done / progress.bytes_total)
  if (progress.items_total > 0) return Math.min(1, progress.items_done / progress.items_total)
  return null
}
