<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useFromCupboard } from '../api/cupboard'
import { useSession } from '../api/session'
import BackupFacts from '../components/backup/BackupFacts.vue'
import BackupNote from '../components/backup/BackupNote.vue'
import PageCode from '../components/backup/PageCode.vue'
import KeptList from '../components/backup/KeptList.vue'
import WhyNot from '../components/run/WhyNot.vue'
import { beginWithKept } from '../lib/draft'
import { copyThere, isThere } from '../lib/cupboard'
import { date, dateTime, phoneNumber } from '../lib/format'
import { say } from '../lib/say'

/** One backup: what it is, until when it is kept, what became of it, and what can be done with it. */
const route = useRoute()
const router = useRouter()
const session = useSession()
const id = computed(() => String(route.params['backup']))
const query = useFromCupboard(id)
const one = computed(() => query.data.value)
const isLocked = computed(() => one.value?.row.state === 'locked')
/** How its copy at the second place stands; nothing where there is no such place. */
const there = computed(() => (one.value === undefined ? '' : copyThere(one.value)))
const isAlone = computed(() => isKept.value && one.value?.copy?.is_whole !== true)
const isKept = computed(() => one.value !== undefined && isThere(one.value.row.state))

function bring(): void {
  const user = session.data.value?.user?.name
  if (user === undefined || one.value === undefined) return
  beginWithKept(user, one.value.row.of)
  void router.push('/trays/new')
}
</script>

<template>
  <div class="page wide one">
    <RouterLink to="/cupboard" class="soft">‹ {{ say('cupboard.back') }}</RouterLink>
    <p v-if="one === undefined && query.error.value" class="trouble" role="alert">{{ query.error.value.message }}</p>
    <p v-else-if="one === undefined" class="soft" role="status">{{ say('cupboard.looking') }}</p>
    <template v-else>
      <header class="head">
        <div>
          <h1>
            <RouterLink
              :to="`/customers/${one.row.of.customer_id}`"
              class="who"
              :title="say('customer.all', { name: one.row.of.customer })"
              >{{ one.row.of.customer }}</RouterLink
            >
          </h1>
          <p class="soft">
            {{ one.row.of.contact }} ·
            {{ say('cupboard.of', { edition: one.row.of.edition, at: dateTime(one.row.of.taken_at) }) }} ·
            <bdi>{{ phoneNumber(one.row.of.account) }}</bdi>
            <template v-if="one.row.phone">
              · <bdi>{{ one.row.phone }}</bdi> ({{ one.row.serial }})</template
            >
          </p>
        </div>
        <div v-if="isKept" class="acts">
          <v-btn v-if="one.look" variant="text" :to="`/cupboard/${one.row.of.id}/look`">{{
            say('cupboard.look')
          }}</v-btn>
          <v-btn v-if="one.has_earlier" variant="text" :to="`/cupboard/${one.row.of.id}/against`">{{
            say('against.do')
          }}</v-btn>
          <v-btn variant="text" :disabled="isLocked" :to="`/cupboard/${one.row.of.id}/copies`">{{
            say('copies.do')
          }}</v-btn>
          <v-btn class="next" :disabled="one.bring.why !== null" @click="bring">{{ say('cupboard.bring') }}</v-btn>
        </div>
      </header>
      <WhyNot v-if="isKept" :because="one.bring.why ?? ''" />
      <div class="two">
        <section class="sheet pad part" :aria-label="say('cupboard.kept_where')">
          <p v-if="!isKept" role="status">
            {{ say(one.row.state === 'erasing' ? 'keeping.erasing' : 'cupboard.is_gone') }}
          </p>
          <BackupFacts :backup="one.facts" />
          <h2>{{ say('cupboard.kept_where') }}</h2>
          <p v-if="isKept">
            {{ say('in_cupboard.until') }}:
            <b>{{ one.row.until === null ? say('cupboard.no_day') : date(one.row.until) }}</b>
          </p>
          <p v-if="there !== ''" class="small" :class="isAlone ? 'alone' : 'soft'">{{ there }}</p>
          <KeptList :number="one.row.of.tray" :list="[one.keeping]" by-itself />
          <BackupNote v-if="isKept" :number="one.row.of.tray" :kept="one.keeping" />
          <PageCode :backup="id" />
        </section>
        <section class="sheet pad part">
          <h2 id="history">{{ say('cupboard.history') }}</h2>
          <ol class="history" aria-labelledby="history">
            <li v-for="(event, n) in one.history" :key="n" :class="event.what">
              <span class="soft small">{{ dateTime(event.at) }}</span>
              <RouterLink v-if="event.tray !== null" :to="`/trays/${event.tray}`" class="what">{{
                say(`in_cupboard.was_${event.what}`, { tray: event.tray, tag: event.tag ?? '' })
              }}</RouterLink>
              <span v-else class="what">{{ say(`in_cupboard.was_${event.what}`, { by: event.by ?? '' }) }}</span>
            </li>
          </ol>
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.one,
.part {
  display: grid;
  gap: var(--gap-3);
  align-content: start;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  justify-content: space-between;
}
.alone {
  color: var(--changed);
}
.head > :first-child {
  flex: 1 1 320px;
  min-width: 0;
}
.who {
  color: inherit;
  text-decoration-color: var(--line);
  text-underline-offset: 4px;
}
.acts {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.7fr) minmax(260px, 1fr);
  gap: var(--gap-4);
  align-items: start;
}
.history {
  list-style: none;
  margin: 0;
  padding: 0;
}
.history li {
  display: grid;
  padding: 0 0 var(--gap-3) var(--gap-4);
  border-left: 3px solid var(--line);
  position: relative;
}
.history li::before {
  content: '';
  position: absolute;
  left: -7px;
  top: 5px;
  width: 11px;
  height: 11px;
  border-radius: 50%;
  background: var(--ribbon);
}
.history li.differs::before,
.history li.broken::before {
  background: var(--missing);
  border-radius: 0;
}
.history li.erased::before {
  background: var(--surface);
  border: 3px solid var(--soft);
}
.what {
  color: var(--ink);
}
</style>
