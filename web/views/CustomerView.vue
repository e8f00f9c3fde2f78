<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import type { Schemas } from '../api/client'
import { useCustomer } from '../api/customers'
import { useShelf } from '../api/shelf'
import RoleMark from '../components/phone/RoleMark.vue'
import TrayTagMark from '../components/frame/TrayTagMark.vue'
import { isThere } from '../lib/cupboard'
import { bytes, date, dateTime, phoneNumber } from '../lib/format'
import { LANGUAGES, say } from '../lib/say'

/** Whose chats they are: every tray with what was agreed to, its phones, and the backups that were made. */
const route = useRoute()
const id = computed(() => Number(route.params['customer']))
const query = useCustomer(id)
const customer = computed(() => query.data.value)
const shelf = useShelf(ref(true))
function waits(tray: Schemas['Customer']['trays'][number]): 'person' | 'machine' | 'nobody' {
  const open = shelf.data.value?.find((one) => one.number === tray.number)
  return open?.waits.for ?? (tray.closed_at === null ? 'person' : 'nobody')
}
const language = computed(() => LANGUAGES[customer.value?.language as keyof typeof LANGUAGES] ?? '')
</script>

<template>
  <div class="page wide customer">
    <RouterLink to="/cupboard" class="soft">‹ {{ say('cupboard.back') }}</RouterLink>
    <p v-if="customer === undefined && query.error.value" class="trouble" role="alert">
      {{ query.error.value.message }}
    </p>
    <p v-else-if="customer === undefined" class="soft" role="status">{{ say('customer.looking') }}</p>
    <template v-else>
      <header>
        <h1>{{ customer.forgotten_at ? say('customer.somebody') : customer.name }}</h1>
        <p v-if="customer.forgotten_at" class="soft">
          {{ say('customer.forgotten', { at: date(customer.forgotten_at) }) }}
        </p>
        <p v-else class="soft">
          {{ customer.contact }}
          <template v-if="language !== ''">· {{ say('customer.language', { language }) }}</template>
        </p>
        <p v-if="customer.forgets_at" class="soft">
          {{ say('customer.forgets', { at: date(customer.forgets_at) }) }}
        </p>
      </header>
      <section v-if="customer.trays.length > 0" class="part" :aria-label="say('customer.trays')">
        <h2>{{ say('customer.trays') }}</h2>
        <ul>
          <li v-for="tray in customer.trays" :key="tray.number" class="sheet pad tray">
            <RouterLink
              :to="`/trays/${tray.number}`"
              class="number"
              :aria-label="say('cupboard.by_tray', { tray: tray.number })"
            >
              <TrayTagMark :number="tray.number" :waits="waits(tray)" />
            </RouterLink>
            <div class="lines">
              <b>{{ say(`errand.${tray.errand}`) }}</b>
              <span class="soft small">{{
                say('customer.opened', { at: dateTime(tray.opened_at), by: tray.opened_by })
              }}</span>
              <span class="small">{{ tray.agreed }}</span>
            </div>
            <ul class="lines">
              <li v-for="phone in tray.phones" :key="phone.tag">
                <RoleMark :role="phone.role" /> <b>{{ phone.tag }}</b>
                <span class="soft">{{ phone.model ?? phone.serial }}</span>
              </li>
            </ul>
            <div class="lines">
              <span v-if="tray.closed_at === null">{{ say('customer.open') }}</span>
              <span v-else>{{
                say(tray.withdrawn ? 'customer.withdrawn' : 'customer.closed', { at: dateTime(tray.closed_at) })
              }}</span>
              <span v-if="tray.erased_at" class="soft small">{{
                say('customer.erased', { at: dateTime(tray.erased_at), by: tray.erased_by ?? '' })
              }}</span>
            </div>
          </li>
        </ul>
      </section>
      <section class="part" :aria-label="say('customer.backups')">
        <h2>{{ say('customer.backups') }}</h2>
        <p v-if="customer.backups.length === 0" class="sheet pad soft">{{ say('customer.no_backups') }}</p>
        <ul v-else>
          <li v-for="row in customer.backups" :key="row.of.id" class="sheet pad backup">
            <RouterLink :to="`/cupboard/${row.of.id}`" class="lines">
              <b>{{ row.of.edition }}, {{ dateTime(row.of.taken_at) }}</b>
            </RouterLink>
            <span class="lines soft small">
              <bdi>{{ phoneNumber(row.of.account) }}</bdi>
              <span
                ><bdi>{{ row.phone ?? (row.serial === '' ? say(`way.${row.way_in}.summed`) : row.serial) }}</bdi> ·
                {{ bytes(row.of.attachment_bytes) }}</span
              >
            </span>
            <span v-if="isThere(row.state)" class="lines">
              <span>{{ say('in_cupboard.until') }} {{ row.until === null ? '–' : date(row.until) }}</span>
              <span :class="{ missing: !row.is_whole }" class="small">{{
                row.is_whole ? `✓ ${say('cupboard.whole')}` : `✕ ${say('cupboard.not_whole')}`
              }}</span>
            </span>
            <span v-else class="soft">{{ say(row.state === 'erasing' ? 'cupboard.going' : 'cupboard.gone') }}</span>
          </li>
        </ul>
      </section>
    </template>
  </div>
</template>

<style scoped>
.customer,
.part,
.part > ul {
  display: grid;
  gap: var(--gap-3);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.tray,
.backup {
  display: grid;
  gap: var(--gap-4);
  align-items: start;
}
.tray {
  grid-template-columns: 90px minmax(0, 1.5fr) minmax(0, 1fr) minmax(0, 1fr);
}
.backup {
  grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr) minmax(0, 1fr);
}
.number {
  text-decoration: none;
}
.lines {
  display: grid;
  gap: 2px;
}
.lines > li {
  display: flex;
  gap: var(--gap-2);
  align-items: baseline;
}
a.lines {
  color: var(--ink);
}
.missing {
  color: var(--missing);
  font-weight: 600;
}
</style>
