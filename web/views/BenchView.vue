<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useBench, useShelf } from '../api/shelf'
import RoleMark from '../components/phone/RoleMark.vue'
import { bytes, dateTime, phoneNumber, time } from '../lib/format'
import { say } from '../lib/say'
import { platformWord } from '../lib/words'

/** Every phone that is plugged in, whoever's it is: as it was seen last. */
const bench = useBench()
const shelf = useShelf(ref(true))
const phones = computed(() =>
  [...(bench.data.value ?? [])].sort(
    (a, b) => (a.tray ?? Infinity) - (b.tray ?? Infinity) || name(a).localeCompare(name(b)),
  ),
)
const name = (phone: Schemas['BenchPhone']): string => `${phone.live.maker} ${phone.live.model}`

function part(phone: Schemas['BenchPhone']): Schemas['TrayPhone'] | null {
  const tray = (shelf.data.value ?? []).find((t) => t.number === phone.tray)
  return tray?.phones.find((p) => p.live.serial === phone.live.serial) ?? null
}
/** What lets this computer in, or does not yet. */
function door(live: Schemas['Live']): string {
  if (!live.plugged) return say('phone.not_connected')
  if (live.debugging === false) return say('bench.debugging_off')
  if (!live.admitted) return say('phone.not_allowed')
  return live.debugging === true ? say('bench.by_debugging') : say('bench.by_trust')
}
</script>

<template>
  <section class="page wide">
    <h1>{{ say('bench.title') }}</h1>
    <p class="soft">{{ say('bench.about') }}</p>
    <p v-if="bench.data.value === undefined && bench.error.value" class="trouble" role="alert">
      {{ bench.error.value.message }}
    </p>
    <p v-else-if="bench.data.value === undefined" class="soft" role="status">{{ say('new.looking') }}</p>
    <p v-else-if="phones.length === 0" class="sheet pad">{{ say('bench.empty') }}</p>
    <div v-else class="sheet">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">{{ say('bench.phone') }}</th>
            <th scope="col">{{ say('bench.state') }}</th>
            <th scope="col">{{ say('bench.messengers') }}</th>
            <th scope="col">{{ say('log.tray') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="phone in phones" :key="phone.live.serial">
            <td>
              <b>{{ name(phone) }}</b>
              <span class="soft small line"
                >{{ platformWord(phone.live.platform) }} <bdi>{{ phone.live.os_version }}</bdi> ·
                {{ phone.live.serial }}</span
              >
            </td>
            <td>
              <span :class="{ bad: !phone.live.unlocked }">{{
                phone.live.unlocked ? say('phone.unlocked') : say('phone.locked')
              }}</span>
              · <span :class="{ bad: !phone.live.open }">{{ door(phone.live) }}</span>
              <span v-if="phone.live.managed" class="bad line">{{ say('point.not_managed.short') }}</span>
              <span class="soft small line">
                <template v-if="phone.live.battery !== null">{{
                  say(phone.live.charging ? 'bench.charging' : 'phone.battery', { percent: phone.live.battery })
                }}</template>
                <template v-if="phone.live.free_bytes !== null">
                  · {{ say('phone.free', { size: bytes(phone.live.free_bytes) }) }}</template
                >
                <template v-if="!phone.live.fresh && phone.live.seen_at">
                  · {{ say('phone.old', { at: time(phone.live.seen_at) }) }}</template
                >
              </span>
            </td>
            <td>
              <span v-if="phone.live.accounts === null" class="soft">{{ say('phone.silent') }}</span>
              <span v-else-if="phone.live.accounts.length === 0" class="soft">{{ say('phone.no_app') }}</span>
              <div v-for="a in phone.live.accounts ?? []" :key="a.app">
                <b>{{ a.edition }}</b> <span class="soft small">{{ a.version }}</span>
                {{ a.number ? phoneNumber(a.number) : say('phone.not_registered') }}
                <span v-if="a.holds?.counts" class="soft small line">
                  <template v-if="a.holds.counts.messages === 0">{{ say('phone.no_chats') }}</template>
                  <template v-else>
                    <template v-if="a.holds.bytes !== null">{{ bytes(a.holds.bytes) }} · </template
                    >{{ say('phone.newest', { at: dateTime(a.holds.counts.newest_at) }) }}
                  </template>
                </span>
              </div>
            </td>
            <td>
              <RouterLink v-if="phone.tray !== null" :to="`/trays/${phone.tray}`" class="in">
                <b class="slab">{{ part(phone)?.tag ?? phone.tray }}</b>
                <RoleMark v-if="part(phone)" :role="part(phone)!.role" />
              </RouterLink>
              <span v-else class="soft">{{ say('bench.free') }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.line {
  display: block;
}
.bad {
  color: var(--missing);
  font-weight: 600;
}
td {
  vertical-align: top;
}
.in b {
  text-decoration: underline;
  text-underline-offset: 3px;
}
.in {
  text-decoration: none;
  display: flex;
  gap: 8px;
  align-items: center;
  color: inherit;
  min-height: 28px;
}
</style>
